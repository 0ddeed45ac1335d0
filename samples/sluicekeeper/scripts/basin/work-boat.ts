import { Behaviour, bells } from 'deck';

/** A boat that works in the basin. */
export class WorkBoat extends Behaviour {
  protected hull = 90;

  begin(): void {
    bells.hear('engine.scraped', this.onScrape);
  }

  onScrape(): void {}
}
