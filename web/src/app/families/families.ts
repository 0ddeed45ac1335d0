import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { FamilyCell, Holds } from '@glue-trace/core';
import type { FamilyGrid, FamilyName } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { Evidence } from '../shared/evidence';
import { Keys } from '../shared/keys';
import { TroubleBox } from '../shared/trouble';
import { familiesActions, familiesFeature } from './families.state';

type Row = FamilyGrid['rows'][number];

/** What a cell says, in words; values stand for themselves. */
const WORDS: Record<Holds, string> = {
  own: 'own',
  inherited: '·',
  'calls through': 'own + parent’s',
  replaced: 'replaced',
  'by nothing': 'replaced by nothing',
  value: '',
  same: 'same again',
  'never set': 'never set',
  none: '–',
};
/** Rows drawn at once; others come when somebody asks for them. */
const STEP = 200;

/** A parent with all that descends from it: what each has of its parent's, and what of its own. */
@Component({
  selector: 'glue-families',
  imports: [Evidence, MatButtonModule, RouterLink, TroubleBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './families.html',
  styleUrl: './families.scss',
})
export class Families {
  readonly project = input.required({ transform: numberAttribute });
  /** Key of the family that is open. */
  readonly family = input<string>();
  readonly only = input<string>();
  /** Key of the member that cells are laid beside; the parent when left out. */
  readonly beside = input<string>();
  /** How many rows are drawn. */
  readonly rows = input(STEP, { transform: (written: string | undefined) => Number(written ?? STEP) || STEP });

  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly state = this.store.selectSignal(familiesFeature.selectFamiliesState);
  protected readonly kinds = { type: 'parent type', prefab: 'base prefab', record: 'record' } as const;
  protected readonly isNarrow = computed(() => this.only() === 'differences');
  /** Columns in which somebody differs from the parent, by their places. */
  protected readonly columns = computed(() => {
    const grid = this.state().family;
    if (!grid) return [];
    const all = grid.columns.map((column, at) => ({ ...column, at }));
    return this.isNarrow() ? all.filter(({ at }) => grid.rows.slice(1).some((row) => differs(row.cells[at]))) : all;
  });
  protected readonly shown = computed(() => this.state().family?.rows.slice(0, this.rows()) ?? []);

  constructor() {
    effect(() => {
      this.scansSeen();
      this.store.dispatch(familiesActions.load({ project: this.project() }));
    });
    effect(() => {
      this.scansSeen();
      const [project, piece] = [this.project(), this.family()];
      if (piece) this.store.dispatch(familiesActions.open({ project, piece }));
    });
    inject(Keys).bind([
      { key: 'j', does: 'next family', run: () => this.move(1) },
      { key: 'k', does: 'previous family', run: () => this.move(-1) },
      { key: 't', does: 'trace the parent', run: () => this.trace(this.family()) },
      { key: 'Escape', does: 'close', run: () => this.back() },
    ]);
  }

  protected open(family: string | null): void {
    this.go({ family, rows: null, beside: null });
  }

  protected more(): void {
    this.go({ rows: this.rows() + STEP });
  }

  protected narrow(): void {
    this.go({ only: this.isNarrow() ? null : 'differences' });
  }

  /** A cell's code beside that of the parent, or of the member that was chosen. */
  protected compare(row: Row, at: number): void {
    const { rows } = this.state().family!;
    const other = rows.find(({ key }) => key === this.beside()) ?? rows[0];
    const places = [other.cells[at], row.cells[at]].flatMap(({ file, range }) => (range ? [{ file, ...range }] : []));
    if (places.length > 0) this.store.dispatch(familiesActions.show({ project: this.project(), places }));
  }

  protected choose(key: string): void {
    this.go({ beside: key || null });
  }

  protected hide(): void {
    this.store.dispatch(familiesActions.hide());
  }

  protected say({ is, text }: FamilyCell): string {
    return is === 'value' ? text : is === 'replaced' && text ? text : is === 'own' && text ? text : WORDS[is];
  }

  protected about({ kind, members, objects }: FamilyName): string {
    const many = (count: number, one: string): string => `${count} ${one}${count === 1 ? '' : 's'}`;
    if (kind === 'record') return `${members} like it`;
    return kind === 'prefab'
      ? `${many(members, 'instance')} · ${many(objects, 'object')} in scenes`
      : `${members} ${members === 1 ? 'child' : 'children'} · ${many(objects, 'object')}`;
  }

  private back(): void {
    if (this.state().code) this.hide();
    else this.open(null);
  }

  private move(by: number): void {
    const all = this.state().page?.families ?? [];
    if (all.length === 0) return;
    const at = all.findIndex(({ key }) => key === this.family());
    this.open(all[at < 0 ? 0 : Math.min(Math.max(at + by, 0), all.length - 1)].key);
  }

  private trace(piece: string | undefined): void {
    if (piece) void this.router.navigate(['/p', this.project(), 'trace'], { queryParams: { piece } });
  }

  private go(queryParams: Record<string, string | number | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge' });
  }
}

function differs({ is }: FamilyCell): boolean {
  return is !== 'inherited' && is !== 'none';
}
