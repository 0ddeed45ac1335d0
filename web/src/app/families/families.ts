import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  numberAttribute,
  signal,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { FamilyCell, Holds } from '@glue-trace/core';
import { folded, itemAt, must } from '@glue-trace/core/browser';
import type { FamilyGrid, FamilyName } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { injectAddress } from '../shared/address';
import { Choice, type Option } from '../shared/choice';
import { EmptyBox } from '../shared/empty-box';
import { Evidence } from '../shared/evidence';
import { FilterBar } from '../shared/filter-bar';
import { GridKeys } from '../shared/grid-keys';
import { KeyHints } from '../shared/key-hints';
import { Keys } from '../shared/keys';
import { neighbour } from '../shared/neighbour';
import { PaneHead } from '../shared/pane-head';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { WordsBox } from '../shared/words-box';
import { familiesActions, familiesFeature } from './families.state';

type Row = FamilyGrid['rows'][number];
type Column = FamilyGrid['columns'][number] & { at: number; title: string; width: number };

/** What a cell says, in words; values stand for themselves. */
const WORDS: Record<Holds, string> = {
  own: 'own',
  inherited: '·',
  'calls through': '',
  replaced: 'replaced',
  'by nothing': 'replaced by nothing',
  value: '',
  same: 'same again',
  masks: 'as before',
  'never set': 'never set',
  none: '–',
};
/** When the parent's code runs in one that calls through. */
const THROUGH: Record<string, string> = {
  before: 'parent’s, then own',
  after: 'own, then parent’s',
  amid: 'own + parent’s',
};
const ORDERS: Option[] = [
  { value: '', words: 'most replaced first' },
  { value: 'name', words: 'by name' },
  { value: 'objects', words: 'most objects first' },
];
/** `Gauge 9` before `Gauge 10`. */
const byName = new Intl.Collator('en', { numeric: true });
/** Height of a row in pixels: only rows near those that can be seen are drawn. */
export const ROW_HEIGHT = 27;
const ROWS_AROUND = 12;
/** Widths in pixels: of the column of names, of a letter, and of what is around the letters. */
const [NAMES, LETTER, AROUND] = [230, 9, 30];
/** Widths of columns, in letters. */
const [NARROWEST, WIDEST] = [7, 24];

/** A parent with all that descends from it: what each has of its parent's, and what of its own. */
@Component({
  selector: 'glue-families',
  imports: [
    Choice,
    EmptyBox,
    Evidence,
    FilterBar,
    GridKeys,
    KeyHints,
    MatButtonModule,
    PaneHead,
    RouterLink,
    TroubleBox,
    Waiting,
    WordsBox,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './families.html',
  styleUrl: './families.scss',
})
export class Families {
  readonly project = input.required({ transform: numberAttribute });
  /** Key of the family that is open. */
  readonly family = input<string>();
  readonly only = input<string>();
  /** Keys of two members that are compared. */
  readonly one = input<string>();
  readonly other = input<string>();
  /** Words in the names of members. */
  readonly member = input<string>();
  /** `name` or `objects`; those that replace most come first otherwise. */
  readonly sort = input<string>();

  private readonly store = inject(Store);
  private readonly address = injectAddress();
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly state = this.store.selectSignal(familiesFeature.selectFamiliesState);
  protected readonly kinds = { type: 'parent type', prefab: 'base prefab', record: 'record' } as const;
  protected readonly rowHeight = ROW_HEIGHT;
  protected readonly orders = ORDERS;
  /** The cell whose code is laid open. */
  protected readonly asked = signal<{ row: Row; column: Column } | null>(null);
  /** What can be seen of the grid, in pixels. */
  protected readonly seen = signal(
    { top: 0, height: window.innerHeight, left: 0, width: window.innerWidth },
    { equal: (a, b) => a.top === b.top && a.height === b.height && a.left === b.left && a.width === b.width },
  );
  protected readonly isNarrow = computed(() => this.only() === 'differences');
  /** The two members that are compared. */
  protected readonly pair = computed(() => {
    const rows = this.state().family?.rows ?? [];
    const [one, other] = [this.one(), this.other()].map((key) => rows.find((row) => key && row.key === key));
    return one && other ? [one, other] : null;
  });
  /** The parent, and the members that are wanted, in the order that is wanted. */
  protected readonly rows = computed(() => {
    const pair = this.pair();
    if (pair) return pair;
    const [parent, ...members] = this.state().family?.rows ?? [];
    if (!parent) return [];
    const words = folded(this.member() ?? '');
    const wanted = members.filter(({ name, title }) => !words || folded(`${name} ${title}`).includes(words));
    if (this.sort() === 'name') wanted.sort((a, b) => byName.compare(a.name, b.name));
    if (this.sort() === 'objects') wanted.sort((a, b) => b.objects - a.objects);
    return [parent, ...wanted];
  });
  /** Columns in which somebody differs from the parent, or the two from one another, by their places. */
  protected readonly columns = computed(() => {
    const grid = this.state().family;
    if (!grid) return [];
    const pair = this.pair();
    const all = grid.columns.map((column, at): Column => {
      const title = `${column.name}${column.kind === 'function' ? '()' : ''}`;
      const longest = grid.rows.reduce(
        (most, { cells }) => Math.max(most, this.say(itemAt(cells, at)).length),
        title.length,
      );
      return { ...column, at, title, width: AROUND + LETTER * Math.min(Math.max(longest, NARROWEST), WIDEST) };
    });
    if (pair)
      return all.filter(
        ({ at }) => this.say(itemAt(itemAt(pair, 0).cells, at)) !== this.say(itemAt(itemAt(pair, 1).cells, at)),
      );
    return this.isNarrow()
      ? all.filter(({ at }) => grid.rows.slice(1).some((row) => differs(itemAt(row.cells, at))))
      : all;
  });
  /** The rows that are drawn, with the height of those above and below them. */
  protected readonly drawn = computed(() => {
    const { top, height } = this.seen();
    const rows = this.rows();
    const from = Math.max(0, Math.min(Math.floor(top / ROW_HEIGHT) - ROWS_AROUND, rows.length));
    const to = Math.min(rows.length, from + Math.ceil(height / ROW_HEIGHT) + 2 * ROWS_AROUND);
    return { rows: rows.slice(from, to), above: from * ROW_HEIGHT, below: (rows.length - to) * ROW_HEIGHT };
  });
  /** The columns that are drawn, with how many stand to their left and right. */
  protected readonly across = computed(() => {
    const { left, width } = this.seen();
    const columns = this.columns();
    let end = NAMES;
    const ends = columns.map((column) => (end += column.width));
    const from = ends.findIndex((one) => one > left);
    const beyond = ends.findIndex((one, at) => one - itemAt(columns, at).width > left + width);
    const to = beyond < 0 ? columns.length : beyond;
    const first = from < 0 ? columns.length : from;
    return { columns: columns.slice(first, to), before: first, after: columns.length - to };
  });
  /** What an edit would reach: of the base, or of the member's own copy. */
  protected readonly reach = computed(() => {
    const [asked, grid] = [this.asked(), this.state().family];
    if (!asked || !grid) return null;
    const { row, column } = asked;
    const base = itemAt(itemAt(grid.rows, 0).cells, column.at).reach;
    const own = itemAt(row.cells, column.at).reach;
    if (!base && !own) return null;
    const objects = (count: number): string => many(count, 'object in scenes');
    const of = grid.kind === 'prefab' ? 'instances' : 'members';
    const ofBase = base
      ? `An edit of ${grid.name}’s reaches ${base.members - 1} of its ${grid.members} ${of}: ${objects(base.objects)}.`
      : '';
    if (row === grid.rows[0]) return ofBase;
    const ofOwn = own
      ? `An edit of ${row.name}’s reaches ${objects(own.objects)}.`
      : `One of its own for ${row.name} would reach ${objects(row.objects)}${grid.kind === 'type' ? ', and those of what descends from it' : ''}.`;
    return `${ofBase} ${ofOwn}`.trim();
  });

  constructor() {
    effect(() => {
      this.scansSeen();
      this.store.dispatch(familiesActions.load({ project: this.project() }));
    });
    effect(() => {
      this.scansSeen();
      const [project, piece] = [this.project(), this.family()];
      this.asked.set(null);
      this.seen.update((seen) => ({ ...seen, top: 0, left: 0 }));
      if (piece) this.store.dispatch(familiesActions.open({ project, piece }));
    });
    const keys = inject(Keys);
    keys.bindList('families', (by) => this.move(by));
    keys.bindFor('families', {
      t: () => this.trace(this.family()),
      Escape: () => this.back(),
    });
  }

  protected open(family: string | null): void {
    this.address.go({ family, one: null, other: null, member: null });
  }

  protected narrow(): void {
    this.address.go({ only: this.isNarrow() ? null : 'differences' });
  }

  protected find(member: string | null): void {
    this.address.go({ member });
  }

  protected order(sort: string): void {
    this.address.go({ sort: sort || null });
  }

  protected look({ scrollTop, clientHeight, scrollLeft, clientWidth }: HTMLElement): void {
    // Rows and columns are drawn anew by the dozen, not at every step.
    const step = ROWS_AROUND * ROW_HEIGHT;
    const inSteps = (pixels: number): number => Math.floor(pixels / step) * step;
    const [top, left] = [inSteps(scrollTop), inSteps(scrollLeft)];
    this.seen.set({ top, height: clientHeight, left, width: clientWidth + step });
  }

  /** Picks a member to compare, or lets it go. */
  protected pick({ key }: Row): void {
    const picked = [this.one(), this.other()].filter((one): one is string => one !== undefined);
    const now = picked.includes(key) ? picked.filter((one) => one !== key) : [...picked.slice(-1), key];
    this.address.go({ one: now[0] ?? null, other: now[1] ?? null });
  }

  protected isPicked({ key }: Row): boolean {
    return key === this.one() || key === this.other();
  }

  protected letGo(): void {
    this.address.go({ one: null, other: null });
  }

  /** A cell's code beside that of the parent, or of the member that it is compared with. */
  protected compare(row: Row, column: Column): void {
    const parent = itemAt(must(this.state().family).rows, 0);
    const other = this.pair()?.find((one) => one !== row) ?? parent;
    const at = column.at;
    const places = [itemAt(other.cells, at), itemAt(row.cells, at)].flatMap(({ file, range }) =>
      range ? [{ file, ...range }] : [],
    );
    if (places.length === 0) return;
    this.asked.set({ row, column });
    this.store.dispatch(
      familiesActions.show({ project: this.project(), places: row === other ? places.slice(1) : places }),
    );
  }

  protected hide(): void {
    this.asked.set(null);
    this.store.dispatch(familiesActions.hide());
  }

  protected cellOf(row: Row, { at }: Column): FamilyCell {
    return itemAt(row.cells, at);
  }

  protected say({ is, text }: FamilyCell): string {
    if (is === 'calls through') return THROUGH[text] ?? '';
    if (is === 'masks') return `${text} (${WORDS.masks})`;
    return (is === 'value' || is === 'replaced' || is === 'own') && text ? text : WORDS[is];
  }

  protected about({ kind, members, objects }: FamilyName): string {
    if (kind === 'record') return `${members} like it`;
    return kind === 'prefab'
      ? `${many(members, 'instance')} · ${many(objects, 'object in scenes')}`
      : `${members} ${members === 1 ? 'child' : 'children'} · ${many(objects, 'object in scenes')}`;
  }

  private back(): void {
    if (this.state().code) this.hide();
    else if (this.pair()) this.letGo();
    else this.open(null);
  }

  private move(by: number): void {
    const all = this.state().page?.families ?? [];
    const at = all.findIndex(({ key }) => key === this.family());
    const family = neighbour(all, at, by);
    if (family) this.open(family.key);
  }

  private trace(piece: string | undefined): void {
    this.address.trace(this.project(), piece);
  }
}

/** `1 object in scenes`, `3 objects in scenes`. */
function many(count: number, one: string): string {
  return `${count} ${count === 1 ? one : one.replace(/^\w+/, '$&s')}`;
}

function differs({ is }: FamilyCell): boolean {
  return is !== 'inherited' && is !== 'none';
}
