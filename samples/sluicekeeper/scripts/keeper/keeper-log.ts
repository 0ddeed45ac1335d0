import { Behaviour, bells, slot, type DataTable } from 'deck';

/** Writes down what was heard during the day. */
export class KeeperLog extends Behaviour {
  @slot() firstPage!: DataTable;

  private lines: string[] = [];

  begin(): void {
    bells.hear('bell.rung', this.hear);
  }

  hear(code: string): void {
    this.lines.push(code);
  }
}
