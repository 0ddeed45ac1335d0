import { itemAt } from '@glue-trace/core/browser';
import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  numberAttribute,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { PlayEvent } from '@glue-trace/core';
import type { PlayEventView, PlayKind } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import type { ChartConfiguration } from 'chart.js';
import { Api, type EventQuery } from '../api';
import { routeFeature } from '../route/route.state';
import { injectAddress } from '../shared/address';
import { ChartView, colour } from '../shared/chart';
import { Choice, type Option } from '../shared/choice';
import { EmptyBox } from '../shared/empty-box';
import { FilterBar } from '../shared/filter-bar';
import { KeyHints } from '../shared/key-hints';
import { Keys } from '../shared/keys';
import { LeftOut } from '../shared/left-out';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { WordsBox } from '../shared/words-box';
import { PlayMap } from './play-map';
import { playActions, playFeature } from './play.state';

/** Bars of the chart at most. */
const MOST_BARS = 120;
/** In milliseconds: so often kinds and rates are drawn anew while a session comes in. */
const OPENED_EVERY = 1000;
/** Kinds that are shown as chips; all others are found by their name. */
const MOST_KINDS = 24;

interface Bar {
  second: number;
  events: number;
  /** Positions of the first and the last of them; 0 where nothing happened. */
  first: number;
  last: number;
}

/** What happened in play: events as they come or as a log has them, and what the map says of them. */
@Component({
  selector: 'glue-play',
  imports: [
    ChartView,
    Choice,
    EmptyBox,
    FilterBar,
    KeyHints,
    LeftOut,
    MatButtonModule,
    NgTemplateOutlet,
    PlayMap,
    RouterLink,
    TroubleBox,
    Waiting,
    WordsBox,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './play.html',
  styleUrl: './play.scss',
  host: {
    '(dragover)': '$event.preventDefault()',
    '(drop)': 'drop($event)',
  },
})
export class PlayView {
  readonly project = input.required({ transform: numberAttribute });
  readonly session = input<string>();
  /** Numbers of kinds that are muted, or of those alone that are shown. */
  readonly without = input<string>();
  readonly only = input<string>();
  readonly text = input<string>();
  readonly who = input<string>();
  readonly side = input<string>();
  readonly frame = input<string>();
  /** The stretch, in positions. */
  readonly from = input<string>();
  readonly to = input<string>();
  /** Whether the sessions stand beside the map; and those that are judged together with the chosen one. */
  readonly map = input<string>();
  readonly with = input<string>();
  /** Position of the event in the pane. */
  readonly at = input<string>();

  private readonly store = inject(Store);
  private readonly api = inject(Api);
  private readonly address = injectAddress();
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly state = this.store.selectSignal(playFeature.selectPlayState);
  private readonly route = this.store.selectSignal(routeFeature.selectChosen);
  protected readonly isPaused = signal(false);
  protected readonly isAsked = signal(false);
  protected readonly mostKinds = MOST_KINDS;
  protected readonly origin = location.origin;

  protected readonly chosen = computed(() => {
    const wanted = Number(this.session() ?? 0);
    const sessions = this.state().page?.sessions ?? [];
    return sessions.find(({ id }) => id === wanted)?.id ?? sessions[0]?.id ?? 0;
  });
  protected readonly sessions = computed(() =>
    (this.state().page?.sessions ?? []).map(({ id, name, startedAt, isOpen }): Option => ({
      value: String(id),
      words: `${name} · ${this.when(startedAt)}${isOpen ? ' · live' : ''}`,
    })),
  );
  protected readonly query = computed((): EventQuery => ({
    without: this.without() ?? '',
    only: this.only() ?? '',
    text: this.text() ?? '',
    who: this.who() ?? '',
    side: this.side() ?? '',
    frame: /^\d+$/.test(this.frame() ?? '') ? (this.frame() ?? '') : '',
    from: this.from() ?? '',
    to: this.to() ?? '',
    before: '',
  }));
  protected readonly muted = computed(() => numbersIn(this.without()));
  protected readonly picked = computed(() => numbersIn(this.only()));
  protected readonly kinds = computed(() => new Map((this.state().session?.kinds ?? []).map((one) => [one.id, one])));
  /** How many events are muted. */
  protected readonly mutedCount = computed(() =>
    [...this.muted()].reduce((sum, id) => sum + (this.kinds().get(id)?.events ?? 0), 0),
  );
  protected readonly isNarrowed = computed(() => Object.values(this.query()).some((one) => one !== ''));
  protected readonly marks = computed(
    () => new Map((this.state().session?.marks ?? []).map(({ at, note }) => [at, note])),
  );
  protected readonly opened = computed(() => Number(this.at() ?? 0));
  /** What came while nothing new was shown. */
  protected readonly waiting = computed(() => (this.state().session?.session.events ?? 0) - this.state().read);

  protected readonly bars = computed((): Bar[] => {
    const rates = this.state().session?.rates ?? [];
    const isShown = (kind: number): boolean =>
      this.picked().size > 0 ? this.picked().has(kind) : !this.muted().has(kind);
    const seconds = rates.map(([second]) => second);
    const start = itemAt(seconds, 0) || 0;
    const span = rates.length === 0 ? 0 : (seconds.at(-1) ?? start) - start + 1;
    const each = Math.max(1, Math.ceil(span / MOST_BARS));
    const bars = Array.from({ length: Math.ceil(span / each) }, (_, bar): Bar => ({
      ...{ second: start + bar * each, events: 0, first: 0, last: 0 },
    }));
    for (const [second, kind, events, first, last] of rates) {
      const bar = bars[Math.floor((second - start) / each)];
      if (!bar) continue;
      bar.first = bar.first === 0 ? first : Math.min(bar.first, first);
      bar.last = Math.max(bar.last, last);
      if (isShown(kind)) bar.events += events;
    }
    return bars;
  });
  protected readonly most = computed(() => Math.max(0, ...this.bars().map(({ events }) => events)));
  /** When the first and the last of the bars begin. */
  protected readonly ends = computed(() => {
    const [first, last] = [this.bars()[0], this.bars().at(-1)];
    return first && last && first !== last ? [timeOf(first.second * 1000), timeOf(last.second * 1000)] : null;
  });
  protected readonly chart = computed((): ChartConfiguration => ({
    type: 'bar',
    data: {
      labels: this.bars().map(({ second }) => new Date(second * 1000).toLocaleTimeString()),
      datasets: [
        {
          data: this.bars().map(({ events }) => events),
          backgroundColor: colour('--amber'),
          categoryPercentage: 1,
          barPercentage: 0.9,
        },
      ],
    },
    options: {
      // Without axes a place in the picture is a place in time.
      scales: { x: { display: false }, y: { display: false, beginAtZero: true } },
      layout: { padding: 0 },
      plugins: { tooltip: { enabled: false } },
    },
  }));
  protected readonly chartWords = computed(() => {
    const bars = this.bars();
    const at = bars.find(({ events }) => events === this.most());
    return bars.length === 0
      ? 'No event yet'
      : `Events over ${bars.length} stretches of time; most of them, ${this.most()}, at ${timeOf((at?.second ?? 0) * 1000)}`;
  });
  /** The stretch that is being chosen, or that is chosen, in parts of the chart. */
  private readonly drawn = signal<[number, number] | null>(null);
  protected readonly stretch = computed(() => {
    const drawn = this.drawn();
    if (drawn) return { left: Math.min(...drawn) * 100, width: Math.abs(drawn[0] - drawn[1]) * 100 };
    const [from, to] = [Number(this.from() ?? 0), Number(this.to() ?? 0)];
    const bars = this.bars();
    if ((from === 0 && to === 0) || bars.length === 0) return null;
    const first = bars.findIndex(({ last }) => last >= from);
    const last = to === 0 ? bars.length - 1 : bars.findLastIndex((bar) => bar.first > 0 && bar.first <= to);
    if (first < 0 || last < first) return null;
    return { left: (first / bars.length) * 100, width: ((last - first + 1) / bars.length) * 100 };
  });

  constructor() {
    effect(() => {
      const project = this.project();
      this.store.dispatch(playActions.load({ project }));
      this.store.dispatch(playActions.watch({ project }));
    });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.opens);
      this.store.dispatch(playActions.leave());
    });
    const events = computed(() => this.state().page?.sessions.find(({ id }) => id === this.chosen())?.events ?? 0);
    effect(() => {
      const [session, query] = [this.chosen(), this.query()];
      events();
      if (session === 0 || this.isPaused()) return;
      const project = untracked(this.project);
      this.store.dispatch(playActions.events({ project, session, query }));
      untracked(() => this.openSoon(session));
    });
    effect(() => {
      const [at, session] = [this.opened(), this.chosen()];
      if (at > 0 && session > 0) this.store.dispatch(playActions.show({ project: this.project(), session, at }));
      else this.store.dispatch(playActions.hide());
    });
    effect(() => {
      const [chosen, route] = [this.chosen(), this.route()];
      const sessions = [chosen, ...numbersIn(this.with())];
      if (!this.map()) this.store.dispatch(playActions.leaveMap());
      else if (chosen > 0)
        this.store.dispatch(playActions.compare({ project: untracked(this.project), sessions, route }));
    });
    effect(() => {
      this.opened();
      untracked(() => this.element.nativeElement.querySelector('.row.on')?.scrollIntoView({ block: 'nearest' }));
    });
    const keys = inject(Keys);
    keys.bindList('play', (by) => this.move(by));
    keys.bindFor('play', {
      m: () => this.onOpenKind((kind) => this.mute(kind)),
      o: () => this.onOpenKind((kind) => this.pick(kind)),
      p: () => this.pause(),
      x: () => this.clear(),
      a: () => this.showAll(),
      c: () => this.compare(),
    });
  }

  /** Kinds and rates are asked for at once when another session is chosen, and now and then while one comes in. */
  private openSoon(session: number): void {
    const open = (): void => {
      this.opens = undefined;
      this.store.dispatch(playActions.open({ project: this.project(), session: this.chosen() }));
    };
    if (session !== this.state().session?.session.id) return open();
    this.opens ??= setTimeout(open, OPENED_EVERY);
  }
  private opens: ReturnType<typeof setTimeout> | undefined;

  protected narrow(params: Record<string, string | number | null>): void {
    this.address.go({ ...params, at: null });
  }
  protected choose(session: string): void {
    this.isPaused.set(false);
    this.address.go({ session, without: null, only: null, from: null, to: null, at: null, with: null });
  }
  protected show(at: number): void {
    this.address.go({ at: at === this.opened() ? null : at });
  }
  protected mute({ id }: PlayKind): void {
    const muted = new Set(this.muted());
    if (!muted.delete(id)) muted.add(id);
    this.narrow({ without: [...muted].join(',') || null, only: null });
  }
  protected pick({ id }: PlayKind): void {
    const isAlone = this.picked().size === 1 && this.picked().has(id);
    this.narrow({ only: isAlone ? null : id, without: null });
  }
  protected pause(): void {
    this.isPaused.update((is) => !is);
  }
  protected clear(): void {
    const events = this.state().session?.session.events ?? 0;
    this.narrow({ from: events + 1, to: null });
  }
  protected showAll(): void {
    this.narrow({ without: null, only: null, text: null, who: null, side: null, frame: null, from: null, to: null });
  }
  protected older(): void {
    const query = { ...this.query(), before: String(this.state().lookedTo) };
    this.store.dispatch(playActions.older({ project: this.project(), session: this.chosen(), query }));
  }
  protected compare(): void {
    this.address.go({ map: this.map() ? null : 1, with: null, at: null });
  }
  /** The first of them is the one that is looked at. */
  protected judge(sessions: readonly number[]): void {
    const chosen = sessions.includes(this.chosen()) ? this.chosen() : (sessions[0] ?? 0);
    this.address.go({ session: chosen, with: sessions.filter((one) => one !== chosen).join(',') || null, at: null });
  }
  /** An event of one of the sessions that are judged. */
  protected showOf({ session, at }: { session: number; at: number }): void {
    const others = [this.chosen(), ...numbersIn(this.with())].filter((one) => one !== session);
    this.address.go({ session, with: others.join(',') || null, at });
  }
  protected trace(piece: string): void {
    this.address.trace(this.project(), piece);
  }
  protected follow(file: string): void {
    if (file.trim() !== '') {
      this.address.go({ session: null, map: null, with: null, at: null });
      this.store.dispatch(playActions.follow({ project: this.project(), file: file.trim() }));
    }
  }
  protected end(): void {
    this.store.dispatch(playActions.end({ project: this.project(), session: this.chosen() }));
  }

  protected compareWith(other: string): void {
    if (Number(other) > 0)
      this.store.dispatch(
        playActions.compareWith({ project: this.project(), session: this.chosen(), other: Number(other) }),
      );
  }

  protected choosePart(event: PointerEvent, box: HTMLElement): void {
    const part = (x: number): number => {
      const { left, width } = box.getBoundingClientRect();
      return Math.min(1, Math.max(0, (x - left) / width));
    };
    const start = part(event.clientX);
    box.setPointerCapture(event.pointerId);
    box.onpointermove = ({ clientX }) => this.drawn.set([start, part(clientX)]);
    box.onpointerup = ({ clientX }) => {
      [box.onpointermove, box.onpointerup] = [null, null];
      this.drawn.set(null);
      this.chooseBars(start, part(clientX));
    };
  }
  /** The stretch between two parts of the chart; a click takes the choice back. */
  private chooseBars(one: number, other: number): void {
    const bars = this.bars();
    const [low, high] = [Math.min(one, other) * bars.length, Math.max(one, other) * bars.length];
    if (high - low < 0.5) return this.narrow({ from: null, to: null });
    const inside = bars.slice(Math.floor(low), Math.ceil(high)).filter(({ first }) => first > 0);
    if (inside.length > 0)
      this.narrow({
        from: Math.min(...inside.map(({ first }) => first)),
        to: Math.max(...inside.map(({ last }) => last)),
      });
  }

  protected chooseFile(files: FileList | null): void {
    const file = files?.[0];
    if (file && !this.state().isReading) {
      this.address.go({ session: null, without: null, only: null, from: null, to: null, at: null });
      this.store.dispatch(playActions.readFile({ project: this.project(), file }));
    }
  }
  protected drop(event: DragEvent): void {
    event.preventDefault();
    this.chooseFile(event.dataTransfer?.files ?? null);
  }
  protected write(name: string, note: string): void {
    const session = this.state().session?.session;
    if (!session || name.trim() === '' || (name === session.name && note === session.note)) return;
    this.store.dispatch(
      playActions.name({ project: this.project(), session: session.id, name: name.trim(), note: note.trim() }),
    );
  }
  protected mark(at: number, note: string): void {
    if (note.trim() !== (this.marks().get(at) ?? ''))
      this.store.dispatch(playActions.mark({ project: this.project(), session: this.chosen(), at, note: note.trim() }));
  }
  protected throwAway(): void {
    this.isAsked.set(false);
    this.store.dispatch(playActions.throwAway({ project: this.project(), session: this.chosen() }));
    this.address.go({ session: null, at: null });
  }
  protected exported(format: 'ndjson' | 'csv'): string {
    return this.api.playExport(this.project(), this.chosen(), format, this.query());
  }

  protected inWords({ type, happening, source, handler, frame }: PlayEvent): string {
    const what = happening === 'sent' ? type : `${type} ${happening}`;
    return `${what}, ${source}${handler ? ` · ${handler}` : ''}${frame === undefined ? '' : `, frame ${frame}`}`;
  }
  protected typeOf({ kind }: PlayEventView): string {
    return this.kinds().get(kind)?.type ?? '';
  }
  protected happeningOf({ kind }: PlayEventView): string {
    return this.kinds().get(kind)?.happening ?? '';
  }
  protected readonly time = timeOf;
  protected counted(count: number, word: string): string {
    return `${count} ${word}${count === 1 ? '' : 's'}`;
  }
  protected when(at: string): string {
    return new Date(at).toLocaleString([], { month: 'short', day: 'numeric', hour: '2-digit', minute: '2-digit' });
  }
  /** The payload as it would be written by hand. */
  protected readable(data: string | null): string {
    if (data === null) return '';
    try {
      return JSON.stringify(JSON.parse(data), null, 2);
    } catch {
      return data;
    }
  }

  private onOpenKind(run: (kind: PlayKind) => void): void {
    const row = this.state().rows.find(({ at }) => at === this.opened());
    const kind = row && this.kinds().get(row.kind);
    if (kind) run(kind);
  }
  private move(by: number): void {
    const { rows } = this.state();
    if (rows.length === 0) return;
    const now = rows.findIndex(({ at }) => at === this.opened());
    const next = now < 0 ? 0 : Math.max(0, Math.min(rows.length - 1, now + by));
    this.address.go({ at: itemAt(rows, next).at });
  }
}

const numbersIn = (written: string | undefined): Set<number> =>
  new Set((written ?? '').split(',').filter(Boolean).map(Number));

function timeOf(milliseconds: number): string {
  const time = new Date(milliseconds);
  return `${time.toLocaleTimeString([], { hour12: false })}.${String(time.getMilliseconds()).padStart(3, '0')}`;
}
