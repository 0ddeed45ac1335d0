/** What pieces of files are made from, carry and change. */
import { cellAt, entryOf, itemAt, must, knownIn } from '../../helpers/at.js';
import type { Grip } from '../../model/link.js';
import type { Written } from '../../reading/facts.js';
import type { FieldTarget } from '../../reading/plan/plan.js';
import { isBarred } from '../slots.js';
import { emptyLoss } from '../losses.js';
import { findTarget, type Target } from '../targets.js';
import { lose, type Work } from '../work.js';
import { placeKey } from '../world/overrides.js';
import { contentAt, fileRuleOf, type WorldPart } from '../world/world.js';

/** Objects made from prefabs. */
export function linkInstances(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  for (const { object, prefab, pieceFact } of world.prefabs.madeFrom.get(source) ?? []) {
    const { madeFrom } = itemAt(itemAt(world.facts, source).pieces, pieceFact);
    const form = must(
      entryOf(contentAt(world, source).pieces, itemAt(itemAt(world.facts, source).pieces, pieceFact).rule).madeFrom,
    );
    world.builder.addLink({
      from: object,
      to: itemAt(world.files.piece, prefab),
      verb: 'made from',
      grip: form.by === 'id' ? 'fixed' : form.by === 'name' ? 'name' : 'path',
      file: itemAt(world.facts, source).file,
      range: must(madeFrom).range,
    });
  }
  fact.pieces.forEach((piece, at) => {
    if (!piece.madeFrom || !world.trees.incomplete.has(itemAt(itemAt(world.trees.pieceOf, source), at))) return;
    const form = must(entryOf(contentAt(world, source).pieces, piece.rule).madeFrom);
    const target = findTarget(world, form, { text: piece.madeFrom.text, piece: at }, source);
    if (target.state === 'lost') {
      lose(
        work,
        {
          from: itemAt(itemAt(world.trees.pieceOf, source), at),
          verb: 'made from',
          file: fact.file,
          field: '',
          form,
          ...piece.madeFrom,
        },
        target.loss,
      );
    }
  });
}

/** Which script each part runs. */
export function linkAttachments(work: Work, parts: Iterable<WorldPart>): void {
  const { world } = work;
  for (const part of parts) {
    const { file } = itemAt(world.facts, part.source);
    const runsHere = part.type !== undefined || part.graph !== undefined;
    const isOwn = cellAt(world.builder.graph.pieces.origin, part.piece) < 0;
    if (runsHere && isOwn && isBarred(world, part.object)) {
      const place = { part: -1, foundIn: file, file, range: part.fact.range };
      work.linked.faults.push({
        is: 'barred',
        from: part.object,
        target: part.object,
        how: 'part',
        label: '',
        ...place,
      });
    }
    // A type that is named beside the script is found by its name; the script may be lost all the same.
    const { script } = part.fact;
    const target = script && isOwn && (!part.type || part.fact.type !== '') ? scriptOf(work, part, script) : undefined;
    if (script && target?.state === 'lost') {
      const form = scriptForm(work, part);
      lose(work, { from: part.piece, verb: 'runs', file, field: '', form, ...script }, target.loss);
    }
    if (part.type) {
      const grip: Grip = script && target?.state !== 'lost' ? 'path' : 'name';
      const to = part.type.piece;
      world.builder.addLink({ from: part.piece, to, verb: 'runs', grip, file, range: part.fact.range });
    } else if (script && target?.state === 'found') {
      const [to = -1] = target.pieces;
      world.builder.addLink({ from: part.piece, to, verb: 'runs', grip: target.grip, file, range: script.range });
    }
  }
}

/** How the script of a part is named; nothing says so where glue facts give its path. */
function scriptForm({ world }: Work, part: WorldPart): FieldTarget | undefined {
  const piece = itemAt(world.facts, part.source).pieces[part.pieceFact];
  return piece && contentAt(world, part.source).pieces[piece.rule]?.parts[part.fact.rule]?.script;
}

/** What the text that names a part's script leads to. */
function scriptOf(work: Work, part: WorldPart, { text }: Written): Target {
  const form = scriptForm(work, part);
  if (form) return findTarget(work.world, form, { text, piece: part.pieceFact }, part.source);
  return part.type ? { state: 'unknown' } : { state: 'lost', loss: emptyLoss('file', text) };
}

/** What files and pieces are derived from. */
export function linkBases(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  const { file } = fact;
  const link = (from: number, form: FieldTarget, { text, range }: Written, piece: number): void => {
    const target = findTarget(world, form, { text, piece }, source);
    if (target.state === 'lost') lose(work, { from, verb: 'extends', file, field: '', range, form }, target.loss);
    if (target.state !== 'found') return;
    // What only it is called, it descends from itself; of several of one name another one is meant.
    const isAlone = target.pieces.length === 1 && (world.names.byId.get(text)?.length ?? 0) <= 1;
    for (const to of target.pieces)
      if (to !== from || isAlone) world.builder.addLink({ from, to, verb: 'extends', grip: target.grip, file, range });
  };
  for (const base of fact.extends ?? [])
    link(itemAt(world.files.piece, source), must(fileRuleOf(world, source).extends), base, -1);
  fact.pieces.forEach((piece, at) => {
    const form = contentAt(world, source).pieces[piece.rule]?.extends;
    for (const base of piece.extends ?? []) link(itemAt(itemAt(world.trees.pieceOf, source), at), must(form), base, at);
  });
}

/** Changes that instances make to what their prefab holds. */
export function linkOverrides(work: Work, source: number): void {
  const { world } = work;
  const { file, pieces } = itemAt(world.facts, source);
  pieces.forEach((piece, at) =>
    piece.overrides?.forEach(({ range }, index) => {
      const part = world.prefabs.changedPart.get(placeKey(source, at, piece.parts.length + index));
      const from = itemAt(itemAt(world.trees.pieceOf, source), at);
      if (part) world.builder.addLink({ from, to: part.piece, verb: 'overrides', grip: 'path', file, range });
    }),
  );
  for (const { object, pieceFact, override } of world.prefabs.lostOverrides.get(source) ?? []) {
    const { on, part, range } = itemAt(must(itemAt(pieces, pieceFact).overrides), override);
    const wanted = part ? (on ? `${on}: ${part}` : part) : on;
    const loss = emptyLoss(part ? 'part' : 'object', wanted);
    lose(work, { from: object, verb: 'overrides', file, field: '', range }, loss);
  }
}

/** Labels that pieces carry. */
export function linkLabels(work: Work, source: number): void {
  const { world } = work;
  const { file, pieces } = itemAt(world.facts, source);
  pieces.forEach((piece, at) => {
    for (const { text, range } of piece.labels ?? []) {
      world.builder.addLink({
        from: itemAt(itemAt(world.trees.pieceOf, source), at),
        to: knownIn(world.labels.piece, text),
        verb: 'labelled',
        grip: 'name',
        file,
        range,
      });
    }
  });
}
