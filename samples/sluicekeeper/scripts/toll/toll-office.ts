import { Behaviour, bells, slot, stage, type DataTable } from 'deck';

/** Takes a toll for every boat that passes. */
export class TollOffice extends Behaviour {
  @slot() tolls!: DataTable;
  @slot() cargo!: DataTable;

  private taken = 0;

  begin(): void {
    bells.hear('rope.part', this.onPart);
  }

  onPart(load: number): void {
    this.taken -= load;
  }

  pay(code: string): void {
    this.taken += this.tolls.row(code).pence;
    bells.ring('toll.paid', code);
  }

  close(): void {
    stage.enter('upper-flight');
  }
}
