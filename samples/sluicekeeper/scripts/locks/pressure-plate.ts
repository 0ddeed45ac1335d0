import { Behaviour, bells, slot, type StageThing } from 'deck';

/** Tells the lock that a boat waits. */
export class PressurePlate extends Behaviour {
  @slot() gate!: StageThing;

  begin(): void {
    bells.hear('engine.touched', this.onTouched);
  }

  onTouched(boat: StageThing): void {
    bells.ring('plate.pressed', boat);
  }
}
