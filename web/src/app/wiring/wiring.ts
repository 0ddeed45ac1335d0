import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { MOMENTS, must, SCOPES, SIDES, storySheet } from '@glue-trace/core/browser';
import type { TraceLine, WireRow, WiringFilter } from '@glue-trace/core';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { routeFeature } from '../route/route.state';
import { injectAddress } from '../shared/address';
import { Choice, optionsOf } from '../shared/choice';
import { EmptyBox } from '../shared/empty-box';
import { FilterBar } from '../shared/filter-bar';
import { KeyHints } from '../shared/key-hints';
import { LeftOut } from '../shared/left-out';
import { bringIntoSight, neighbour } from '../shared/neighbour';
import { Keys } from '../shared/keys';
import { LinkSentence } from '../shared/link-sentence';
import { PaneHead } from '../shared/pane-head';
import { PieceSheet } from '../shared/piece-sheet';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { WordsBox } from '../shared/words-box';
import { WireEndView } from './wire-end';
import { wiringActions, wiringFeature, type Direction } from './wiring.state';

type Show = 'events' | 'flags' | 'life';

/** What the page shows, and the words of each ledger. */
const SHOWS = [
  { show: 'events', words: 'Events' },
  { show: 'flags', words: 'Flags' },
  { show: 'life', words: 'What comes and goes' },
] as const;
const LEDGERS = {
  events: {
    title: 'Wiring',
    one: 'event',
    gives: 'Senders',
    what: 'Event',
    takes: 'Listeners',
    moments: 'Places that send one of them',
    none: 'Nothing that was read sends or listens. Reading says which calls and wires the plan names, and what each of them found.',
    states: [
      { value: '', words: 'any ends' },
      { value: 'joined', words: 'both ends' },
      { value: 'unheard', words: 'nobody listens' },
      { value: 'never sent', words: 'nobody sends' },
      { value: 'engine', words: 'the engine’s' },
    ],
  },
  flags: {
    title: 'Flags',
    one: 'flag',
    gives: 'Set by',
    what: 'Flag',
    takes: 'Read by',
    moments: 'Places that set one of them',
    none: 'No script has a field that holds a truth value, and no file declares a flag.',
    states: [
      { value: '', words: 'any ends' },
      { value: 'joined', words: 'set and read' },
      { value: 'unheard', words: 'nobody reads' },
      { value: 'never sent', words: 'nobody sets' },
    ],
  },
} as const;
const FILTERS = [
  { name: 'moment', from: optionsOf('any moment', MOMENTS) },
  { name: 'side', from: optionsOf('any side', SIDES) },
  { name: 'scope', from: optionsOf('any scope', SCOPES) },
] as const;

interface Area {
  name: string;
  rows: WireRow[];
}

/** The ledger of events – senders, the event, listeners – with the story of each; and what comes and goes in play. */
@Component({
  selector: 'glue-wiring',
  imports: [
    Choice,
    EmptyBox,
    FilterBar,
    KeyHints,
    LeftOut,
    LinkSentence,
    MatButtonModule,
    PaneHead,
    PieceSheet,
    RouterLink,
    TroubleBox,
    Waiting,
    WireEndView,
    WordsBox,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './wiring.html',
  styleUrl: './wiring.scss',
})
export class WiringView {
  readonly project = input.required({ transform: numberAttribute });
  readonly show = input<string>();
  readonly state = input<string>();
  readonly moment = input<string>();
  readonly side = input<string>();
  readonly scope = input<string>();
  readonly text = input<string>();
  /** Key of the event whose story is told, and which way. */
  readonly event = input<string>();
  /** Whether its story is drawn. */
  readonly drawing = input<string>(undefined, { alias: 'drawn' });
  readonly way = input<string>();

  private readonly store = inject(Store);
  private readonly address = injectAddress();
  private readonly route = this.store.selectSignal(routeFeature.selectChosen);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly wiring = this.store.selectSignal(wiringFeature.selectWiringState);
  protected readonly shows = SHOWS;
  /** Nobody sets a flag for one or for all. */
  protected readonly filters = computed(() =>
    FILTERS.filter(({ name }) => name !== 'scope' || this.shown() === 'events'),
  );
  protected readonly shown = computed((): Show => SHOWS.find(({ show }) => show === this.show())?.show ?? 'events');
  protected readonly isLife = computed(() => this.shown() === 'life');
  protected readonly ledger = computed(() => LEDGERS[this.shown() === 'flags' ? 'flags' : 'events']);
  protected readonly direction = computed((): Direction => (this.way() === 'backward' ? 'backward' : 'forward'));
  private readonly filter = computed(
    () =>
      Object.fromEntries(
        Object.entries({
          state: this.state(),
          moment: this.moment(),
          side: this.side(),
          scope: this.scope(),
          text: this.text(),
        }).filter(([, value]) => value),
      ) as WiringFilter,
  );
  protected readonly isNarrowed = computed(() => Object.keys(this.filter()).length > 0);
  protected readonly areas = computed((): Area[] => {
    const areas: Area[] = [];
    for (const row of this.wiring().page?.rows ?? []) {
      if (areas.at(-1)?.name !== row.area) areas.push({ name: row.area, rows: [] });
      must(areas.at(-1)).rows.push(row);
    }
    return areas;
  });
  protected readonly sends = computed(() => {
    const sends = this.wiring().page?.sends;
    return sends ? MOMENTS.map((moment) => ({ moment, count: sends[moment] })).filter(({ count }) => count > 0) : [];
  });
  protected readonly sendWords = computed(() =>
    this.sends()
      .map(({ moment, count }) => `${count} ${moment === 'unknown' ? 'at a moment that is not known' : moment}`)
      .join(', '),
  );
  protected readonly isDrawn = computed(() => !!this.drawing());
  protected readonly nameIn = nameIn;
  /** The story as a drawing, where that is wanted. */
  protected readonly drawn = computed(() => {
    const { story } = this.wiring();
    if (!this.isDrawn() || !story?.page?.lines.length) return null;
    return storySheet({ key: story.of, name: nameIn(story.of) }, story.page.lines, story.direction);
  });
  private readonly rows = computed(() => this.wiring().page?.rows ?? []);
  protected readonly opened = computed(() => this.rows().find(({ what }) => what.key === this.event()));

  constructor() {
    effect(() => {
      this.scansSeen();
      const project = this.project();
      if (this.isLife()) this.store.dispatch(wiringActions.loadLife({ project }));
      else {
        const of = this.shown() === 'flags' ? 'flags' : 'events';
        this.store.dispatch(wiringActions.load({ project, filter: { ...this.filter(), of }, route: this.route() }));
      }
    });
    effect(() => {
      this.scansSeen();
      const [project, event, direction] = [this.project(), this.event(), this.direction()];
      if (event && this.shown() === 'events') this.store.dispatch(wiringActions.tell({ project, event, direction }));
      else this.store.dispatch(wiringActions.close());
    });
    effect(() => {
      // What an address opens, or a drawing pushes out of the list, stays in sight.
      this.isDrawn();
      if (this.opened()) bringIntoSight('tr.on');
    });
    const keys = inject(Keys);
    keys.bindList('wiring', (by) => this.move(by));
    keys.bindFor('wiring', {
      t: () => this.trace(),
      Escape: () => this.address.go({ event: null }),
    });
  }

  protected open({ what }: WireRow): void {
    this.address.go({ event: what.key });
  }

  protected draw(): void {
    this.address.go({ drawn: this.isDrawn() ? null : 'yes' });
  }

  protected traceTo(piece: string): void {
    this.address.trace(this.project(), piece);
  }

  protected tell(way: Direction): void {
    this.address.go({ way });
  }

  protected narrow(name: string, value: string | null): void {
    this.address.go({ [name]: value || null });
  }

  protected clear(): void {
    this.address.go({ state: null, moment: null, side: null, scope: null, text: null });
  }

  protected switchTo(show: Show): void {
    this.address.go({ show: show === 'events' ? null : show, event: null, state: null, scope: null });
  }

  protected close(): void {
    this.address.go({ event: null });
  }

  protected chosen(name: 'moment' | 'side' | 'scope'): string {
    return this[name]() ?? '';
  }

  /** When it happens, and to how many, where that is known. */
  protected happens({ link: { moment, scope, side } }: TraceLine): string {
    const words = [moment, scope, side === 'unknown' ? side : `${side} side`].filter((word) => word !== 'unknown');
    return words.map((word) => ` · ${word}`).join('');
  }

  private move(by: number): void {
    const rows = this.rows();
    const at = rows.findIndex(({ what }) => what.key === this.event());
    const row = neighbour(rows, at, by);
    if (row) this.open(row);
  }

  private trace(): void {
    const piece = this.event();
    this.address.trace(this.project(), piece);
  }
}

/** What stands in a key after its kind. */
const nameIn = (key: string): string => key.slice(key.indexOf(':') + 1);
