import { Behaviour } from 'deck';

/** Counts journeys with beads on a wire. */
export class LiftTally extends Behaviour {
  begin(): void {
    const second = this.childAt(1);
    second.show();
  }
}
