import { knownIn } from '../helpers/at.js';
import type {
  AttachmentFact,
  ConnectionFact,
  EventFact,
  FileFacts,
  LeafFacts,
  OverrideFact,
  PartFact,
  PieceFact,
  ReferenceFact,
  ValueFact,
  Written,
} from './facts.js';
import type { Lines } from './lines.js';
import type {
  AttachmentRule,
  BaseTarget,
  ContentRules,
  FieldTarget,
  FileRule,
  OverrideRule,
  PartRule,
  PieceRule,
  ReferenceRule,
  Source,
} from './plan/plan.js';
import { readRecordValues } from './record-values.js';
import { compileSelector } from './selector/select.js';
import { alignedOffsets } from './tree/align.js';
import { cut, cutAll, findSource, holds, type Cut, type Found } from './source.js';
import { isLeaf, textOf, type TreeNode } from './tree/node.js';

/** Everything under way while one file is read. */
interface Work {
  file: string;
  rule: ContentRules;
  facts: FileFacts;
  lines: Lines;
  /** The text of the whole file, and where letters stand in it that are not written as they are. */
  text: string;
  aligned: Map<TreeNode, Int32Array | undefined>;
  /** Where pieces and parts were found, to tell what a reference stands in. */
  pieces: Map<TreeNode, number>;
  parts: Map<TreeNode, { piece: number; part: number }>;
  values: Set<TreeNode>;
  /** Nodes of overrides that add objects. */
  adding: Map<TreeNode, OverrideFact>;
}

/** Takes facts from the trees of a structured file, rule by rule. */
export function readData(documents: TreeNode[], text: string, facts: FileFacts, rule: FileRule, lines: Lines): void {
  readHead({ file: facts.file, facts, rule, lines }, documents[0]);
  readContent(documents, text, facts, rule, lines);
  if (rule.as === 'data asset') facts.leaves = leavesOf(documents, lines);
}

/**
 * Takes from trees what the rules find in them; what a file says besides stays.
 * @returns the positions of the pieces by the nodes that they were found at
 */
export function readContent(
  documents: TreeNode[],
  text: string,
  facts: FileFacts,
  rule: ContentRules,
  lines: Lines,
): ReadonlyMap<TreeNode, number> {
  const work: Work = {
    file: facts.file,
    rule,
    facts,
    lines,
    text,
    aligned: new Map(),
    pieces: new Map(),
    parts: new Map(),
    values: new Set(),
    adding: new Map(),
  };
  for (const document of documents) {
    readPieces(work, document);
    readReferences(work, document);
    readEvents(work, document);
    readConnections(work, document);
    readAttachments(work, document);
  }
  markCopies(facts.references);
  return work.pieces;
}

/** Longer files are tables, not things of which there is one more with another value. */
const MOST_LEAVES = 120;
/** Longer texts are cut; two that begin alike and are as long differ hardly ever. */
const LONGEST_LEAF = 80;

function leavesOf(documents: readonly TreeNode[], lines: Lines): LeafFacts | undefined {
  const ways: string[] = [];
  const leaves: LeafFacts = { ways: '', texts: [], lines: [] };
  const visit = (node: TreeNode, way: string): void => {
    if (ways.length > MOST_LEAVES) return;
    if (isLeaf(node)) {
      const text = textOf(node);
      ways.push(way);
      leaves.texts.push(text.length > LONGEST_LEAF ? `${text.slice(0, LONGEST_LEAF)}… (${text.length} letters)` : text);
      leaves.lines.push(lines.range(node.start, node.end).line);
      return;
    }
    node.children.forEach((child, at) =>
      visit(child, node.kind === 'list' ? `${way}[${at}]` : way ? `${way}.${child.key}` : child.key),
    );
  };
  documents.forEach((document) => visit(document, ''));
  if (ways.length > MOST_LEAVES || ways.length === 0) return undefined;
  leaves.ways = ways.join('\n');
  return leaves;
}

/** What the file says of itself. */
function readHead(
  { facts, rule, file, lines }: Pick<Work, 'facts' | 'file' | 'lines'> & { rule: FileRule },
  head: TreeNode | undefined,
): void {
  const id = findSource(rule.id, head, file);
  const name = findSource(rule.named, head, file);
  facts.id = id?.text ?? '';
  facts.name = name?.text || facts.name;
  const node = id?.node ?? name?.node;
  if (node) facts.range = lines.range(node.start, node.end);
  if (rule.extends) facts.extends = basesOf(rule.extends, head, file, head, lines);
  if (rule.as !== 'package' || !head) return;
  const needs = rule.needs.flatMap((need) =>
    compileSelector(need.at)(head).flatMap((node) => {
      const found = findSource(need.id, node, file);
      if (!found?.text) return [];
      const version = findSource(need.version, node, file)?.text ?? '';
      const range = rangeOf(found, node, lines);
      return cutAll(found.text, need.pattern, true).map(({ text }) => ({ text, version, range }));
    }),
  );
  facts.package = { version: findSource(rule.version, head, file)?.text ?? '', needs };
}

function rangeOf(found: Found | undefined, fallback: TreeNode, lines: Lines): PieceFact['range'] {
  const { start, end } = found?.node ?? fallback;
  return lines.range(start, end);
}

// Pieces ------------------------------------------------------------------------------------------------------------

function readPieces(work: Work, document: TreeNode): void {
  const found: { node: TreeNode; name: string; rule: PieceRule }[] = [];
  for (const [name, rule] of Object.entries(work.rule.pieces)) {
    for (const node of compileSelector(rule.at)(document))
      if (holds(rule.when, node, work.file, document)) found.push({ node, name, rule });
  }
  found.sort((a, b) => a.node.start - b.node.start || b.node.end - a.node.end);
  for (const { node, name, rule } of found) {
    if (work.pieces.has(node)) continue;
    work.pieces.set(node, work.facts.pieces.length);
    // The piece stands in the list before what it holds is read.
    const piece = readPiece(work, node, name, rule, document);
    work.facts.pieces.push(piece);
    readOverrides(work, node, piece, rule);
  }
}

/** More are not told one by one. */
const MOST_REPEATED = 10_000;

function readPiece(work: Work, node: TreeNode, ruleName: string, rule: PieceRule, document: TreeNode): PieceFact {
  const { file, lines } = work;
  const index = knownIn(work.pieces, node);
  const parent = around(work, node.parent);
  addedBy(work, node.parent)?.adds.push(index);
  const home = nodeAround(work, node.parent) ?? document;
  const find = (source: Source | undefined): Found | undefined => findSource(source, node, file, home);
  const name = find(rule.named);
  const id = find(rule.id);
  const at = name?.node ?? id?.node;
  const parts = rule.parts
    .flatMap((partRule, position) =>
      compileSelector(partRule.at)(node).map((partNode) => ({
        partNode,
        part: readPart(work, partNode, position, partRule),
      })),
    )
    // A part is known by its type or script; what shows neither is something else.
    .filter(({ part }) => part.type || part.script);
  parts.forEach(({ partNode }, part) => work.parts.set(partNode, { piece: index, part }));
  const piece: PieceFact = {
    rule: ruleName,
    kind: rule.kind,
    name: name?.text ?? '',
    id: id?.text ?? '',
    parent: rule.parent === 'nesting' ? parent : -1,
    index: node.position,
    parts: parts.map(({ part }) => part),
    range: at
      ? lines.range(at.start, at.end)
      : lines.range(node.keyStart >= 0 ? node.keyStart : node.start, node.keyEnd >= 0 ? node.keyEnd : node.start + 1),
  };
  if (rule.parent !== 'nesting') {
    const named = find(rule.parent.field)?.text;
    if (named) piece.parentNamed = named;
  }
  if (rule.madeFrom)
    piece.madeFrom = written(find(rule.madeFrom.field), rule.madeFrom.pattern, rule.madeFrom.empty, lines);
  if (rule.extends) piece.extends = basesOf(rule.extends, node, file, home, lines);
  const values = rule.values.flatMap((one) => readRecordValues(one, node, file, lines));
  if (values.length > 0) piece.values = values;
  if (rule.children) piece.children = compileSelector(rule.children.at)(node).filter(isLeaf).map(textOf);
  if (node.isCopy) piece.isCopy = true;
  const times = Math.min(Number(find(rule.repeat?.times)?.text ?? 0), MOST_REPEATED);
  if (rule.repeat && times > 0) {
    const { from, called } = rule.repeat;
    piece.alsoCalled = Array.from({ length: times }, (_, at) =>
      called.replace('{name}', () => piece.name || piece.id).replace('{n}', String(from + at)),
    );
  }
  if (rule.off && holds(rule.off, node, file, home)) piece.isOff = true;
  if (rule.barred && holds(rule.barred, node, file, home)) piece.isBarred = true;
  if (rule.kept && holds(rule.kept, node, file, home)) piece.isKept = true;
  if (rule.labels) {
    piece.labels = compileSelector(rule.labels)(node)
      .filter((label) => isLeaf(label) && label.value !== null && label.value !== '')
      .map((label) => ({ text: textOf(label), range: lines.range(label.start, label.end) }));
  }
  for (const [detail, source] of Object.entries(rule.details)) {
    const text = find(source)?.text;
    if (text) (piece.details ??= {})[detail] = text;
  }
  return piece;
}

function readPart({ file, lines, values }: Work, node: TreeNode, position: number, rule: PartRule): PartFact {
  const type = findSource(rule.type, node, file);
  const script = rule.script && findSource(rule.script.field, node, file);
  const at = script?.node ?? type?.node ?? node;
  return {
    rule: position,
    type: type?.text ?? '',
    script: rule.script && written(script, rule.script.pattern, rule.script.empty, lines),
    values: rule.values ? compileSelector(rule.values)(node).flatMap((found) => readValues(found, values, lines)) : [],
    range: lines.range(at.start, at.end),
  };
}

/** The members of an object that holds saved values. */
function readValues(node: TreeNode, values: Set<TreeNode>, lines: Lines): ValueFact[] {
  values.add(node);
  return node.children.filter((child) => !isMark(child)).map((value) => readValue(value.key, value, lines));
}

/** The tag and the text of an XML element, which are no members that anybody named. */
function isMark({ key, keyStart }: TreeNode): boolean {
  return keyStart < 0 && (key === '#tag' || key === '#text');
}

function readValue(name: string, value: TreeNode, lines: Lines): ValueFact {
  return {
    name,
    text: isLeaf(value) ? textOf(value) : undefined,
    empty: value.kind === 'nothing' || value.value === '',
    range: lines.range(value.start, value.end),
  };
}

function readOverrides(work: Work, node: TreeNode, piece: PieceFact, rule: PieceRule): void {
  rule.overrides.forEach((overrideRule, position) => {
    for (const at of compileSelector(overrideRule.at)(node)) {
      const override = readOverride(work, at, overrideRule, position);
      piece.overrides ??= [];
      // References inside a change count as slots of the part that it changes.
      work.parts.set(at, { piece: knownIn(work.pieces, node), part: piece.parts.length + piece.overrides.length });
      piece.overrides.push(override);
      if (overrideRule.means === 'add') work.adding.set(at, override);
    }
  });
}

function readOverride(work: Work, node: TreeNode, rule: OverrideRule, position: number): OverrideFact {
  const { file, lines } = work;
  const on = findSource(rule.on, node, file);
  const values = rule.values
    ? compileSelector(rule.values)(node).flatMap((found) => readValues(found, work.values, lines))
    : [];
  const field = findSource(rule.field, node, file)?.text;
  const value = field && rule.value ? compileSelector(rule.value)(node)[0] : undefined;
  if (field && value) values.push(readValue(field, value, lines));
  return {
    rule: position,
    on: on?.text ?? '',
    part: findSource(rule.part, node, file)?.text ?? '',
    values,
    adds: [],
    range: rangeOf(on, node, lines),
  };
}

function written(
  found: Found | undefined,
  pattern: string | undefined,
  empty: string[],
  lines: Lines,
): Written | undefined {
  if (!found?.node || empty.includes(found.text)) return undefined;
  const text = cut(found.text, pattern);
  if (!text) return undefined;
  return { text, range: lines.range(found.node.start, found.node.end) };
}

/** What something is derived from, in the order of the text; undefined for nothing. */
function basesOf(
  { field, every, pattern, empty }: BaseTarget,
  node: TreeNode | undefined,
  file: string,
  home: TreeNode | undefined,
  lines: Lines,
): Written[] | undefined {
  const found = every && node && field.select ? compileSelector(field.select)(node) : undefined;
  const texts = found
    ? found.filter(isLeaf).map((one): Found => ({ text: textOf(one), node: one }))
    : [findSource(field, node, file, home)].filter((one) => one !== undefined);
  const bases = texts.flatMap(({ text, node: at }): Written[] => {
    if (!at || empty.includes(text)) return [];
    const cuts = cutAll(cut(text, field.pattern) ?? '', pattern, every).filter((one) => one.text !== '');
    return cuts.map((one) => ({ text: one.text, range: lines.range(at.start, at.end) }));
  });
  return bases.length > 0 ? bases : undefined;
}

/** The innermost piece that a node stands in, or -1. */
function around({ pieces }: Work, node: TreeNode | null): number {
  for (let at = node; at; at = at.parent) {
    const piece = pieces.get(at);
    if (piece !== undefined) return piece;
  }
  return -1;
}

/** The override that adds what stands at a node, if one does. */
function addedBy({ pieces, adding }: Work, node: TreeNode | null): OverrideFact | undefined {
  for (let at = node; at && !pieces.has(at); at = at.parent) {
    const override = adding.get(at);
    if (override) return override;
  }
  return undefined;
}

/** The node of the innermost piece around. */
function nodeAround({ pieces }: Work, node: TreeNode | null): TreeNode | undefined {
  for (let at = node; at; at = at.parent) if (pieces.has(at)) return at;
  return undefined;
}

// References --------------------------------------------------------------------------------------------------------

function readReferences(work: Work, document: TreeNode): void {
  for (const [ruleName, rule] of Object.entries(work.rule.references)) {
    for (const node of compileSelector(rule.at)(document)) {
      if (rule.when) {
        const home = nodeAround(work, node) ?? document;
        if (!holds(rule.when, home, work.file, nodeAround(work, home.parent) ?? document)) continue;
      }
      readReference(work, node, ruleName, rule);
    }
  }
}

function readReference(work: Work, node: TreeNode, ruleName: string, rule: ReferenceRule): void {
  const isKey = rule.written === 'key';
  if (!isKey && !rule.text && (!isLeaf(node) || node.value === null)) return;
  const whole = rule.text ? findSource(rule.text, node, work.file)?.text : isKey ? node.key : textOf(node);
  if (whole === undefined || rule.empty.includes(whole)) return;
  const cuts = cutAll(whole, rule.pattern, rule.every);
  if (cuts.length === 0) return;
  let field = '';
  let part: { piece: number; part: number } | undefined;
  let piece = -1;
  for (let at: TreeNode | null = node; at; at = at.parent) {
    if (at.parent && work.values.has(at.parent)) field = at.key;
    part = work.parts.get(at);
    piece = part?.piece ?? work.pieces.get(at) ?? -1;
    if (piece >= 0) break;
    field ||= at.key;
  }
  const holder = holderOf(work, node.parent, rule.holder);
  for (const one of cuts) {
    if (!one.text) continue;
    const reference: ReferenceFact = {
      rule: ruleName,
      text: one.text,
      piece,
      part: part?.part ?? -1,
      field,
      range: rangeOfCut(work, node, isKey, rule.every && !rule.text, one),
    };
    if (rule.text) reference.isJoined = true;
    if (one.inner) reference.inner = one.inner;
    if (holder !== undefined) reference.holder = holder;
    if (node.isCopy) reference.isCopy = true;
    if (node.isName) reference.isName = true;
    work.facts.references.push(reference);
  }
}

/** What names the script or type that has a function: the nearest such field, from the text outwards. */
function holderOf({ file }: Work, from: TreeNode | null, holder: FieldTarget | undefined): string | undefined {
  for (let at = holder ? from : null; at; at = at.parent) {
    const found = findSource(holder?.field, at, file);
    if (found) return found.text;
  }
  return undefined;
}

/** Where a reference stands: the whole value, or its part when there may be several in one text. */
function rangeOfCut(work: Work, node: TreeNode, isKey: boolean, every: boolean, { text, at }: Cut): Written['range'] {
  const { lines } = work;
  if (isKey && node.keyStart >= 0) return lines.range(node.keyStart, node.keyEnd);
  const { start, end } = node;
  if (!every) return lines.range(start, end);
  const whole = textOf(node);
  // Where the text stands as it is – nothing escaped, at most quoted – a part of it is found by counting.
  const lead = [0, 1].find((one) => end - start === whole.length + 2 * one && work.text.startsWith(whole, start + one));
  if (lead !== undefined) return lines.range(start + lead + at, start + lead + at + text.length);
  const offsets = offsetsIn(work, node);
  if (!offsets) return lines.range(start, end);
  return lines.range(start + (offsets[at] ?? 0), start + (offsets[at + text.length] ?? end - start));
}

/** Where each letter of a text stands that is not written as it is. */
function offsetsIn({ text, aligned }: Work, node: TreeNode): Int32Array | undefined {
  if (!aligned.has(node)) aligned.set(node, alignedOffsets(text.slice(node.start, node.end), textOf(node)));
  return aligned.get(node);
}

/** A copy of what the same rule found at its first place is not to be reported twice. */
function markCopies(references: ReferenceFact[]): void {
  if (!references.some((one) => one.isCopy)) return;
  const key = ({ rule, text, inner }: ReferenceFact): string => `${rule}\n${text}\n${inner ?? ''}`;
  const firsts = new Set(references.filter((one) => !one.isCopy).map(key));
  for (const one of references) if (one.isCopy && !firsts.has(key(one))) delete one.isCopy;
}

// Wires, connections, tables ----------------------------------------------------------------------------------------

const WIRE_ENDS = [
  ['handler', 'handlerAt'],
  ['from', 'fromAt'],
  ['to', 'toAt'],
] as const;

function readEvents(work: Work, document: TreeNode): void {
  const { file, facts, lines } = work;
  for (const [ruleName, rule] of Object.entries(work.rule.events)) {
    for (const node of compileSelector(rule.at)(document)) {
      const home = nodeAround(work, node.parent) ?? document;
      if (!holds(rule.when, node, file, home)) continue;
      const find = (source: Source | undefined): Found | undefined => findSource(source, node, file, home);
      const event = find(rule.event);
      if (!event?.text) continue;
      const fact: EventFact = {
        rule: ruleName,
        event: event.text,
        from: find(rule.from)?.text ?? '',
        to: find(rule.to)?.text ?? '',
        handler: find(rule.handler)?.text ?? '',
        piece: around(work, node),
        range: rangeOf(event, node, lines),
      };
      const order = find(rule.order)?.text;
      if (order) fact.order = order;
      const holder = holderOf(work, node, rule.target?.holder);
      if (holder !== undefined) fact.holder = holder;
      for (const [end, at] of WIRE_ENDS) {
        const written = find(rule[end])?.node;
        if (written) fact[at] = lines.range(written.start, written.end);
      }
      facts.events.push(fact);
    }
  }
}

function readConnections(work: Work, document: TreeNode): void {
  const { file, facts, lines } = work;
  for (const [ruleName, rule] of Object.entries(work.rule.connections)) {
    for (const node of compileSelector(rule.at)(document)) {
      const home = nodeAround(work, node.parent) ?? document;
      if (!holds(rule.when, node, file, home)) continue;
      const find = (source: Source | undefined): Found | undefined => findSource(source, node, file, home);
      const to = find(rule.to);
      if (!to?.text) continue;
      const fact: ConnectionFact = {
        rule: ruleName,
        from: find(rule.from)?.text ?? '',
        to: to.text,
        label: rule.label.flatMap((source) => find(source)?.text || []).join(' → '),
        piece: around(work, node),
        range: rangeOf(to, node, lines),
      };
      facts.connections.push(fact);
    }
  }
}

function readAttachments({ file, facts, rule: { attachments }, lines }: Work, document: TreeNode): void {
  for (const [ruleName, rule] of Object.entries(attachments)) {
    for (const node of compileSelector(rule.at)(document)) {
      const take = ({ field, pattern, empty }: AttachmentRule['script']): Written | undefined =>
        written(findSource(field, node, file), pattern, empty, lines);
      const script = take(rule.script);
      if (!script) continue;
      const fact: AttachmentFact = { rule: ruleName, script };
      if (rule.to) fact.to = take(rule.to);
      facts.attachments.push(fact);
    }
  }
}
