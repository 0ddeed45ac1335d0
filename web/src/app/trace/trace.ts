import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  numberAttribute,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { GRIPS, MOMENTS, SIDES, VERBS } from '@glue-trace/core/browser';
import type { Grip, Hit, PieceName, TraceFilter, TraceGroup, TraceLine, TracePage } from '@glue-trace/core';
import { Store } from '@ngrx/store';
import { isSamePlace, type Place } from '../api';
import { projectsFeature } from '../projects/projects.state';
import { injectAddress } from '../shared/address';
import { Choice, optionsOf, type Option } from '../shared/choice';
import { EmptyBox } from '../shared/empty-box';
import { Evidence } from '../shared/evidence';
import { FilterBar } from '../shared/filter-bar';
import { GripMark } from '../shared/grip-mark';
import { KeyHints } from '../shared/key-hints';
import { Keys } from '../shared/keys';
import { LeftOut } from '../shared/left-out';
import { LinkSentence } from '../shared/link-sentence';
import { bringIntoSight } from '../shared/neighbour';
import { PageTitle } from '../shared/page-title';
import { PiecePicker } from '../shared/piece-picker';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { ChainList } from './chain-list';
import { Drawing } from './drawing';
import { traceActions, traceFeature, type Direction, type Hop } from './trace.state';
import { ValuesTable } from './values-table';

/** A row on the page: a heading of a verb, a link, or the state of an opened hop. */
type Row =
  | { is: 'verb'; words: string; depth: number; path: string }
  | {
      is: 'line';
      line: TraceLine;
      direction: Direction;
      depth: number;
      path: string;
      next: string | null;
      isOpen: boolean;
      runsOn: string[];
    }
  | { is: 'words'; words: string; depth: number; path: string };

type FilterName = 'verb' | 'grip' | 'moment' | 'side';

const FILTERS: { name: FilterName; from: Option[] }[] = [
  { name: 'verb', from: optionsOf('any verb', VERBS) },
  { name: 'grip', from: optionsOf('any grip', GRIPS) },
  { name: 'moment', from: optionsOf('any moment', MOMENTS) },
  { name: 'side', from: optionsOf('any side', SIDES) },
];

/** What each grip means for the link, in a sentence. */
const HOLDING: Record<Grip, string> = {
  fixed: 'It holds by identity: renaming or moving the target changes nothing.',
  path: 'It holds by its place: renaming or moving the target, or what stands on the way, breaks it.',
  name: 'It holds by a name: moving the target changes nothing, renaming it breaks it.',
  built: 'It is made up at run time: nobody can say before play what it ends on.',
  lost: '',
};
/** What a drawing begins with. */
const FIRST_SHEET = { most: 40, hops: 2 };

/** Hops deeper than this open as a page of their own. */
const DEEPEST = 6;

/** One piece with who relies on it and what it relies on; each line opens in place to the next hop. */
@Component({
  selector: 'glue-trace',
  imports: [
    ChainList,
    Choice,
    Drawing,
    EmptyBox,
    Evidence,
    FilterBar,
    GripMark,
    KeyHints,
    LeftOut,
    LinkSentence,
    MatButtonModule,
    NgTemplateOutlet,
    PiecePicker,
    RouterLink,
    TroubleBox,
    ValuesTable,
    Waiting,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './trace.html',
  styleUrl: './trace.scss',
})
export class Trace {
  readonly project = input.required({ transform: numberAttribute });
  /** Key of the piece, from the address. */
  readonly piece = input<string>();
  /** What the lines are narrowed to, from the address. */
  readonly verb = input<string>();
  readonly grip = input<string>();
  readonly moment = input<string>();
  readonly side = input<string>();
  /** Key of a piece: how is it reached from here? */
  readonly to = input<string>();
  /** Pieces at most and hops of a drawing, as `40x2`. */
  readonly draw = input<string>();

  protected readonly firstSheet = FIRST_SHEET;
  private readonly store = inject(Store);
  private readonly address = injectAddress();
  protected readonly state = this.store.selectSignal(traceFeature.selectTraceState);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly at = signal(0);
  protected readonly filters = FILTERS;
  protected readonly chosen = computed((): Record<FilterName, string> => ({
    verb: this.verb() ?? '',
    grip: this.grip() ?? '',
    moment: this.moment() ?? '',
    side: this.side() ?? '',
  }));
  protected readonly isNarrowed = computed(() => Object.values(this.chosen()).some(Boolean));
  protected readonly sheet = computed(() => {
    const found = /^(\d+)x(\d)$/.exec(this.draw() ?? '');
    return found && { most: Number(found[1]), hops: Number(found[2]) };
  });
  /** A place that was chosen by hand, beside the lines. */
  private readonly place = signal<Place | null>(null);
  protected readonly walk = computed(() => {
    const row = this.selected();
    if (!row) return [];
    if (row.line.walk.length > 0) return row.line.walk;
    const steps = this.state().walk?.steps ?? [];
    return this.isWalked() && steps.length > 1 ? steps : [];
  });
  /** The way that the line's look-up takes, as it is asked for: once, however often the page is drawn. */
  private readonly walked = computed(
    () => {
      const row = this.selected();
      const { grip, file, range } = row?.line.link ?? {};
      if (!row || !file || !range || grip === 'lost' || row.line.from.kind !== 'part') return null;
      return { project: this.project(), piece: row.line.from.key, place: { file, ...range }, scan: this.scansSeen() };
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
  /** Whether the way that was asked for is that of the line that is selected. */
  private readonly isWalked = computed(() => {
    const { walk } = this.state();
    const link = this.selected()?.line.link;
    if (!walk || !link) return false;
    const { place } = walk;
    return isSamePlace(place, { file: link.file, ...link.range });
  });
  /** Why the way of the line's look-up cannot be shown. */
  protected readonly walkTrouble = computed(() => (this.isWalked() ? this.state().walk?.trouble : null));
  protected readonly holding = computed(() => {
    const grip = this.selected()?.line.link.grip;
    return grip ? HOLDING[grip] : '';
  });

  protected readonly above = computed(() => this.rowsOf('reliedOnBy'));
  protected readonly below = computed(() => this.rowsOf('reliesOn'));
  private readonly lines = computed(() => [...this.above(), ...this.below()].filter((row) => row.is === 'line'));
  /** Key of the piece on the page; the selection starts anew only when this changes. */
  private readonly shown = computed(() => this.state().page?.piece.key);
  protected readonly selected = computed(() => this.lines()[this.at()] ?? null);

  constructor() {
    const title = inject(PageTitle);
    effect(() => title.about(this.state().page?.piece.title ?? ''));
    effect(() => {
      this.scansSeen();
      const piece = this.piece();
      const project = this.project();
      const filter = Object.fromEntries(Object.entries(this.chosen()).filter(([, value]) => value)) as TraceFilter;
      if (piece) this.store.dispatch(traceActions.load({ project, piece, filter }));
    });
    effect(() => {
      this.scansSeen();
      const [project, from, to] = [this.project(), this.piece(), this.to()];
      if (from && to) this.store.dispatch(traceActions.findChains({ project, from, to }));
      else this.store.dispatch(traceActions.leaveChains());
    });
    effect(() => {
      this.scansSeen();
      const [project, piece, sheet] = [this.project(), this.piece(), this.sheet()];
      if (piece && sheet) this.store.dispatch(traceActions.draw({ project, piece, ...sheet }));
      else this.store.dispatch(traceActions.leaveDrawing());
    });
    effect(() => {
      const walked = this.walked();
      if (walked) this.store.dispatch(traceActions.showWalk(walked));
    });
    effect(() => {
      this.shown();
      untracked(() => {
        this.place.set(null);
        this.at.set(this.firstToShow());
      });
    });
    effect(() => {
      const selected = this.selected();
      const page = this.state().page;
      const place = this.place();
      if (place) this.showEvidence(place);
      else if (selected) this.showEvidence({ file: selected.line.link.file, ...selected.line.link.range });
      else if (page?.piece.file) this.showEvidence({ file: page.piece.file, ...page.piece.range });
    });
    const keys = inject(Keys);
    keys.bindList('trace', (by) => this.select(this.at() + by));
    keys.bindFor('trace', {
      Enter: () => this.toggleSelected(),
      t: () => this.traceSelected(),
      e: () => document.querySelector<HTMLElement>('aside pre')?.focus(),
    });
  }

  protected isSelected(row: Row): boolean {
    return this.selected()?.path === row.path;
  }

  protected choose(row: Row): void {
    this.select(this.lines().findIndex((line) => line.path === row.path));
  }

  protected toggle(row: Row): void {
    if (row.is !== 'line' || !row.next) return;
    if (row.isOpen) this.store.dispatch(traceActions.closeHop({ path: row.path }));
    else this.store.dispatch(traceActions.openHop({ project: this.project(), piece: row.next, path: row.path }));
  }

  /** Where a line holds from and what it ends on, when either is several. */
  protected listsOf({ places, placeCount, targets, targetCount }: TraceLine): { words: string; pieces: PieceName[] }[] {
    return [
      { words: `From ${placeCount} places`, pieces: places, count: placeCount },
      { words: `Ends on ${targetCount} pieces`, pieces: targets, count: targetCount },
    ].filter(({ count }) => count > 1);
  }

  /** Shows a place that no line stands for: a value, a step of a chain. */
  protected showPlace(place: Place): void {
    this.place.set(place);
  }

  protected narrow(name: FilterName, value: string): void {
    this.address.go({ [name]: value || null });
  }

  protected clear(): void {
    this.address.go({ verb: null, grip: null, moment: null, side: null });
  }

  protected reach(hit: Hit): void {
    this.address.go({ to: hit.key });
  }

  protected leaveChains(): void {
    this.address.go({ to: null });
  }

  protected drawAround(sheet: { most: number; hops: number } | null): void {
    this.address.go({ draw: sheet && `${sheet.most}x${sheet.hops}` });
  }

  protected open(piece: string): void {
    this.address.trace(this.project(), piece);
  }

  private select(at: number): void {
    const last = this.lines().length - 1;
    if (last < 0) return;
    this.place.set(null);
    this.at.set(Math.min(Math.max(at, 0), last));
    bringIntoSight('.line.on');
  }

  private toggleSelected(): void {
    const row = this.selected();
    if (row) this.toggle(row);
  }

  private traceSelected(): void {
    this.address.trace(this.project(), this.selected()?.next ?? undefined);
  }

  /** The first line that is lost, since that is what people come for; else the first. */
  private firstToShow(): number {
    return Math.max(
      0,
      this.lines().findIndex((row) => row.line.link.grip === 'lost'),
    );
  }

  private showEvidence(place: Place): void {
    const shown = untracked(this.state).evidence?.place;
    if (shown && isSamePlace(shown, place)) return;
    this.store.dispatch(traceActions.showEvidence({ project: this.project(), place }));
  }

  private rowsOf(direction: Direction): Row[] {
    const { page, hops } = this.state();
    return page ? rowsOfPage(page, direction, hops, 0, direction) : [];
  }
}

function rowsOfPage(
  page: TracePage,
  direction: Direction,
  hops: Record<string, Hop>,
  depth: number,
  path: string,
): Row[] {
  return page[direction].flatMap((group) => [
    ...(depth === 0
      ? [{ is: 'verb' as const, words: groupWords(group, direction), depth, path: `${path}>${group.verb}` }]
      : []),
    ...group.lines.flatMap((line, at) => rowsOfLine(page, line, direction, hops, depth, `${path}>${group.verb}${at}`)),
    ...(group.count > group.lines.length
      ? [
          {
            is: 'words' as const,
            words: `and ${group.count - group.lines.length} more`,
            depth,
            path: `${path}>${group.verb}more`,
          },
        ]
      : []),
  ]);
}

function rowsOfLine(
  page: TracePage,
  line: TraceLine,
  direction: Direction,
  hops: Record<string, Hop>,
  depth: number,
  path: string,
): Row[] {
  const other = direction === 'reliesOn' ? line.to : line.from;
  const next = other && other.key !== page.piece.key ? other.key : null;
  const hop = hops[path];
  const row: Row = {
    is: 'line',
    line,
    direction,
    depth,
    path,
    next,
    isOpen: hop !== undefined,
    runsOn: direction === 'reliesOn' ? page.runsOn.map((object) => object.title) : [],
  };
  if (!hop) return [row];
  const words = (text: string): Row => ({ is: 'words', words: text, depth: depth + 1, path: `${path}>state` });
  if (hop.trouble) return [row, words(`${hop.trouble.title}. ${hop.trouble.detail}`)];
  if (!hop.page) return [row, words('Following …')];
  const inner =
    depth + 1 >= DEEPEST ? [words('Go on from here with t')] : rowsOfPage(hop.page, direction, hops, depth + 1, path);
  const none = direction === 'reliesOn' ? 'relies on nothing further' : 'nothing relies on it';
  return [row, ...(inner.length > 0 ? inner : [words(`${hop.page.piece.name} – ${none}`)])];
}

function groupWords(group: TraceGroup, direction: Direction): string {
  return `${direction === 'reliesOn' ? group.verb : PASSIVE[group.verb]} · ${group.count}`;
}

/** How a verb reads from its other end. */
const PASSIVE: Record<TraceGroup['verb'], string> = {
  holds: 'is held by',
  carries: 'is carried by',
  runs: 'is run by',
  'made from': 'has instances',
  extends: 'is extended by',
  overrides: 'is changed by',
  uses: 'is used by',
  reads: 'is read by',
  writes: 'is written by',
  calls: 'is called by',
  sends: 'is sent by',
  'listens to': 'is listened to by',
  spawns: 'is spawned by',
  destroys: 'is destroyed by',
  switches: 'is switched by',
  moves: 'is moved by',
  loads: 'is loaded by',
  labelled: 'is the label of',
  imports: 'is imported by',
};
