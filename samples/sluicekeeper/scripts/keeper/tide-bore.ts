import { Behaviour } from 'deck';

/** The wave that runs up the river before a spring tide. */
export class TideBore extends Behaviour {
  everyFrame(): void {
    this.object.moveTo(this.holder);
  }
}
