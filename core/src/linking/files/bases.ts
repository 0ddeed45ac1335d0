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
    if (runsHere && isBarred(world, part.object) && cellAt(world.builder.graph.pieces.origin, part.piece) < 0) {
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
    const isOwn = cellAt(world.builder.graph.pieces.origin, part.piece) < 0;
    // A type that is named beside the script is found by its name; the script may be lost all the same.
    const isLost =
      isOwn &&
      part.type !== undefined &&
      part.fact.script !== undefined &&
      part.fact.type !== '' &&
      !isFoundScript(work, part);
    if (part.type) {
      const grip: Grip = part.fact.script ? 'path' : 'name';
      world.builder.addLink({
        from: part.piece,
        to: part.type.piece,
        verb: 'runs',
        grip,
        file,
        range: part.fact.range,
      });
    }
    if (part.fact.script && isOwn && (isLost || !part.type)) {
      const piece = itemAt(itemAt(world.facts, part.source).pieces, part.pieceFact);
      const form = contentAt(world, part.source).pieces[piece.rule]?.parts[part.fact.rule]?.script;
      const { text } = part.fact.script;
      const target: Target = form
        ? findTarget(world, form, { text, piece: part.pieceFact }, part.source)
        : { state: 'lost', loss: emptyLoss('file', text) };
      if (target.state === 'lost')
        lose(work, { from: part.piece, verb: 'runs', file, field: '', form, ...part.fact.script }, target.loss);
      else if (target.state === 'found') {
        world.builder.addLink({
          from: part.piece,
          to: itemAt(target.pieces, 0),
          verb: 'runs',
          grip: target.grip,
          file,
          range: part.fact.script.range,
        });
      }
    }
  }
}

/** Whether the script that a part names is the one it runs. */
function isFoundScript({ world }: Work, part: WorldPart): boolean {
  const piece = itemAt(world.facts, part.source).pieces[part.pieceFact];
  const form = piece && contentAt(world, part.source).pieces[piece.rule]?.parts[part.fact.rule]?.script;
  if (!form || !part.fact.script) return true;
  return findTarget(world, form, { text: part.fact.script.text, piece: part.pieceFact }, part.source).state !== 'lost';
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
