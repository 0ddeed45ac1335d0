import { Behaviour, bells, slot, type DataTable, type Picture } from 'deck';
import { LockChamber } from '../locks/lock-chamber';

/** Shows how high the water stands in the lock around it. */
export class GaugeBoard extends Behaviour {
  @slot() tideTable!: DataTable;
  @slot() face?: Picture;

  private chamber!: LockChamber;

  begin(): void {
    this.chamber = this.holder.holder.part(LockChamber);
    bells.hear('level.reached', this.show);
    bells.hear('tide.turned', this.show);
  }

  show(level: number): void {
    const needle = this.child('Needle');
    needle.turn(level * 30);
  }
}
