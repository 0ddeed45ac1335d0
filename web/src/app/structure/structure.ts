import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { CouplingOptions } from '@glue-trace/core';
import type { CouplingPage } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { routeFeature } from '../route/route.state';
import { injectAddress } from '../shared/address';
import { Choice, type Option } from '../shared/choice';
import { EmptyBox } from '../shared/empty-box';
import { FilterBar } from '../shared/filter-bar';
import { GridKeys } from '../shared/grid-keys';
import { GripMark } from '../shared/grip-mark';
import { KeyHints } from '../shared/key-hints';
import { Keys } from '../shared/keys';
import { LeftOut } from '../shared/left-out';
import { LinkSentence } from '../shared/link-sentence';
import { PaneHead } from '../shared/pane-head';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { structureActions, structureFeature } from './structure.state';

interface Cell {
  to: string;
  links: number;
  weakest: CouplingPage['cells'][number]['weakest'];
  runsBack: boolean;
  /** From 1 to 4: how many links, against the most of any cell. */
  strength: number;
  words: string;
}

interface GridRow {
  name: string;
  short: string;
  inCircle: boolean;
  layer: number;
  /** The first of its layer. */
  isFirst: boolean;
  inner: number;
  lost: number;
  /** Nothing in it lies on the route that is chosen. */
  isOff: boolean;
  cells: (Cell | null)[];
}

/** Columns whose names stand as they are read. */
const ROOMY = 10;
const BYS: Option[] = [
  { value: 'folder', words: 'by folder' },
  { value: 'scene', words: 'by scene and prefab' },
];
const DEPTHS: Option[] = [1, 2, 3].map((depth) => ({
  value: String(depth),
  words: `${depth} ${depth === 1 ? 'folder' : 'folders'} deep`,
}));
/** Cells that run back which are told in words. */
const MOST_TOLD = 12;

/** Who depends on whom among folders or scenes; each cell opens its links. */
@Component({
  selector: 'glue-structure',
  imports: [
    Choice,
    EmptyBox,
    FilterBar,
    GridKeys,
    GripMark,
    KeyHints,
    LeftOut,
    LinkSentence,
    MatButtonModule,
    PaneHead,
    RouterLink,
    TroubleBox,
    Waiting,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './structure.html',
  styleUrl: './structure.scss',
})
export class Structure {
  readonly project = input.required({ transform: numberAttribute });
  readonly by = input<string>();
  readonly below = input<string>();
  readonly depth = input<string>();
  /** The cell that is open. */
  readonly from = input<string>();
  readonly to = input<string>();

  private readonly store = inject(Store);
  private readonly address = injectAddress();
  protected readonly route = this.store.selectSignal(routeFeature.selectChosen);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly state = this.store.selectSignal(structureFeature.selectStructureState);
  protected readonly bys = BYS;
  protected readonly depths = DEPTHS;
  protected readonly options = computed((): CouplingOptions => ({
    by: this.by() === 'scene' ? 'scene' : 'folder',
    below: this.below() ?? '',
    depth: Math.min(6, Math.max(1, Number(this.depth()) || 1)),
  }));
  /** Folders on the way down, each with its address. */
  protected readonly way = computed(() => {
    const steps = this.options().below.split('/').filter(Boolean);
    return steps.map((name, at) => ({ name, path: steps.slice(0, at + 1).join('/') }));
  });
  protected readonly rows = computed((): GridRow[] => {
    const page = this.state().page;
    if (!page) return [];
    const most = Math.max(1, ...page.cells.map(({ links }) => links));
    const { below } = this.options();
    return page.groups.map(({ name, inCircle, inner, lost, layer }, from) => ({
      name,
      layer,
      isFirst: from > 0 && page.groups[from - 1]?.layer !== layer,
      short: below && name.startsWith(`${below}/`) ? name.slice(below.length + 1) : name,
      inCircle,
      inner,
      lost,
      isOff: page.onRoute?.[from] === false,
      cells: page.groups.map((group, to) => {
        const cell = page.cells.find((one) => one.from === from && one.to === to);
        if (!cell) return null;
        const { links, weakest, inCircle: isRound, runsBack } = cell;
        return {
          to: group.name,
          links,
          weakest,
          runsBack,
          strength: Math.max(1, Math.ceil((4 * Math.log(links + 1)) / Math.log(most + 1))),
          words: `${name} relies on ${group.name}: ${links} ${links === 1 ? 'link' : 'links'}, ${weakest} at the weakest${isRound ? ', in a circle' : ''}${runsBack ? ', against the order' : ''}`,
        };
      }),
    }));
  });
  protected readonly circles = computed(() => {
    const page = this.state().page;
    return page
      ? page.circles.map((circle) => [...circle, ...circle.slice(0, 1)].map((at) => page.groups[at]?.name).join(' → '))
      : [];
  });

  /** What runs against the order, the fewest links first: they are the quickest to mend. */
  protected readonly back = computed(() =>
    this.rows()
      .flatMap(({ name, cells }) => cells.flatMap((cell) => (cell?.runsBack ? [{ ...cell, from: name }] : [])))
      .sort((a, b) => a.links - b.links),
  );
  protected readonly sums = computed(() => {
    const links = (cells: readonly { links: number }[]): number => cells.reduce((sum, one) => sum + one.links, 0);
    const all = links(this.state().page?.cells ?? []);
    return { all, back: links(this.back()) };
  });
  /** Few columns have room for names as they are read. */
  protected readonly isRoomy = computed(() => this.rows().length <= ROOMY);

  protected readonly inCircle = computed(() => this.rows().filter((row) => row.inCircle).length);

  protected readonly offCount = computed(() => this.rows().filter((row) => row.isOff).length);

  constructor() {
    effect(() => {
      this.scansSeen();
      const [project, options, route] = [this.project(), this.options(), this.route()];
      this.store.dispatch(structureActions.load({ project, options, route }));
    });
    effect(() => {
      this.scansSeen();
      const [project, options, from, to] = [this.project(), this.options(), this.from(), this.to()];
      if (from) this.store.dispatch(structureActions.open({ project, options, from, to: to ?? '' }));
      else this.store.dispatch(structureActions.close());
    });
    inject(Keys).bindFor('structure', {
      Escape: () => this.close(),
    });
  }

  protected isOpen(from: string, to: string): boolean {
    return this.from() === from && (this.to() ?? '') === to;
  }

  protected open(from: string, to: string): void {
    this.address.go({ from, to });
  }

  protected close(): void {
    this.address.go({ from: null, to: null });
  }

  protected show(changes: Partial<Record<'by' | 'below' | 'depth', string | null>>): void {
    this.address.go({ ...changes, from: null, to: null });
  }

  protected readonly mostTold = MOST_TOLD;

  /** Whether a group is a folder that has more below it. */
  protected goesDown({ name }: GridRow): boolean {
    return this.options().by === 'folder' && !name.endsWith(')') && (this.state().page?.folders.length ?? 0) > 0;
  }
}
