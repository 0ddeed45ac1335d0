import { Behaviour } from 'deck';

/** Prints what was paid. */
export class Receipt extends Behaviour {
  begin(): void {
    this.show();
  }
}
