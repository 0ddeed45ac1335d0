import { Behaviour, bells } from 'deck';
import { Gate } from './gate';
import { Paddle } from './paddle';

/** One chamber of the flight: two gates, a paddle, and water in between. */
export class LockChamber extends Behaviour {
  level = 0;

  begin(): void {
    bells.hear('paddle.drawn', this.settle);
    bells.hear('rope.tight', this.onRopeTight);
  }

  ask(): void {
    const gate = this.child('Upper Gate').part(Gate);
    const paddle = this.child('Paddle').part(Paddle);
    if (paddle.isClosed) gate.open();
  }

  settle(): void {
    this.level = 1.2;
    bells.ring('level.reached', this.level, this);
  }

  onRopeTight(load: number): void {
    if (load > 10) bells.ring('gate.hold', this);
  }
}
