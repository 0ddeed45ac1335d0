import { Behaviour, slot, type DataTable } from 'deck';

/** The book of tolls on the counter. */
export class TollBook extends Behaviour {
  @slot() rates!: DataTable;

  begin(): void {
    this.show();
  }
}
