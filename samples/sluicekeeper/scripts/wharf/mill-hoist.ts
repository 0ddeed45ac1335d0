import { Behaviour, slot, type DataTable, type StageThing } from 'deck';

/** Lifts sacks out of the hold while the wheel turns. */
export class MillHoist extends Behaviour {
  @slot() hook!: StageThing;
  @slot() loads!: DataTable;

  raise(): void {
    this.hook.moveTo(6);
  }

  lower(): void {
    this.hook.moveTo(0);
  }
}
