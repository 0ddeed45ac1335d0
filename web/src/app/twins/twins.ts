import { itemAt, must } from '@glue-trace/core/browser';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  numberAttribute,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Risk, TwinFilter, TwinKind } from '@glue-trace/core';
import type { TwinGroupView } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { injectAddress } from '../shared/address';
import { Choice, type Option } from '../shared/choice';
import { EmptyBox } from '../shared/empty-box';
import { Evidence } from '../shared/evidence';
import { FilterBar } from '../shared/filter-bar';
import { KeyHints } from '../shared/key-hints';
import { Keys } from '../shared/keys';
import { LeftOut } from '../shared/left-out';
import { bringIntoSight, neighbour } from '../shared/neighbour';
import { PaneHead } from '../shared/pane-head';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { WordsBox } from '../shared/words-box';
import { twinsActions, twinsFeature } from './twins.state';

const KINDS: { value: TwinKind | ''; words: string }[] = [
  { value: '', words: 'all kinds' },
  { value: 'code', words: 'code' },
  { value: 'prefab', words: 'prefabs' },
  { value: 'data asset', words: 'data assets' },
  { value: 'wiring', words: 'saved wiring' },
  { value: 'table', words: 'tables in code' },
];
const ORDERS: Option[] = [
  { value: '', words: 'likeliest to be wrong first' },
  { value: 'saves', words: 'what saves most first' },
];
/** Those that somebody should look at soon. */
const RISKY: readonly Risk[] = ['changed in one', 'drifted apart'];
/** Copies laid side by side; the others are named. */
const MOST_BESIDE = 4;
const MOST_DIFFERENCES = 20;
const STEP = 200;
/** Room for a line of code, in pixels: of a sign, and of the number before it. */
const SIGN = 7.6;
const BEFORE = 56;
/** Longer lines scroll, in signs. */
const LONGEST = 110;

/** Groups of copies: side by side, with what differs between them, and where they could live. */
@Component({
  selector: 'glue-twins',
  imports: [
    Choice,
    EmptyBox,
    Evidence,
    FilterBar,
    KeyHints,
    LeftOut,
    MatButtonModule,
    PaneHead,
    RouterLink,
    TroubleBox,
    Waiting,
    WordsBox,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './twins.html',
  styleUrl: './twins.scss',
})
export class TwinsView {
  readonly project = input.required({ transform: numberAttribute });
  /** Key of the group that is open. */
  readonly group = input<string>();
  readonly text = input<string>();
  readonly kind = input<string>();
  /** `saves`: what saves most first; otherwise what is likeliest to be wrong by now. */
  readonly order = input<string>();
  /** How many groups are listed. */
  readonly rows = input(STEP, { transform: (written: string | undefined) => Number(written ?? STEP) || STEP });

  private readonly store = inject(Store);
  private readonly address = injectAddress();
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly state = this.store.selectSignal(twinsFeature.selectTwinsState);
  protected readonly kinds = KINDS;
  protected readonly orders = ORDERS;
  protected readonly isNarrowed = computed(() => !!this.text() || !!this.kind());
  protected readonly beside = MOST_BESIDE;
  protected readonly mostDifferences = MOST_DIFFERENCES;
  protected readonly groups = computed(() => this.state().page?.groups ?? []);
  protected readonly opened = computed(() => {
    const [key, page] = [this.group(), this.state().page];
    return key ? [...this.groups(), ...(page?.opened ? [page.opened] : [])].find((one) => one.key === key) : undefined;
  });
  /** What differs, but for values that stand in the table of fields. */
  protected readonly differences = computed(() => {
    const group = this.opened();
    const seen = new Set<string>();
    return (group?.differences ?? []).filter(({ what, lines }) => {
      // Statements on one line are shown as that line.
      const isSeen = what === 'statement' && seen.has(lines.join());
      seen.add(lines.join());
      return !isSeen && (what !== 'value' || group?.fields.length === 0);
    });
  });
  /** Lines to pick out in each copy that is shown, and rows to leave empty so that the copies stay side by side. */
  protected readonly marks = computed(() => {
    const group = this.opened();
    return (group?.places ?? []).slice(0, MOST_BESIDE).map((_, copy) => {
      const picked = must(group).differences.flatMap(({ lines }) =>
        itemAt(lines, copy) > 0 ? [itemAt(lines, copy)] : [],
      );
      const missing = new Map<number, Set<number>>();
      for (const { before, lines } of must(group).differences)
        if (itemAt(before, copy) > 0)
          missing.set(itemAt(before, copy), (missing.get(itemAt(before, copy)) ?? new Set()).add(Math.max(...lines)));
      return { picked, gaps: new Map([...missing].map(([line, lines]) => [line, lines.size])) };
    });
  });

  /** What the longest line of the copies takes, in pixels. */
  protected readonly widest = computed(() => {
    const lines = (this.state().code ?? []).flatMap((excerpt) => excerpt?.lines ?? []);
    return Math.ceil(Math.min(LONGEST, Math.max(0, ...lines.map(({ length }) => length))) * SIGN + BEFORE);
  });

  constructor() {
    effect(() => {
      this.scansSeen();
      const [text, kind, order] = [this.text(), this.kind() as TwinKind | undefined, this.order()];
      const group = untracked(this.group);
      const filter: TwinFilter = {
        limit: this.rows(),
        ...(text && { text }),
        ...(kind && { kind }),
        ...(order === 'saves' && { order }),
        ...(group && { group }),
      };
      this.store.dispatch(twinsActions.load({ project: this.project(), filter }));
    });
    effect(() => {
      const group = this.opened();
      if (!group) return void this.store.dispatch(twinsActions.hide());
      const places = group.places
        .slice(0, MOST_BESIDE)
        .map(({ file, line, endLine }) => ({ file, line, column: 1, endLine: endLine + 1, endColumn: 1 }));
      this.store.dispatch(twinsActions.show({ project: this.project(), places }));
    });
    const keys = inject(Keys);
    keys.bindList('twins', (by) => this.move(by));
    keys.bindFor('twins', {
      t: () => this.trace(),
      Escape: () => this.open(null),
    });
  }

  protected open(group: string | null): void {
    this.address.go({ group });
  }

  protected narrow(to: { text?: string | null; kind?: string | null }): void {
    this.address.go({ ...to, group: null, rows: null });
  }

  protected clear(): void {
    this.narrow({ text: null, kind: null });
  }

  protected sort(order: string): void {
    this.address.go({ order: order || null });
  }

  protected more(): void {
    this.address.go({ rows: this.rows() + STEP });
  }

  /** What stands in a copy: a statement as it is written, where its lines are there. */
  protected say({ what, lines, words }: TwinGroupView['differences'][number], copy: number): string {
    const excerpt = what === 'statement' ? this.state().code?.[copy] : undefined;
    return excerpt?.lines[itemAt(lines, copy) - excerpt.firstLine]?.trim() ?? itemAt(words, copy);
  }

  protected isRisky({ risk }: TwinGroupView): boolean {
    return RISKY.includes(risk);
  }

  private move(by: number): void {
    const shown = this.groups();
    const at = shown.findIndex(({ key }) => key === this.group());
    const group = neighbour(shown, at, by);
    if (group) this.open(group.key);
    bringIntoSight('.row.on');
  }

  private trace(): void {
    this.address.trace(this.project(), this.opened()?.places[0]?.key);
  }
}
