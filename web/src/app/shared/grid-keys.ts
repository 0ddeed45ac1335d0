import { Directive, ElementRef, inject } from '@angular/core';

/** Steps from cell to cell by key: rows, and places in the row. */
const STEPS: Partial<Record<string, [rows: number, cells: number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  Home: [0, -Infinity],
  End: [0, Infinity],
};

/** Arrows, Home and End lead from button to button of a table: cells with nothing to press are passed over. */
@Directive({ selector: 'table[glueGridKeys]', host: { '(keydown)': 'move($event)' } })
export class GridKeys {
  private readonly table = inject<ElementRef<HTMLTableElement>>(ElementRef).nativeElement;

  protected move(event: KeyboardEvent): void {
    const step = STEPS[event.key];
    const button = event.target instanceof HTMLButtonElement ? event.target : null;
    const cell = button?.closest<HTMLTableCellElement>('td, th');
    const row = cell?.closest('tr');
    if (!step || !cell || !row || event.ctrlKey || event.altKey || event.metaKey) return;
    const [down, along] = step;
    const found = down === 0 ? this.inRow(row, cell, along) : this.inColumn(row, cell, down);
    if (!found) return;
    event.preventDefault();
    event.stopPropagation();
    found.focus();
  }

  private inRow(row: HTMLTableRowElement, cell: HTMLTableCellElement, along: number): HTMLButtonElement | undefined {
    const buttons = [...row.cells].flatMap((one) => one.querySelector('button') ?? []);
    const at = buttons.findIndex((one) => cell.contains(one));
    return buttons[Math.min(Math.max(at + along, 0), buttons.length - 1)];
  }

  private inColumn(row: HTMLTableRowElement, cell: HTMLTableCellElement, down: number): HTMLButtonElement | undefined {
    const rows = [...this.table.rows];
    for (let at = rows.indexOf(row) + down; rows[at]; at += down) {
      const found = rows[at]?.cells[cell.cellIndex]?.querySelector('button');
      if (found) return found;
    }
    return undefined;
  }
}
