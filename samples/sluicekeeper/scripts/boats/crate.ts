import { Behaviour, bells, slot } from 'deck';

/** A crate that a crane can lift and a hold can take. */
export class Crate extends Behaviour {
  @slot() tonnes = 1;
  @slot() marks = 'this side up';

  begin(): void {
    bells.hear('boat.overladen', this.creak);
  }

  creak(): void {
    this.playSound('creak');
  }
}
