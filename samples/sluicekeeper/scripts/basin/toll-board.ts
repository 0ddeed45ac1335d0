import { Behaviour } from 'deck';

/** Painted with what a passage costs. */
export class TollBoard extends Behaviour {
  private readonly prices = { 'toll-coal': 14, 'toll-grain': 11, 'toll-clay': 8 };

  begin(): void {
    this.object.turn(Object.keys(this.prices).length);
  }
}
