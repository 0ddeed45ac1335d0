import { Behaviour, bells, slot } from 'deck';

/** Rings the code of the boat that asks for the lock. */
export class SluiceBell extends Behaviour {
  @slot() code!: string;

  begin(): void {
    bells.hear('boat.overladen', this.warn);
    const clapper = this.child('Clapper');
    clapper.swing(0);
  }

  warn(): void {
    bells.ring('bell.rung', this.code);
  }
}
