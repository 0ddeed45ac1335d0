import { bells } from 'deck';
import { WorkBoat } from './work-boat';

/** Digs the mud out of the basin. */
export class Dredger extends WorkBoat {
  onScrape(): void {
    this.hull -= 12;
    if (this.hull < 0) bells.ring('boat.sunk', this.hull);
  }
}
