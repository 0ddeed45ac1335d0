import { Behaviour, bells, slot, type GameObject } from 'deck';

/** Tells the lock that a boat waits. */
export class PressurePlate extends Behaviour {
  @slot() gate!: GameObject;

  begin(): void {
    bells.hear('engine.touched', this.onTouched);
  }

  onTouched(boat: GameObject): void {
    bells.ring('plate.pressed', boat);
  }
}
