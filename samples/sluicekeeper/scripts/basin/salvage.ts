import { Behaviour, bells } from 'deck';

/** Lifts what has sunk. */
export class Salvage extends Behaviour {
  private lifted = 0;

  begin(): void {
    bells.hear('boat.sunk', this.lift);
  }

  lift(): void {
    this.lifted += 1;
  }
}
