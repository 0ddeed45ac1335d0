/**
 * A file's text after its changes. It is read again before anybody sees it: a text that cannot be read any more, or
 * that says anything else than it said and was meant to say, is refused.
 */
import { itemAt, must } from '../helpers/at.js';
import { GlueError } from '../model/errors.js';
import type { Plan } from '../reading/plan/plan.js';
import { formatBy, ruleFor } from '../reading/read-structured.js';
import { linesOf } from '../reading/lines.js';
import { compileSelector } from '../reading/selector/select.js';
import type { TreeNode } from '../reading/tree/node.js';
import { formatOf, readTree, type Format } from '../reading/tree/read-tree.js';
import { applyEdits, type Change, type TextEdit } from './change.js';
import { codeSaysWhatIsMeant } from './read-code-again.js';
import { isCode, type Writing } from './encode.js';
import { holderOf, nodeAt, objectAround, type Stretch } from './nodes.js';
import { editsFor } from './write.js';

/** What a file is written in, by the rule of the plan that reads it. */
export function writingOf(plan: Plan, file: string): Writing {
  const found = ruleFor(plan, file);
  if (found?.of === 'scripts') return found.rule.language;
  if (found?.rule.as === 'glue facts') return 'plain';
  return (found ? formatBy(file, found.rule) : formatOf(file)) ?? 'plain';
}

/**
 * @param writing what the file is written in; `plain` is not read, and so not read again
 * @throws GlueError `repair/impossible` when it cannot be done, or when what would be written is not what is meant
 */
export function repairedText(file: string, text: string, writing: Writing, changes: Change[]): string {
  const edits = editsFor(file, text, writing, changes);
  const after = applied(file, text, edits);
  if (writing !== 'plain' && !saysWhatIsMeant(text, after, writing, changes, edits))
    throw new GlueError(
      'repair/impossible',
      `${file}: written there, the change would make the file say something else as well. Make it by hand.`,
    );
  return after;
}

function applied(file: string, text: string, edits: TextEdit[]): string {
  try {
    return applyEdits(text, edits);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new GlueError('repair/impossible', `${file}: two repairs change the same place. Write one, then look again.`);
  }
}

function saysWhatIsMeant(
  before: string,
  after: string,
  writing: Exclude<Writing, 'plain'>,
  changes: Change[],
  edits: TextEdit[],
): boolean {
  if (isCode(writing)) return codeSaysWhatIsMeant(before, after, writing, changes, edits);
  const [old, now] = [readTree(before, writing), readTree(after, writing)];
  if (now.problems.length > old.problems.length || now.documents.length !== old.documents.length) return false;
  const meant = meantBy(old.documents, before, writing, changes);
  return meant.every((one, at) => isSame(one, contentOf(itemAt(now.documents, at), writing)));
}

// What is meant ------------------------------------------------------------------------------------------------------

/** What a node says, wherever it stands. */
interface Content {
  key: string;
  tag: string;
  /** Undefined for objects and lists. A changed value may be any of several: a text may be there more than once. */
  values?: Set<string>;
  kind: TreeNode['kind'];
  children: Content[];
  /** A part of the text is another: a number may have become a word. */
  isRewritten?: true;
  /** Something was taken out of it: when nothing is left, it may be gone itself. */
  isLess?: true;
}

function contentOf(node: TreeNode, format: Format, contents = new Map<TreeNode, Content>()): Content {
  const isBranch = node.kind === 'object' || node.kind === 'list';
  const content: Content = {
    // An attribute gives way to elements of its name: that is the reader's, not the file's.
    key: format === 'xml' ? node.key.replace(/^@/, '') : node.key,
    tag: node.tag,
    kind: node.kind,
    ...(!isBranch && { values: new Set([String(node.value)]) }),
    children: node.children.filter((child) => !child.isCopy).map((child) => contentOf(child, format, contents)),
  };
  contents.set(node, content);
  return content;
}

/** What the trees would say after the changes. */
function meantBy(documents: TreeNode[], text: string, format: Format, changes: Change[]): Content[] {
  const contents = new Map<TreeNode, Content>();
  const meant = documents.map((document) => contentOf(document, format, contents));
  const lines = linesOf(text);
  for (const change of changes) {
    const at: Stretch =
      'range' in change
        ? {
            start: lines.offsetOf(change.range.line, change.range.column),
            end: lines.offsetOf(change.range.endLine, change.range.endColumn),
          }
        : { start: 0, end: 0 };
    apply(change, at, documents, contents, format);
  }
  return meant;
}

function apply(
  change: Change,
  at: Stretch,
  documents: TreeNode[],
  contents: Map<TreeNode, Content>,
  format: Format,
): void {
  const contentAt = (): Content | undefined => {
    const node = nodeAt(documents, at);
    return node && contents.get(node);
  };
  switch (change.is) {
    case 'replace': {
      const holder = holderOf(documents, at);
      const content = holder && contents.get(holder.node);
      if (!content) return;
      if (holder.isName) content.key = content.key.replace(change.from, () => change.to);
      else {
        content.isRewritten = true;
        content.values = new Set([...(content.values ?? [])].flatMap((value) => replacedOnce(value, change)));
      }
      return;
    }
    case 'set': {
      const content = contentAt();
      if (content) Object.assign(content, { kind: 'text', values: new Set([change.to]), children: [] });
      return;
    }
    case 'rename member': {
      const content = contentAt();
      if (content) content.key = change.to;
      return;
    }
    case 'remove':
      return takeOut(nodeAt(documents, at), contents, format);
    case 'add member':
      return addTo(objectAround(documents, at.start, format === 'toml'), change, contents);
    case 'add item': {
      const [list] = documents.flatMap((document) => compileSelector(change.list)(document));
      if (list?.kind === 'list') contents.get(list)?.children.push(textNamed('', change.to));
      else if (list) contents.get(list)?.children.push(textNamed(change.to, ''));
    }
  }
}

/** Every text that comes of writing one text in the place of another once. */
function replacedOnce(value: string, { from, to }: { from: string; to: string }): string[] {
  const results: string[] = [];
  for (let at = value.indexOf(from); at >= 0; at = value.indexOf(from, at + 1))
    results.push(value.slice(0, at) + to + value.slice(at + from.length));
  return results;
}

function takeOut(node: TreeNode | undefined, contents: Map<TreeNode, Content>, format: Format): void {
  const content = node && contents.get(node);
  const parent = node?.parent && contents.get(node.parent);
  if (!content || !parent) return;
  // A cell stays, with nothing in it.
  if (format === 'csv') content.values = new Set(['']);
  else {
    parent.children = parent.children.filter((child) => child !== content);
    parent.isLess = true;
  }
}

function addTo(
  home: TreeNode | undefined,
  { into, key, to }: Change & { is: 'add member' },
  contents: Map<TreeNode, Content>,
): void {
  if (!home) return;
  const [found] = into === '$' ? [home] : compileSelector(into)(home);
  if (found) contents.get(found)?.children.push(textNamed(key, to));
  else
    contents.get(home)?.children.push({
      key: into.replace(/^\$\./, ''),
      tag: '',
      kind: 'object',
      children: [textNamed(key, to)],
    });
}

function textNamed(key: string, value: string): Content {
  return { key, tag: '', kind: 'text', values: new Set([value]), children: [] };
}

// What is there ------------------------------------------------------------------------------------------------------

function isSame(meant: Content, is: Content): boolean {
  if (meant.key !== is.key || meant.tag !== is.tag || (meant.kind !== is.kind && !meant.isRewritten)) return false;
  if (meant.values) return [...(is.values ?? [])].some((value) => must(meant.values).has(value));
  // A list or table from which all was taken out may be gone, or stand there with nothing in it.
  const isEmptied = ({ isLess, children }: Content): boolean => isLess === true && children.length === 0;
  const emptied = new Set(meant.children.filter(isEmptied).map(({ key }) => key));
  const wanted = ordered(
    meant.children.filter((child) => !isEmptied(child)),
    meant,
  );
  const found = ordered(
    is.children.filter((child) => !(emptied.has(child.key) && holdsNothing(child))),
    is,
  );
  return wanted.length === found.length && wanted.every((one, at) => isSame(one, itemAt(found, at)));
}

function holdsNothing({ kind, values, children }: Content): boolean {
  return children.length === 0 && (kind === 'nothing' || values === undefined || values.has(''));
}

/** What stands in a list as it stands there; members by their names, since their order says nothing. */
function ordered(children: Content[], { kind }: Content): Content[] {
  if (kind !== 'object') return children;
  const before = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);
  return children.sort((a, b) => before(a.key, b.key) || before(a.kind, b.kind));
}
