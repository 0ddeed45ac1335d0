import { Behaviour, bells, slot, type DataTable, type StageThing } from 'deck';

/** Tells the sea gate that the tide is high enough; each tide once. */
export class SeaPlate extends Behaviour {
  @slot() gate!: StageThing;
  @slot() tides!: DataTable;

  private isTipped = false;

  begin(): void {
    bells.hear('engine.touched', this.tip);
  }

  tip(): void {
    if (this.isTipped) return;
    this.isTipped = true;
    bells.ring('plate.tipped', this.tides.row('neap').high);
  }
}
