import { ChangeDetectionStrategy, Component, computed, effect, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

type Filter = Record<string, string>;

const lastKey = (project: number): string => `glue-findings-${project}`;
const savedKey = (project: number): string => `glue-filters-${project}`;

/** What the findings of a project were narrowed to last. */
export function rememberedFilter(project: number): Filter {
  return read<Filter>(lastKey(project), {});
}
export function rememberFilter(project: number, filter: Filter): void {
  localStorage.setItem(lastKey(project), JSON.stringify(filter));
}

/** The values that open the box for a name, and take the filter in force out: no name can be written so. */
const [SAVE, DROP] = ['\n', '\n\n'];

/** Filters by name: chosen again, saved, taken out. */
@Component({
  selector: 'glue-saved-filters',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (isNaming()) {
      <form (submit)="$event.preventDefault(); save(name.value)">
        <input
          #name
          type="search"
          maxlength="60"
          aria-label="Name for what is shown"
          placeholder="a name for it"
          (keydown.escape)="isNaming.set(false)"
        />
        <button matButton type="submit">Save</button>
      </form>
    } @else if (names().length > 0 || isNarrowed()) {
      <label>
        <span class="visually-hidden">Saved filters</span>
        <select #box (change)="choose(box)">
          <option value="" [selected]="!inForce()">saved filters</option>
          @for (one of names(); track one) {
            <option [value]="one" [selected]="one === inForce()">{{ one }}</option>
          }
          @if (isNarrowed() && !inForce()) {
            <option [value]="SAVE">save what is shown …</option>
          }
          @if (inForce(); as one) {
            <option [value]="DROP">take out “{{ one }}”</option>
          }
        </select>
      </label>
    }
  `,
  styles: `
    form {
      display: flex;
      gap: 6px;
    }
    select {
      max-width: 150px;
    }
    input {
      width: 130px;
    }
  `,
})
export class Saved {
  readonly project = input.required<number>();
  readonly now = input.required<Filter>();
  readonly chosen = output<Filter>();

  protected readonly SAVE = SAVE;
  protected readonly DROP = DROP;
  protected readonly isNaming = signal(false);
  private readonly saved = signal<Record<string, Filter>>({});
  protected readonly names = computed(() => Object.keys(this.saved()).sort());
  protected readonly isNarrowed = computed(() => Object.values(this.now()).some(Boolean));
  /** The saved one that is shown. */
  protected readonly inForce = computed(() => {
    const now = signOf(this.now());
    return this.isNarrowed() ? this.names().find((name) => signOf(this.saved()[name] ?? {}) === now) : undefined;
  });

  constructor() {
    effect(() => this.saved.set(read(savedKey(this.project()), {})));
  }

  protected choose(box: HTMLSelectElement): void {
    if (box.value === SAVE) this.isNaming.set(true);
    else if (box.value === DROP) {
      const { [this.inForce() ?? '']: _gone, ...left } = this.saved();
      this.keep(left);
    } else this.chosen.emit(this.saved()[box.value] ?? {});
  }
  protected save(name: string): void {
    if (name.trim() === '') return;
    this.keep({ ...this.saved(), [name.trim()]: this.now() });
    this.isNaming.set(false);
  }
  private keep(saved: Record<string, Filter>): void {
    this.saved.set(saved);
    localStorage.setItem(savedKey(this.project()), JSON.stringify(saved));
  }
}

const signOf = (filter: Filter): string =>
  JSON.stringify(
    Object.entries(filter)
      .filter(([, value]) => value !== '')
      .sort(),
  );

function read<Kept>(key: string, empty: Kept): Kept {
  try {
    return { ...empty, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Kept) };
  } catch {
    return empty;
  }
}
