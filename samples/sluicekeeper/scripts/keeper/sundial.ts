import { Behaviour, stage } from 'deck';
import { FlightClock } from './flight-clock';

/** Turns its shadow with the clock of the scene. */
export class Sundial extends Behaviour {
  private clock!: FlightClock;

  begin(): void {
    this.clock = stage.find('Flight Clock').part(FlightClock);
  }

  everyFrame(): void {
    this.object.turn(this.clock.hour * 15);
    stage.find('Sundial').show();
  }
}
