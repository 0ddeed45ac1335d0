import { Behaviour } from 'deck';

/** Bobs where it was put. */
export class Buoy extends Behaviour {
  everyFrame(): void {
    this.object.swing(2);
  }
}
