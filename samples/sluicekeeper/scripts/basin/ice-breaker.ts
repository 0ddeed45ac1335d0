import { bells } from 'deck';
import { WorkBoat } from './work-boat';

/** Keeps the basin open in winter. */
export class IceBreaker extends WorkBoat {
  onScrape(): void {
    this.hull -= 4;
    if (this.hull < 0) bells.ring('boat.sunk', this.hull);
  }
}
