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
  viewChild,
  type ElementRef,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import { SAYINGS, itemAt, type Pointed, type Preview, type Saying } from '@glue-trace/core/browser';
import { Store } from '@ngrx/store';
import { TroubleBox } from '../shared/trouble';
import { markedLines, offsetOf, type MarkedLine } from './marked-lines';
import { planActions, planFeature } from './plan.state';
import { SavePlan, type SavePlanData } from './save-plan';
import { Workbench } from './workbench';

/** Typing rests this long before the file is read anew, in milliseconds. */
const PAUSE = 250;
/** Lines of a file that are drawn; values further down are like those above. */
const MOST_LINES = 2000;

/** The reading plan beside a file of the project: what each rule finds there, and rules written by pointing at values. */
@Component({
  selector: 'glue-plan',
  imports: [MatButtonModule, RouterLink, TroubleBox],
  providers: [Workbench],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './plan.html',
  styleUrl: './plan.scss',
})
export class PlanEditor {
  readonly project = input.required({ transform: numberAttribute });
  readonly file = input<string>();

  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly workbench = inject(Workbench);
  private readonly planBox = viewChild<ElementRef<HTMLTextAreaElement>>('planBox');
  private readonly fileBox = viewChild<ElementRef<HTMLElement>>('fileBox');

  protected readonly state = this.store.selectSignal(planFeature.selectPlanState);
  protected readonly preview = signal<Preview | null>(null);
  protected readonly pointed = signal<Pointed | null>(null);
  /** Said after pointing where nothing stands. */
  protected readonly missed = signal(false);
  /** The rule whose finds alone are marked. */
  protected readonly only = signal('');
  /** Line that the keyboard stands on, 1-based. */
  protected readonly line = signal(1);

  protected readonly groups = ['a piece', 'a reference', 'an event'].map((name) => ({
    name,
    sayings: SAYINGS.filter((saying) => saying.group === name),
  }));
  protected readonly isChanged = computed(() => this.state().draft !== this.state().page?.text);
  protected readonly mistakes = computed(() => this.preview()?.mistakes ?? []);
  protected readonly marks = computed(() => {
    const all = this.preview()?.marks ?? [];
    return this.only() ? all.filter((mark) => mark.rule === this.only()) : all;
  });
  protected readonly lines = computed<MarkedLine[]>(() =>
    markedLines(this.state().file?.text ?? '', this.marks()).slice(0, MOST_LINES),
  );
  protected readonly isLong = computed(() => this.state().file?.isCut || this.lines().length === MOST_LINES);
  protected readonly pointedLine = computed(() => {
    const pointed = this.pointed();
    const text = this.state().file?.text ?? '';
    return pointed ? text.slice(0, pointed.start).split(/\r\n|\r|\n/).length : 0;
  });

  /** The file to look at, once there is a plan to look with. */
  private readonly wanted = computed(() => (this.state().page ? (this.file() ?? this.state().paths[0]) : undefined));

  constructor() {
    effect(() => this.store.dispatch(planActions.load({ project: this.project() })));
    effect(() => {
      const file = this.wanted();
      if (file) untracked(() => this.store.dispatch(planActions.loadFile({ project: this.project(), file })));
    });
    effect(() => {
      this.wanted();
      this.pointed.set(null);
      this.missed.set(false);
      this.only.set('');
      this.line.set(1);
    });
    effect((onCleanup) => {
      const { draft, file, page } = this.state();
      if (!page || !file) return;
      const timer = setTimeout(
        () =>
          void this.workbench
            .ask({ ask: 'preview', plan: draft, path: file.path, text: file.text, bases: page.bases })
            .then(({ preview }) => this.preview.set(preview ?? null)),
        this.preview() ? PAUSE : 0,
      );
      onCleanup(() => clearTimeout(timer));
    });
  }

  protected choose(file: string): void {
    void this.router.navigate([], { queryParams: { file } });
  }

  protected type(text: string): void {
    this.store.dispatch(planActions.type({ text }));
  }

  protected undo(): void {
    this.store.dispatch(planActions.undo());
  }

  /** A rule's short name: without the file's rule in front. */
  protected short(rule: string): string {
    const own = this.preview()?.rule ?? '';
    return rule.startsWith(`${own}.`) ? rule.slice(own.length + 1).replace('.', ' · ') : rule;
  }

  protected groupOf(rule: string): string {
    return itemAt(this.short(rule).split(' · '), 0);
  }

  protected pick(rule: string): void {
    this.only.set(this.only() === rule ? '' : rule);
    const first = this.marks()[0];
    if (first)
      this.fileBox()
        ?.nativeElement.querySelector(`[data-line="${first.range.line}"]`)
        ?.scrollIntoView({ block: 'center' });
  }

  /** A click into the file points at the value under it. */
  protected click(event: MouseEvent): void {
    const line = (event.target as HTMLElement).closest<HTMLElement>('[data-line]');
    if (!line) return;
    const number = Number(line.dataset['line']);
    this.line.set(number);
    void this.point(number, columnAt(event, line));
  }

  protected key(event: KeyboardEvent): void {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) this.line.update((line) => Math.min(Math.max(1, line + step), this.lines().length));
    else if (event.key === 'Enter') {
      const text =
        this.lines()
          [this.line() - 1]?.pieces.map((piece) => piece.text)
          .join('') ?? '';
      // The value of a line stands behind its name.
      void this.point(this.line(), (/[:=>]\s*/.exec(text)?.index ?? text.search(/\S/)) + 3);
    } else return;
    event.preventDefault();
    this.fileBox()?.nativeElement.querySelector(`[data-line="${this.line()}"]`)?.scrollIntoView({ block: 'nearest' });
  }

  private async point(line: number, column: number): Promise<void> {
    const text = this.state().file?.text;
    const format = this.preview()?.format;
    if (text === undefined || !format) return;
    const { pointed } = await this.workbench.ask({ ask: 'point', text, format, offset: offsetOf(text, line, column) });
    this.pointed.set(pointed ?? null);
    this.missed.set(!pointed);
  }

  protected pointedNone(): void {
    this.pointed.set(null);
  }

  /** Writes the rule that says what the value is. */
  protected async say({ id }: Saying): Promise<void> {
    const pointed = this.pointed();
    const { draft, file } = this.state();
    if (!pointed || !file) return;
    const rule = this.preview()?.rule.replace(/^files\./, '') || undefined;
    const { plan } = await this.workbench.ask({ ask: 'say', plan: draft, path: file.path, rule, pointed, saying: id });
    if (plan === undefined) return;
    this.store.dispatch(planActions.change({ text: plan }));
    this.pointed.set(null);
  }

  /** Goes to a mistake in the plan. */
  protected show(line: number | undefined): void {
    const box = this.planBox()?.nativeElement;
    if (!box || !line) return;
    const start = offsetOf(box.value, line, 1);
    box.focus();
    box.setSelectionRange(start, start + (box.value.slice(start).indexOf('\n') + 1 || 1));
  }

  protected async save(): Promise<void> {
    const { page, draft } = this.state();
    if (!page) return;
    const { plan } = await this.workbench.ask({ ask: 'format', plan: draft });
    const after = plan ?? draft;
    const data: SavePlanData = { path: page.path, before: page.isBuiltIn ? '' : page.text, after };
    this.dialog
      .open<SavePlan, SavePlanData, boolean>(SavePlan, { data, width: '760px' })
      .afterClosed()
      .subscribe((isWanted) => {
        if (isWanted) this.store.dispatch(planActions.save({ project: this.project(), text: after, hash: page.hash }));
      });
  }
}

/** The column (1-based) of a click in a line of text. */
function columnAt({ clientX, clientY }: MouseEvent, line: HTMLElement): number {
  const caret = (
    document as { caretPositionFromPoint?: (x: number, y: number) => { offsetNode: Node; offset: number } | null }
  ).caretPositionFromPoint?.(clientX, clientY);
  if (!caret || !line.contains(caret.offsetNode)) return 1;
  const before = document.createRange();
  before.setStart(line.querySelector('code') ?? line, 0);
  before.setEnd(caret.offsetNode, caret.offset);
  return before.toString().length + 1;
}
