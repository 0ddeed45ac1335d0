import { Behaviour, bells, spawnFrom, stage } from 'deck';
import { Gate } from '../locks/gate';

/** Lifts crates from the quay into the hold. */
export class Crane extends Behaviour {
  lift(): void {
    const crate = spawnFrom('prefabs/crate.prefab.json');
    crate.tonnes = 3;
    crate.label = 'for the mill';
    crate.child('Lid').hide();
    const bell = stage.find('Quay Bell');
    bell.child('Clapper').swing(20);
    bells.ring('crate.dropped', crate);
  }

  rest(): void {
    // A boat of this name may be away: ask before use.
    const tender = stage.find('Tender 9');
    if (tender) tender.show();
    stage.every(Gate).hide();
  }
}
