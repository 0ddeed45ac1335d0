import { Behaviour, bells, stage } from 'deck';

/** Takes the punt up with it. */
export class Sling extends Behaviour {
  begin(): void {
    bells.hear('lift.moved', this.take);
  }

  take(): void {
    const punt = stage.find('Punt');
    punt.putUnder(this.object);
  }
}
