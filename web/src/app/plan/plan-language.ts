/** Plans as the editor colours and folds them: JSON with comments. */
import { foldService, StreamLanguage, type StringStream } from '@codemirror/language';
import type { Extension } from '@codemirror/state';

/** A comment goes on over the end of a line. */
interface Inside {
  isComment: boolean;
}

const language = StreamLanguage.define<Inside>({
  name: 'plan',
  startState: () => ({ isComment: false }),
  token: (stream, inside) => token(stream, inside),
  languageData: { commentTokens: { line: '//' }, closeBrackets: { brackets: ['{', '[', '"'] } },
});

function token(stream: StringStream, inside: Inside): string | null {
  if (inside.isComment || stream.match('/*')) {
    inside.isComment = !stream.match(/^.*?\*\//);
    if (inside.isComment) stream.skipToEnd();
    return 'comment';
  }
  if (stream.eatSpace()) return null;
  if (stream.match('//')) {
    stream.skipToEnd();
    return 'comment';
  }
  if (stream.match(/^"(?:[^"\\]|\\.)*"?/)) return stream.match(/^\s*:/, false) ? 'propertyName' : 'string';
  if (stream.match(/^-?\d[\d.eE+-]*/)) return 'number';
  if (stream.match(/^(?:true|false|null)\b/)) return 'bool';
  stream.next();
  return null;
}

/** What stands further in than a line that opens something is folded away. */
const folding = foldService.of((state, start, end) => {
  if (!/[{[]\s*$/.test(state.sliceDoc(start, end))) return null;
  const { number } = state.doc.lineAt(start);
  const indent = (line: number): number => state.doc.line(line).text.search(/\S/);
  const own = indent(number);
  for (let line = number + 1; line <= state.doc.lines; line++) {
    const at = indent(line);
    if (at >= 0 && at <= own) return { from: end, to: state.doc.line(line).from + at };
  }
  return null;
});

export const planLanguage: Extension = [language, folding];
