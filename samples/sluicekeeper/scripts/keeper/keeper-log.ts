import { Behaviour, bells, pressed, slot, stage, type DataTable } from 'deck';

/** Writes down what was heard during the day. */
export class KeeperLog extends Behaviour {
  @slot() firstPage!: DataTable;

  private lines: string[] = [];

  begin(): void {
    bells.hear('bell.rung', this.hear);
    bells.hear('orders.done', this.close);
  }

  hear(code: string, lock: string): void {
    this.lines.push(`${code} at ${lock}`);
  }

  close(): void {
    const boats = stage.labelled('boat');
    this.lines.push(`${boats.length} boats`);
    if (pressed('ring-bell')) this.lines.push('rung by hand');
  }
}
