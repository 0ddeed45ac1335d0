import { bells } from 'deck';
import { WorkBoat } from './work-boat';

/** Shows strangers the way in. */
export class PilotBoat extends WorkBoat {
  onScrape(): void {
    this.hull -= 25;
    if (this.hull < 0) bells.ring('boat.sunk', this.hull);
  }
}
