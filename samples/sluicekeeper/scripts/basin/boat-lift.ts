import { Behaviour, bells } from 'deck';

/** The lift that carries boats from the flight up to the summit. */
export class BoatLift extends Behaviour {
  private isHauling = false;

  begin(): void {
    bells.hear('lift.called', this.haul);
    bells.hear('lift.strained', this.rest);
    bells.ring('lift.ready');
  }

  haul(winch: number): void {
    if (this.isHauling) return;
    this.isHauling = true;
    const drum = this.child('Winch ' + winch);
    drum.turn(90);
    bells.ring('lift.moved', 4);
  }

  rest(): void {
    this.isHauling = false;
    bells.ring('lift.rested');
  }
}
