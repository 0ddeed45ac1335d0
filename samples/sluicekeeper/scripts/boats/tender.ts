import { bells, spawnFrom } from 'deck';
import { Vessel } from './vessel';

/** A small boat that tows barges and fetches what they drop. */
export class Tender extends Vessel {
  begin(): void {
    super.begin();
    const hull = this.child('hull');
    hull.show();
    bells.hear('boat.aground', (boat) => this.fetch(boat));
  }

  fetch(boat: Vessel): void {
    const raft = spawnFrom('prefabs/raft.prefab.json');
    raft.moveTo(boat);
  }
}
