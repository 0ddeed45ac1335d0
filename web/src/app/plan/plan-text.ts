import type { ElementRef } from '@angular/core';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { autocompletion, snippet, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, redo, undo } from '@codemirror/commands';
import { bracketMatching, foldGutter, HighlightStyle, indentUnit, syntaxHighlighting } from '@codemirror/language';
import { setDiagnostics, type Diagnostic } from '@codemirror/lint';
import { highlightSelectionMatches, searchKeymap } from '@codemirror/search';
import { EditorState, type Text } from '@codemirror/state';
import { drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import type { Preview } from '@glue-trace/core/browser';
import type { Offers } from './plan-help';
import { planLanguage } from './plan-language';
import { Workbench } from './workbench';

type Mistake = Preview['mistakes'][number];

/** The cursor rests this long before what stands there is explained, in milliseconds. */
const PAUSE = 120;

const COLOURS = HighlightStyle.define([
  { tag: tags.propertyName, color: 'var(--ink)', fontWeight: '600' },
  { tag: tags.string, color: 'var(--moss)' },
  { tag: [tags.number, tags.bool, tags.null], color: 'var(--ochre)' },
  { tag: tags.comment, color: 'var(--ink2)', fontStyle: 'italic' },
]);

/** The text of a plan, with what can be written offered and what stands there explained. */
@Component({
  selector: 'glue-plan-text',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<div #host class="host"></div>
    <p class="meaning" aria-live="polite">
      {{
        meaning() || 'Ctrl+Space offers what can be written here; what stands at the cursor is explained in this line.'
      }}
    </p>`,
  styleUrl: './plan-text.scss',
})
export class PlanText {
  readonly text = input.required<string>();
  readonly mistakes = input<readonly Mistake[]>([]);
  readonly typed = output<string>();

  private readonly workbench = inject(Workbench);
  private readonly host = viewChild.required<ElementRef<HTMLElement>>('host');
  private readonly view = signal<EditorView | null>(null);
  protected readonly meaning = signal('');
  private resting: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    afterNextRender(() => this.view.set(this.open()));
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.resting);
      this.view()?.destroy();
    });
    // What was changed elsewhere: a rule that was said, a change taken back.
    effect(() => {
      const view = this.view();
      const text = this.text().replace(/\r\n?/g, '\n');
      if (view && view.state.doc.toString() !== text) view.dispatch({ changes: changeTo(view.state.doc, text) });
    });
    effect(() => {
      const view = this.view();
      const mistakes = this.mistakes();
      if (view)
        view.dispatch(
          setDiagnostics(
            view.state,
            mistakes.flatMap((one) => shownIn(view.state.doc, one)),
          ),
        );
    });
  }

  /** Goes to a line, 1-based. */
  show(line: number): void {
    const view = this.view();
    if (!view) return;
    const { from, to } = view.state.doc.line(Math.min(Math.max(1, line), view.state.doc.lines));
    view.dispatch({ selection: { anchor: from, head: to }, effects: EditorView.scrollIntoView(from, { y: 'center' }) });
    view.focus();
  }

  /** Shows where a text stands, without going there. */
  reveal(text: string): void {
    const view = this.view();
    const at = view?.state.doc.toString().indexOf(text) ?? -1;
    if (view && at >= 0) view.dispatch({ effects: EditorView.scrollIntoView(at, { y: 'center' }) });
  }

  private open(): EditorView {
    return new EditorView({
      parent: this.host().nativeElement,
      state: EditorState.create({
        doc: untracked(this.text),
        extensions: [
          lineNumbers(),
          foldGutter(),
          history(),
          drawSelection(),
          bracketMatching(),
          highlightSelectionMatches(),
          indentUnit.of('  '),
          planLanguage,
          syntaxHighlighting(COLOURS),
          autocompletion({ override: [(context) => this.offer(context)], icons: false }),
          keymap.of([
            { key: 'Mod-z', run: undo },
            { key: 'Mod-y', run: redo },
            ...searchKeymap,
            ...defaultKeymap,
            ...historyKeymap,
          ]),
          EditorView.contentAttributes.of({ 'aria-label': 'The plan', spellcheck: 'false', tabindex: '0' }),
          EditorView.updateListener.of(({ docChanged, selectionSet, state, view }) => {
            const text = state.doc.toString();
            if (docChanged && text !== this.text().replace(/\r\n?/g, '\n')) this.typed.emit(this.asInFile(text));
            if ((docChanged || selectionSet) && view.hasFocus) this.explain(text, state.selection.main.head);
          }),
        ],
      }),
    });
  }

  /** Lines end as they do in the file. */
  private asInFile(text: string): string {
    return this.text().includes('\r\n') ? text.replaceAll('\n', '\r\n') : text;
  }

  private explain(plan: string, offset: number): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(
      () =>
        void this.workbench
          .ask({ ask: 'meaning', plan, offset })
          .then(({ meaning }) => this.meaning.set(meaning ?? '')),
      PAUSE,
    );
  }

  private async offer(context: CompletionContext): Promise<CompletionResult | null> {
    const before = context.matchBefore(/["\w$-]+/);
    if (!context.explicit && !before) return null;
    const plan = context.state.doc.toString();
    const { offers } = await this.workbench.ask({ ask: 'offers', plan, offset: context.pos });
    return offers ? resultOf(offers) : null;
  }
}

function resultOf({ from, offers }: Offers): CompletionResult | null {
  if (offers.length === 0) return null;
  return {
    from,
    // The signs around a key are part of what is written.
    filter: true,
    options: offers.map(({ label, means, text, isKey }) => ({
      label: isKey ? `"${label}"` : label,
      displayLabel: label,
      ...(means && { info: means }),
      apply: snippet(text),
      boost: isKey ? 1 : 0,
    })),
  };
}

/** The smallest change that makes one text of another: the cursor stays where it is. */
function changeTo(now: Text, text: string): { from: number; to: number; insert: string } {
  const before = now.toString();
  let from = 0;
  while (from < before.length && from < text.length && before[from] === text[from]) from++;
  let [to, end] = [before.length, text.length];
  while (to > from && end > from && before[to - 1] === text[end - 1]) [to, end] = [to - 1, end - 1];
  return { from, to, insert: text.slice(from, end) };
}

function shownIn(doc: Text, { line, column, key, message, file }: Mistake): Diagnostic[] {
  if (!line || file || line > doc.lines) return [];
  const at = doc.line(line);
  const from = Math.min(at.from + Math.max(0, (column ?? 1) - 1), at.to);
  return [{ from, to: Math.max(from, at.to), severity: 'error', message: `${key} ${message}`.trim() }];
}
