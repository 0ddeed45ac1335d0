/** Entries of tables in code that other code names: `Limits.harbour`. */
import { itemAt, must } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import type { FileFacts, NamedTable, TableUse } from '../../reading/facts.js';
import { LANGUAGE } from '../../reading/scripts/languages.js';
import { anyEntryOf, RETURNED } from '../../reading/scripts/tables.js';
import { importedFile, takenIn } from '../link-imports.js';
import { findMember } from '../members.js';
import { emptyLoss, isEngines } from '../losses.js';
import { addLost, type Work } from '../work.js';
import { isRead } from '../world/unread.js';
import type { World } from '../world/world.js';
import { typePiece } from './operations.js';

/** A link to the entry that is used; where the table surely has none of this name, it is lost. */
export function linkTableUse(work: Work, fact: FileFacts, source: number, use: TableUse): void {
  const { world } = work;
  const { of, member, how, range, type } = use;
  const home = tablesNamed(world, fact, source, of);
  if (!home) return;
  const from = typePiece(world, source, type);
  const table = itemAt(world.files.piece, home.source);
  const entry = home.tables.flatMap(({ members }) => members).find(({ name }) => name === member);
  if (entry) {
    const to = entry.piece >= 0 ? itemAt(itemAt(world.trees.pieceOf, home.source), entry.piece) : table;
    const label = entry.piece >= 0 ? of : `${of}.${member}`;
    if (to !== from) world.builder.addLink({ from, to, verb: how, grip: 'name', label, file: fact.file, range });
    return;
  }
  if (use.isAsked || !home.tables.every(({ isWhole }) => isWhole) || !isRead(world, home.source)) return;
  const { name } = itemAt(home.tables, 0);
  const { language } = must(fact.script);
  const { setElsewhere } = world.code;
  if (setElsewhere.has(member) || setElsewhere.has(anyEntryOf(of)) || setElsewhere.has(anyEntryOf(name))) return;
  if (LANGUAGE[language].membersOfEvery.test(member)) return;
  if (isEngines(world.plan.engine.members, member)) return;
  // Functions may be added to a table of that name elsewhere; one that is a type as well has that type's members.
  if (world.code.functionNames.has(member)) return;
  if ((world.types.inFile.get(home.source) ?? []).some((one) => findMember(one, member))) return;
  work.linked.faults.push({
    is: 'missing member',
    part: -1,
    foundIn: fact.file,
    file: fact.file,
    range,
    from,
    type: table,
    typeName: name === RETURNED ? of : name,
    member,
    how,
    isOwn: false,
    of: 'table',
    isHidden: false,
    unlessMentioned: false,
    prefab: -1,
    members: home.tables.flatMap(({ members }) => members.map(({ name }) => name)),
  });
  addLost(
    work,
    { from, verb: how, file: fact.file, field: '', range },
    { ...emptyLoss('member', member), lastObject: table },
  );
}

interface Home {
  source: number;
  tables: NamedTable[];
}

/** Files by the names of tables in them. */
const homes = once(({ facts }: World): Map<string, Set<number>> => {
  const byName = new Map<string, Set<number>>();
  facts.forEach(({ script }, source) => {
    for (const { name } of script?.namedTables ?? []) byName.set(name, (byName.get(name) ?? new Set()).add(source));
  });
  return byName;
});

/**
 * The tables that a name means in a file: those that it takes from another file, its own, those of files it takes in,
 * or the only ones of the project.
 */
function tablesNamed(world: World, { script }: FileFacts, source: number, of: string): Home | undefined {
  const [first = '', ...rest] = of.split('.');
  const taken = script?.imports.find(({ names }) => names.some(({ as }) => as === first));
  const inFile = (at: number, name: string): Home | undefined => {
    const tables = itemAt(world.facts, at).script?.namedTables.filter((one) => one.name === name) ?? [];
    return tables.length > 0 ? { source: at, tables } : undefined;
  };
  if (taken && script) {
    const at = importedFile(world, source, taken.from);
    const { name = '' } = taken.names.find(({ as }) => as === first) ?? {};
    const meant = (name === '*' ? rest : [name, ...rest]).join('.') || RETURNED;
    return at === undefined ? undefined : inFile(at, meant);
  }
  const own = inFile(source, of);
  if (own) return own;
  const known = homes(world).get(of);
  if (!known) return undefined;
  const sources = [...takenIn(world, source).files.filter((at) => known.has(at)), ...(known.size === 1 ? known : [])];
  const [at] = new Set(sources);
  return at === undefined ? undefined : inFile(at, of);
}
