import { Behaviour, bells, slot, type DataTable, type StageThing } from 'deck';
import { MooringPoint } from 'deck/parts';

/** A rope between the stern of a boat and what it tows. */
export class TowRope extends Behaviour {
  @slot() strengths!: DataTable;
  @slot() length = 10;

  private cleat!: StageThing;
  private load = 0;

  begin(): void {
    const boat = this.holder.holder;
    this.cleat = boat.child('Cleat');
    this.cleat.part(MooringPoint).fasten(this);
  }

  pull(load: number): void {
    this.load = load;
    bells.ring('rope.tight', load);
    if (load > this.strengths.row('hemp').breakingLoad) this.part();
  }

  private part(): void {
    bells.ring('rope.parted', this.load);
  }
}
