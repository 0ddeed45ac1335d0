import { Behaviour, slot, type DataTable } from 'deck';

/** The time of day and of tide, one for each scene. */
export class FlightClock extends Behaviour {
  @slot() tides!: DataTable;
  @slot() minutesPerDay = 24;

  hour = 6;

  everyFrame(seconds: number): void {
    this.hour = (this.hour + (seconds * 24) / (this.minutesPerDay * 60)) % 24;
  }
}
