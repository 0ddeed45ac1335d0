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
import {
  SAYINGS,
  itemAt,
  type CodeSaying,
  type Pointed,
  type PointedCodeView,
  type Preview,
  type Saying,
  type WrittenRule,
} from '@glue-trace/core/browser';
import { Store } from '@ngrx/store';
import { firstValueFrom, type Observable } from 'rxjs';
import { Api, troubleOf, type ScriptDesk, type Trouble } from '../api';
import { EmptyBox } from '../shared/empty-box';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { markedLines, offsetOf, placeOf, type MarkedLine } from './marked-lines';
import { PlanText } from './plan-text';
import { PlanTrialPane } from './plan-trial';
import { planActions, planFeature } from './plan.state';
import { SavePlan, type SavePlanData } from './save-plan';
import { Workbench } from './workbench';

/** Typing rests this long before the file is read anew, in milliseconds. */
const PAUSE = 250;
/** Lines of a file that are drawn; values further down are like those above. */
const MOST_LINES = 2000;

interface PointedInCode {
  /** 0-based in UTF-16 units. */
  offset: number;
  all: PointedCodeView[];
  around: number;
  form: number;
}

/** Stands for a rule in the mark of what was pointed at. */
const POINTED = 'pointed';
const LINE_ENDS = /\r\n|\r|\n/;

/** The reading plan beside a file of the project: what each rule finds there, and rules written by pointing at values. */
@Component({
  selector: 'glue-plan',
  imports: [EmptyBox, MatButtonModule, PlanText, PlanTrialPane, RouterLink, TroubleBox, Waiting],
  providers: [Workbench],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './plan.html',
  styleUrl: './plan.scss',
  host: { '(window:beforeunload)': 'askBeforeLeaving($event)' },
})
export class PlanEditor {
  readonly project = input.required({ transform: numberAttribute });
  readonly file = input<string>();

  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly workbench = inject(Workbench);
  private readonly api = inject(Api);
  private readonly planBox = viewChild(PlanText);
  private readonly sayingBox = viewChild<ElementRef<HTMLElement>>('sayingBox');
  private readonly fileBox = viewChild<ElementRef<HTMLElement>>('fileBox');

  protected readonly state = this.store.selectSignal(planFeature.selectPlanState);
  protected readonly preview = signal<Preview | null>(null);
  protected readonly pointed = signal<Pointed | null>(null);
  /** What was pointed at in a script, the innermost first, and which of it is meant. */
  protected readonly inCode = signal<PointedInCode | null>(null);
  protected readonly code = computed(() => {
    const pointed = this.inCode();
    return pointed && itemAt(pointed.all, pointed.around);
  });
  /** What keeps the server from answering about a script. */
  protected readonly codeTrouble = signal<Trouble | null>(null);
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
  protected readonly KINDS: Record<PointedCodeView['is'], string> = {
    argument: 'Given to a call',
    call: 'A call',
    property: 'A property',
    function: 'A function',
    field: 'A field',
  };
  protected readonly isChanged = computed(() => this.state().draft !== this.state().page?.text);
  protected readonly mistakes = computed(() => this.preview()?.mistakes ?? []);
  protected readonly marks = computed(() => {
    const all = this.preview()?.marks ?? [];
    return this.only() ? all.filter((mark) => mark.rule === this.only()) : all;
  });
  protected readonly lines = computed<MarkedLine[]>(() => {
    const text = this.state().file?.text ?? '';
    const here = this.code() ?? this.pointed();
    const marks = here
      ? [{ rule: POINTED, words: 'pointed at', range: placeOf(text, here) }, ...this.marks()]
      : this.marks();
    return markedLines(text, marks).slice(0, MOST_LINES);
  });
  protected readonly isLong = computed(() => this.state().file?.isCut || this.lines().length === MOST_LINES);
  protected readonly pointedLine = computed(() => {
    const here = this.code() ?? this.pointed();
    return here ? placeOf(this.state().file?.text ?? '', here).line : 0;
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
      this.pointedNone();
      this.preview.set(null);
      this.only.set('');
      this.line.set(1);
    });
    effect((onCleanup) => {
      const { draft, file, page } = this.state();
      if (!page || !file) return;
      let isMeant = true;
      const show = (preview: Preview | null | undefined): void => {
        if (isMeant && preview) this.preview.set(preview);
      };
      const timer = setTimeout(
        () => void this.previewOf(draft, file.path, file.text, page.bases).then(show),
        untracked(this.preview) ? PAUSE : 0,
      );
      onCleanup(() => {
        isMeant = false;
        clearTimeout(timer);
      });
    });
  }

  private async previewOf(
    plan: string,
    path: string,
    text: string,
    bases: Record<string, string>,
  ): Promise<Preview | null | undefined> {
    if (this.state().file?.language)
      return this.askServer(this.api.previewCode(this.project(), { plan, bases, file: path }));
    return (await this.workbench.ask({ ask: 'preview', plan, path, text, bases })).preview;
  }

  /** What the server answers about a script; null where it does not, which is told. */
  private async askServer<Told>(asked: Observable<Told>): Promise<Told | null> {
    try {
      const told = await firstValueFrom(asked);
      this.codeTrouble.set(null);
      return told;
    } catch (error) {
      this.codeTrouble.set(troubleOf(error));
      return null;
    }
  }

  private desk(): ScriptDesk {
    const { draft, file, page } = this.state();
    return { plan: draft, bases: page?.bases ?? {}, file: file?.path ?? '' };
  }

  protected search(text: string): void {
    if (this.state().paths.includes(text)) return this.choose(text);
    this.store.dispatch(planActions.findFiles({ project: this.project(), text }));
  }

  protected try(rule?: string): void {
    this.store.dispatch(planActions.try({ project: this.project(), text: this.state().draft, ...(rule && { rule }) }));
  }

  protected choose(file: string): void {
    void this.router.navigate([], { queryParams: { file } });
  }

  protected isEmpty({ pieces }: MarkedLine): boolean {
    return pieces.every(({ text }) => text.trim() === '');
  }
  /** The browser asks before the tab goes: with it the draft would go. */
  protected askBeforeLeaving(event: BeforeUnloadEvent): void {
    if (this.isChanged()) event.preventDefault();
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
    return rule.startsWith('calls: ') ? 'calls' : itemAt(this.short(rule).split(' · '), 0);
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
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const sideways = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step) this.line.update((line) => Math.min(Math.max(1, line + step), this.lines().length));
    else if (sideways) this.pointBeside(sideways);
    else if (event.key === 'Enter' && this.isPointedHere())
      this.sayingBox()?.nativeElement.querySelector('button')?.focus();
    else if (event.key === 'Enter') this.pointInLine();
    else if (event.key === 'o' && this.inCode()) this.outward();
    else if (event.key === 'Escape') this.pointedNone();
    else return;
    event.preventDefault();
    event.stopPropagation();
    this.fileBox()?.nativeElement.querySelector(`[data-line="${this.line()}"]`)?.scrollIntoView({ block: 'nearest' });
  }

  private textOfLine(): string {
    return this.state().file?.text.split(LINE_ENDS)[this.line() - 1] ?? '';
  }

  private isPointedHere(): boolean {
    return this.pointedLine() === this.line();
  }

  private pointInLine(): void {
    const text = this.textOfLine();
    // In a script a text says most; in data the value of a line stands behind its name.
    const found = this.state().file?.language
      ? Math.max(0, text.search(/["'`]/) < 0 ? text.search(/\w/) : text.search(/["'`]/)) + 2
      : (/[:=>]\s*/.exec(text)?.index ?? text.search(/\S/)) + 3;
    void this.point(this.line(), found);
  }

  /** The word before or behind the one that was pointed at last in this line. */
  private pointBeside(step: number): void {
    const starts = [...this.textOfLine().matchAll(/["'`]?[\p{L}\w][\p{L}\w.\-/ ]*["'`]|[\p{L}_]\w*/gu)].map(
      ({ index }) => index + 1,
    );
    const now = this.isPointedHere() ? this.column : 0;
    const next = step > 0 ? starts.find((start) => start > now) : starts.findLast((start) => start < now);
    if (next !== undefined) void this.point(this.line(), next, 1);
  }

  /** Where the last pointing went, 1-based. */
  private column = 0;

  /** @param inside how far inside of a word it is pointed at */
  private async point(line: number, column: number, inside = 0): Promise<void> {
    const { file } = this.state();
    const format = this.preview()?.format;
    if (!file) return;
    this.column = column;
    const offset = offsetOf(file.text, line, column) + inside;
    if (file.language) return this.pointInCode(offset);
    if (!format) return;
    const { pointed } = await this.workbench.ask({ ask: 'point', text: file.text, format, offset });
    this.pointed.set(pointed ?? null);
    this.missed.set(!pointed);
  }

  private async pointInCode(offset: number): Promise<void> {
    const all = await this.askServer(this.api.pointInCode(this.project(), this.desk(), offset));
    if (!all) return;
    this.inCode.set(all.length > 0 ? { offset, all, around: 0, form: 0 } : null);
    this.missed.set(all.length === 0);
  }

  /** What is around the thing that was pointed at. */
  protected outward(): void {
    this.inCode.update((one) => one && { ...one, form: 0, around: (one.around + 1) % one.all.length });
  }

  protected useForm(form: number): void {
    this.inCode.update((one) => one && { ...one, form });
  }

  protected pointedNone(): void {
    this.pointed.set(null);
    this.inCode.set(null);
    this.missed.set(false);
  }

  /** What can be said of a thing in a script, by what the sentences have in common. */
  protected grouped(sayings: readonly CodeSaying[]): { group: string; sayings: CodeSaying[] }[] {
    return [...new Set(sayings.map(({ group }) => group))].map((group) => ({
      group,
      sayings: sayings.filter((one) => one.group === group),
    }));
  }

  /** Writes the rule that says what the value is. */
  protected async say({ id }: Saying): Promise<void> {
    const pointed = this.pointed();
    const { draft, file } = this.state();
    if (!pointed || !file) return;
    const rule = this.preview()?.rule.replace(/^files\./, '') || undefined;
    const { written } = await this.workbench.ask({
      ask: 'say',
      plan: draft,
      path: file.path,
      rule,
      pointed,
      saying: id,
    });
    if (written) this.take(written);
  }

  /** Writes the rule that says what something in a script is. */
  protected async sayInCode({ id: saying }: CodeSaying): Promise<void> {
    const pointed = this.inCode();
    if (!pointed) return;
    const { offset, around, form } = pointed;
    const said = { offset, around, form, saying };
    const written = await this.askServer(this.api.sayInCode(this.project(), this.desk(), said));
    if (written) this.take(written);
  }

  /** Takes the plan with a new rule, shows the rule, and what it finds everywhere. */
  private take({ text, rule }: WrittenRule): void {
    if (rule === '') return;
    this.store.dispatch(planActions.change({ text }));
    this.pointedNone();
    this.try(rule);
    const written = rule.startsWith('calls: ')
      ? JSON.stringify(rule.slice('calls: '.length))
      : `"${rule.split('.').at(-1)}":`;
    setTimeout(() => this.planBox()?.reveal(written));
    this.fileBox()?.nativeElement.focus();
  }

  /** Goes to a mistake in the plan. */
  protected show(line: number | undefined): void {
    if (line) this.planBox()?.show(line);
  }

  protected async save(): Promise<void> {
    const { page, draft } = this.state();
    if (!page) return;
    const { plan } = await this.workbench.ask({ ask: 'format', plan: draft });
    const after = plan ?? draft;
    const data: SavePlanData = { path: page.path, before: page.origin === 'own' ? page.text : '', after };
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
