import { Behaviour } from 'deck';

/** A lamp on the wall that a bead on the wire works. */
export class BeadLamp extends Behaviour {
  light(): void {
    this.object.show();
  }

  dim(): void {
    this.object.hide();
  }
}
