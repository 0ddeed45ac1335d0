import { Behaviour, bells } from 'deck';

/** What all parts of the lift do that bear a load. */
export class LiftPart extends Behaviour {
  protected limit!: number;

  begin(): void {
    bells.hear('lift.moved', this.strain);
  }

  strain(tonnes: number): void {
    if (tonnes > this.limit) bells.ring('lift.strained', tonnes);
  }
}
