import { Behaviour, bells } from 'deck';

/** The sluice in a gate. */
export class Paddle extends Behaviour {
  isClosed = true;

  draw(): void {
    this.isClosed = false;
    bells.ring('paddle.drawn', this);
  }
}
