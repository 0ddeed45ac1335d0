import { Behaviour, bells } from 'deck';

/** Shows the punt again once the lift rests. */
export class Landing extends Behaviour {
  begin(): void {
    bells.hear('lift.rested', this.clear);
  }

  clear(): void {
    const punt = this.child('Punt');
    punt.show();
  }
}
