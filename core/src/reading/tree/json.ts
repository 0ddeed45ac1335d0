import { printParseErrorCode, visit } from 'jsonc-parser';
import { adopt, branch, leaf, type ReadProblem, type Tree, type TreeNode } from './node.js';

/** Reads JSON, comments and trailing commas allowed. Faulty text still yields what could be read. */
export function readJson(text: string): Tree {
  const problems: ReadProblem[] = [];
  const open: TreeNode[] = [];
  let root: TreeNode | undefined;
  let unclosed = -1;
  let key: { name: string; start: number; end: number } | undefined;

  const place = (child: TreeNode): void => {
    const parent = open[open.length - 1];
    if (!parent) root ??= child;
    else if (parent.kind === 'object') {
      if (key) adopt(parent, child, key.name, key.start, key.end);
    } else adopt(parent, child);
    key = undefined;
  };
  const begin = (kind: 'object' | 'list', start: number): void => {
    const child = branch(kind, start, text.length);
    place(child);
    open.push(child);
  };
  const end = (offset: number, length: number): void => {
    const closed = open.pop();
    if (closed) closed.end = offset + length;
  };

  visit(
    text,
    {
      onObjectBegin: (offset) => begin('object', offset),
      onArrayBegin: (offset) => begin('list', offset),
      onObjectEnd: end,
      onArrayEnd: end,
      onObjectProperty: (name, offset, length) => {
        key = { name, start: offset, end: offset + length };
      },
      onLiteralValue: (value: string | number | boolean | null, offset, length) => {
        // What a text holds that is not closed is no value.
        if (offset === unclosed) return;
        const kind =
          value === null
            ? 'nothing'
            : typeof value === 'string'
              ? 'text'
              : typeof value === 'number'
                ? 'number'
                : 'boolean';
        place(leaf(kind, value, offset, offset + length));
      },
      onError: (code, offset, length) => {
        const fault = printParseErrorCode(code);
        if (fault === 'UnexpectedEndOfString') unclosed = offset;
        problems.push({ message: inWords(fault), start: offset, end: offset + length });
      },
    },
    { allowTrailingComma: true, disallowComments: false },
  );
  return { documents: root ? [root] : [], problems };
}

/** `CommaExpected` → `comma expected`. */
function inWords(code: string): string {
  return code.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();
}
