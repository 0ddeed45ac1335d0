import type { EventFact, FileFacts, PartFact, PieceFact, ReferenceFact, ValueFact, Written } from './facts.js';
import type { Lines } from './lines.js';
import type { FileRule, PartRule, PieceRule, ReferenceRule } from './plan/plan.js';
import { compileSelector } from './selector/select.js';
import { cut, findSource } from './source.js';
import { isLeaf, textOf, type TreeNode } from './tree/node.js';

/** Where pieces and parts were found, to tell what a reference stands in. */
interface Places {
  pieces: Map<TreeNode, number>;
  parts: Map<TreeNode, { piece: number; part: number }>;
  values: Set<TreeNode>;
}

/** Takes facts from the trees of a structured file, rule by rule. */
export function readData(documents: TreeNode[], facts: FileFacts, rule: FileRule, lines: Lines): void {
  const places: Places = { pieces: new Map(), parts: new Map(), values: new Set() };
  const [head] = documents;
  const id = findSource(rule.id, head, facts.file);
  const name = findSource(rule.named, head, facts.file);
  facts.id = id?.text ?? '';
  facts.name = name?.text || facts.name;
  const headNode = id?.node ?? name?.node;
  if (headNode) facts.range = lines.range(headNode.start, headNode.end);

  for (const document of documents) {
    const found: { node: TreeNode; name: string; rule: PieceRule }[] = [];
    for (const [ruleName, pieceRule] of Object.entries(rule.pieces)) {
      for (const node of compileSelector(pieceRule.at)(document)) found.push({ node, name: ruleName, rule: pieceRule });
    }
    found.sort((a, b) => a.node.start - b.node.start || b.node.end - a.node.end);
    for (const { node, name: ruleName, rule: pieceRule } of found) {
      if (places.pieces.has(node)) continue;
      places.pieces.set(node, facts.pieces.length);
      facts.pieces.push(readPiece(node, ruleName, pieceRule, facts.file, places, lines));
    }
    for (const [ruleName, referenceRule] of Object.entries(rule.references)) {
      for (const node of compileSelector(referenceRule.at)(document)) {
        const reference = readReference(node, ruleName, referenceRule, places, lines);
        if (reference) facts.references.push(reference);
      }
    }
    facts.events.push(...readEvents(document, facts.file, rule, places, lines));
  }
}

function readPiece(
  node: TreeNode,
  ruleName: string,
  rule: PieceRule,
  file: string,
  places: Places,
  lines: Lines,
): PieceFact {
  const name = findSource(rule.named, node, file);
  const id = findSource(rule.id, node, file);
  const index = places.pieces.get(node)!;
  const at = name?.node ?? id?.node;
  const parts = rule.parts
    .flatMap((partRule, position) =>
      compileSelector(partRule.at)(node).map((partNode) => ({
        partNode,
        part: readPart(partNode, position, partRule, file, places, lines),
      })),
    )
    // A part is known by its type or script; what shows neither is something else.
    .filter(({ part }) => part.type || part.script);
  parts.forEach(({ partNode }, part) => places.parts.set(partNode, { piece: index, part }));
  return {
    rule: ruleName,
    kind: rule.kind,
    name: name?.text ?? '',
    id: id?.text ?? '',
    parent: rule.parent === 'nesting' ? around(node.parent, places) : -1,
    parentNamed: rule.parent === 'nesting' ? undefined : findSource(rule.parent.field, node, file)?.text,
    madeFrom: rule.madeFrom && written(findSource(rule.madeFrom.field, node, file), rule.madeFrom.pattern, lines),
    parts: parts.map(({ part }) => part),
    range: at
      ? lines.range(at.start, at.end)
      : lines.range(node.keyStart >= 0 ? node.keyStart : node.start, node.keyEnd >= 0 ? node.keyEnd : node.start + 1),
  };
}

function readPart(
  node: TreeNode,
  position: number,
  rule: PartRule,
  file: string,
  places: Places,
  lines: Lines,
): PartFact {
  const type = findSource(rule.type, node, file);
  const script = rule.script && findSource(rule.script.field, node, file);
  const at = script?.node ?? type?.node ?? node;
  return {
    rule: position,
    type: type?.text ?? '',
    script: rule.script && written(script, rule.script.pattern, lines),
    values: rule.values ? readValues(node, rule.values, places, lines) : [],
    range: lines.range(at.start, at.end),
  };
}

function readValues(node: TreeNode, selector: string, places: Places, lines: Lines): ValueFact[] {
  return compileSelector(selector)(node).flatMap((values) => {
    places.values.add(values);
    return values.children.map((value) => ({
      name: value.key,
      text: isLeaf(value) ? textOf(value) : undefined,
      empty: value.kind === 'nothing' || value.value === '',
      range: lines.range(value.start, value.end),
    }));
  });
}

function written(
  found: { text: string; node?: TreeNode } | undefined,
  pattern: string | undefined,
  lines: Lines,
): Written | undefined {
  const text = found && cut(found.text, pattern);
  if (!text || !found.node) return undefined;
  return { text, range: lines.range(found.node.start, found.node.end) };
}

/** The innermost piece that a node stands in, or -1. */
function around(node: TreeNode | null, places: Places): number {
  for (let at = node; at; at = at.parent) {
    const piece = places.pieces.get(at);
    if (piece !== undefined) return piece;
  }
  return -1;
}

function readReference(
  node: TreeNode,
  ruleName: string,
  rule: ReferenceRule,
  places: Places,
  lines: Lines,
): ReferenceFact | undefined {
  const isKey = rule.written === 'key';
  if (!isKey && (!isLeaf(node) || node.value === null)) return undefined;
  const whole = isKey ? node.key : textOf(node);
  if (rule.empty.includes(whole)) return undefined;
  const text = cut(whole, rule.pattern);
  if (!text) return undefined;
  let field = '';
  let part: { piece: number; part: number } | undefined;
  for (let at: TreeNode | null = node; at; at = at.parent) {
    if (at.parent && places.values.has(at.parent)) field = at.key;
    part = places.parts.get(at);
    if (part || places.pieces.has(at)) break;
    field ||= at.key;
  }
  return {
    rule: ruleName,
    text,
    piece: part?.piece ?? around(node, places),
    part: part?.part ?? -1,
    field,
    range: isKey && node.keyStart >= 0 ? lines.range(node.keyStart, node.keyEnd) : lines.range(node.start, node.end),
  };
}

function readEvents(document: TreeNode, file: string, rule: FileRule, places: Places, lines: Lines): EventFact[] {
  const facts: EventFact[] = [];
  for (const [ruleName, eventRule] of Object.entries(rule.events)) {
    for (const node of compileSelector(eventRule.at)(document)) {
      const event = findSource(eventRule.event, node, file);
      if (!event?.text) continue;
      const text = (source: typeof eventRule.from): string => findSource(source, node, file)?.text ?? '';
      facts.push({
        rule: ruleName,
        event: event.text,
        from: text(eventRule.from),
        to: text(eventRule.to),
        handler: text(eventRule.handler),
        piece: around(node, places),
        range: event.node ? lines.range(event.node.start, event.node.end) : lines.range(node.start, node.end),
      });
    }
  }
  return facts;
}
