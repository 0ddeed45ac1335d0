import { Behaviour, bells, slot, type Place } from 'deck';
import { Paddle } from './paddle';

/** The wheel on the quay that draws a paddle. */
export class Wheel extends Behaviour {
  @slot() paddle!: Paddle;
  @slot() standing!: Place;

  private turns = 0;

  begin(): void {
    bells.hear('engine.used', this.wind);
  }

  wind(): void {
    this.turns += 1;
    this.sqeak();
    if (this.turns > 12) this.paddle.draw();
  }

  squeak(): void {
    this.playSound('wheel');
  }
}
