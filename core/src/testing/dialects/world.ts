/** A made-up game, before it is written down in any dialect: records, objects in trees, scripts, events. */
import type { Chance } from './chance.js';

export interface Entry {
  id: string;
  name: string;
  /** Values that name nothing: numbers, words of an enumeration, prose. */
  plain: Record<string, string | number>;
  /** Identities of other records, by field. */
  refs: Record<string, string[]>;
  picture: string | undefined;
}

/** Records of one sort. */
export interface Table {
  name: string;
  entries: Entry[];
  /** Field of a reference → table that it names. */
  fields: { name: string; to: string; many: boolean; counted: boolean }[];
  /** Under which a picture is named; empty where there is none. */
  picture: string;
  /** The field of an enumeration. */
  choice: string;
}

export interface Thing {
  id: string;
  name: string;
  parts: { type: string; slots: Record<string, { to: 'thing' | 'record' | 'file' | 'value'; text: string }> }[];
  labels: string[];
  prefab: string | undefined;
  children: Thing[];
}

export interface Place {
  id: string;
  name: string;
  things: Thing[];
  wires: { event: string; from: string; to: string; handler: string }[];
}

export interface ScriptType {
  name: string;
  parent: string | undefined;
  slots: { name: string; to: 'thing' | 'record' | 'file' | 'value' }[];
  sends: string[];
  hears: { event: string; handler: string }[];
  finds: string[];
  children: string[];
  beside: string[];
  parts: { child: string; type: string; calls: string }[];
  spawns: string[];
  loads: string[];
  records: { table: string; id: string }[];
  labels: string[];
  functions: string[];
}

export interface World {
  tables: Table[];
  prefabs: Place[];
  scenes: Place[];
  types: ScriptType[];
  pictures: string[];
  labels: string[];
  events: string[];
}

const ADJECTIVES =
  'old tarred upper lower north south east west little long broad dark stone iron wooden copper wet dry narrow deep early late grey red blue white green quiet loud heavy light first second third spare broken mossy salted painted oiled rusty'.split(
    ' ',
  );
const NOUNS =
  'gate lock barge punt ferry rope cleat mooring lantern bell winch crane paddle sluice weir basin wharf quay mill wheel cradle chain hook lamp buoy post sign gauge tide toll hatch tiller helm hull deck mast oar net crate sack barrel coal grain clay slate timber keeper pilot lad clerk warden'.split(
    ' ',
  );
const SORTS = [
  'boats',
  'cargo',
  'crew',
  'tolls',
  'tides',
  'ropes',
  'signs',
  'berths',
  'orders',
  'lamps',
  'songs',
  'stores',
];
const VERBS = [
  'opened',
  'closed',
  'raised',
  'lowered',
  'rung',
  'lit',
  'moored',
  'loaded',
  'paid',
  'flooded',
  'drained',
  'turned',
];

const capital = (word: string): string => word.slice(0, 1).toUpperCase() + word.slice(1);

/** Names that come once only. */
export class Names {
  private readonly taken = new Set<string>();

  constructor(private readonly chance: Chance) {}

  words(): [string, string] {
    for (let round = 0; ; round++) {
      const words: [string, string] = [this.chance.one(ADJECTIVES), this.chance.one(NOUNS)];
      const key = words.join(' ');
      if (!this.taken.has(key) || round > 200) {
        this.taken.add(key);
        return round > 200 ? [words[0], `${words[1]}${this.taken.size + round}`] : words;
      }
    }
  }
}

export function worldOf(chance: Chance, size: number): World {
  const names = new Names(chance);
  const tables = makeTables(chance, names, size);
  const pictures = Array.from({ length: 6 + size * 3 }, () => names.words().join('_'));
  for (const table of tables)
    if (table.picture) for (const entry of table.entries) if (chance.is(0.9)) entry.picture = chance.one(pictures);
  const labels = chance.some(['floating', 'moored', 'hidden-below', 'night-lit', 'cargo-bay', 'keepers-own'], 4);
  const events = Array.from({ length: 8 + size * 2 }, () => {
    const [, noun] = names.words();
    return `${noun}.${chance.one(VERBS)}`;
  }).filter((event, at, all) => all.indexOf(event) === at);
  const types = makeTypes(chance, names, size, events, tables, labels);
  const thing = makeThings(chance, names, types, tables, pictures, labels);
  const prefabs = Array.from({ length: 3 + size }, (): Place => {
    const [adjective, noun] = names.words();
    const root = thing(2, []);
    return {
      id: `${adjective}-${noun}`,
      name: `${capital(adjective)} ${noun}`,
      things: [{ ...root, name: `${capital(adjective)} ${noun}`, prefab: undefined }],
      wires: [],
    };
  });
  const scenes = Array.from({ length: 3 + size }, (): Place => {
    const [adjective, noun] = names.words();
    const things = Array.from({ length: chance.whole(3, 5 + size) }, () =>
      thing(
        3,
        prefabs.map(({ id }) => id),
      ),
    );
    return { id: `${adjective}-${noun}-reach`, name: `${capital(adjective)} ${noun} reach`, things, wires: [] };
  });
  for (const scene of scenes) fillScene(chance, scene, types, events);
  fillScripts(chance, types, scenes, prefabs, tables, events);
  return { tables, prefabs, scenes, types, pictures, labels, events };
}

function makeTables(chance: Chance, names: Names, size: number): Table[] {
  const sorts = chance.some(SORTS, chance.whole(3, 5));
  const tables = sorts.map((name): Table => {
    const count = chance.whole(5, 8 + size * 6);
    const entries = Array.from({ length: count }, (): Entry => {
      const [adjective, noun] = names.words();
      return {
        id: `${adjective}-${noun}`,
        name: `${capital(adjective)} ${noun}`,
        plain: {
          weight: chance.whole(1, 60),
          class: chance.one(['plain', 'fine', 'rough', 'royal']),
          about: `The ${noun} of the ${chance.one(ADJECTIVES)} ${chance.one(NOUNS)}, which ${chance.one(['keeps', 'holds', 'sinks', 'rings'])} well.`,
        },
        refs: {},
        picture: undefined,
      };
    });
    return {
      name,
      entries,
      fields: [],
      picture: chance.is(0.5) ? chance.one(['picture', 'icon', 'drawing']) : '',
      choice: 'class',
    };
  });
  for (const [at, table] of tables.entries()) {
    const others = chance.some(
      tables.filter((one) => one !== table || chance.is(0.25)),
      chance.whole(at === 0 ? 1 : 0, 2),
    );
    for (const other of others) {
      const many = chance.is(0.4);
      const counted = !many && chance.is(0.2);
      const own = other === table;
      const name = own
        ? chance.one(['like', 'after', 'next'])
        : chance.is(0.6)
          ? many
            ? other.name
            : other.name.replace(/s$/, '')
          : chance.one(['needs', 'uses', 'takes', 'wants', 'with', 'asks']);
      if (table.fields.some((field) => field.name === name)) continue;
      table.fields.push({ name, to: other.name, many: many || counted, counted });
      for (const entry of table.entries) {
        if (chance.is(0.12)) continue;
        const count = many || counted ? chance.whole(1, 3) : 1;
        const ids = chance
          .some(
            other.entries.filter((one) => one !== entry),
            count,
          )
          .map(({ id }) => id);
        if (ids.length > 0) entry.refs[name] = ids;
      }
    }
  }
  return tables;
}

function makeTypes(
  chance: Chance,
  names: Names,
  size: number,
  events: string[],
  tables: Table[],
  labels: string[],
): ScriptType[] {
  void events;
  void tables;
  void labels;
  const types = Array.from({ length: 6 + size * 3 }, (): ScriptType => {
    const [adjective, noun] = names.words();
    return {
      name: capital(adjective) + capital(noun),
      parent: undefined,
      slots: chance.some(
        [
          { name: 'target', to: 'thing' as const },
          { name: 'partner', to: 'thing' as const },
          { name: 'stock', to: 'record' as const },
          { name: 'sketch', to: 'file' as const },
          { name: 'speed', to: 'value' as const },
          { name: 'depth', to: 'value' as const },
        ],
        chance.whole(0, 3),
      ),
      sends: [],
      hears: [],
      finds: [],
      children: [],
      beside: [],
      parts: [],
      spawns: [],
      loads: [],
      records: [],
      labels: [],
      functions: ['settle', ...chance.some(['haul', 'slacken', 'polish', 'count', 'tend'], 2)],
    };
  });
  for (const type of types.slice(3)) if (chance.is(0.15)) type.parent = types[chance.whole(0, 2)]?.name;
  return types;
}

type Make = (depth: number, prefabs: readonly string[]) => Thing;

function makeThings(
  chance: Chance,
  names: Names,
  types: ScriptType[],
  tables: Table[],
  pictures: string[],
  labels: string[],
): Make {
  let count = 0;
  const make: Make = (depth, prefabs) => {
    const [adjective, noun] = names.words();
    const name = `${capital(adjective)} ${capital(noun)}`;
    count++;
    const isInstance = prefabs.length > 0 && chance.is(0.3);
    return {
      id: `${noun}-${count}`,
      name,
      parts: chance.is(0.65)
        ? chance.some(types, chance.is(0.2) ? 2 : 1).map((type) => ({
            type: type.name,
            slots: Object.fromEntries(
              type.slots.map(({ name: slot, to }) => [
                slot,
                {
                  to,
                  text:
                    to === 'record'
                      ? chance.one(chance.one(tables.slice(0, 1)).entries).id
                      : to === 'file'
                        ? chance.one(pictures)
                        : to === 'value'
                          ? String(chance.whole(1, 90))
                          : '',
                },
              ]),
            ),
          }))
        : [],
      labels: chance.is(0.2) ? chance.some(labels, 1) : [],
      prefab: isInstance ? chance.one(prefabs) : undefined,
      children:
        depth > 0 && !isInstance ? Array.from({ length: chance.whole(0, 3) }, () => make(depth - 1, prefabs)) : [],
    };
  };
  return make;
}

function* thingsIn(things: readonly Thing[], parent?: Thing): Generator<{ thing: Thing; parent: Thing | undefined }> {
  for (const thing of things) {
    yield { thing, parent };
    yield* thingsIn(thing.children, thing);
  }
}

/** Slots that name objects, and wires from one to another. */
function fillScene(chance: Chance, scene: Place, types: ScriptType[], events: string[]): void {
  const all = [...thingsIn(scene.things)].map(({ thing }) => thing);
  for (const thing of all)
    for (const part of thing.parts)
      for (const [name, slot] of Object.entries(part.slots)) {
        if (slot.to !== 'thing') continue;
        if (chance.is(0.1)) delete part.slots[name];
        else slot.text = chance.one(all).id;
      }
  const wired = all.filter(({ parts }) => parts.length > 0);
  for (let round = 0; round < 2 && wired.length > 1; round++) {
    const to = chance.one(wired);
    const type = types.find(({ name }) => name === to.parts[0]?.type);
    if (type)
      scene.wires.push({
        event: chance.one(events),
        from: chance.one(all).id,
        to: to.id,
        handler: chance.one(type.functions),
      });
  }
}

/** What scripts do, so that it fits where they run. */
function fillScripts(
  chance: Chance,
  types: ScriptType[],
  scenes: Place[],
  prefabs: Place[],
  tables: Table[],
  events: string[],
): void {
  const carried = new Map<string, { thing: Thing; parent: Thing | undefined; place: Place }[]>();
  for (const place of [...scenes, ...prefabs])
    for (const { thing, parent } of thingsIn(place.things))
      for (const { type } of thing.parts) carried.set(type, [...(carried.get(type) ?? []), { thing, parent, place }]);
  for (const event of events) {
    const sender = chance.one(types);
    sender.sends.push(event);
    for (const hearer of chance.some(types, chance.whole(1, 3)))
      hearer.hears.push({ event, handler: chance.one(hearer.functions) });
  }
  for (const type of types) {
    const places = carried.get(type.name) ?? [];
    const [only] = places;
    // What it looks for must be there wherever it runs.
    if (places.length === 1 && only) {
      if (only.thing.children.length > 0 && chance.is(0.7)) {
        const child = chance.one(only.thing.children);
        type.children.push(child.name);
        const part = child.parts[0];
        const other = part && types.find(({ name }) => name === part.type);
        if (other && chance.is(0.7))
          type.parts.push({ child: child.name, type: other.name, calls: chance.one(other.functions) });
      }
      const beside = only.parent?.children.filter((one) => one !== only.thing) ?? [];
      if (beside.length > 0 && chance.is(0.5)) type.beside.push(chance.one(beside).name);
      if (scenes.includes(only.place) && chance.is(0.6))
        type.finds.push(chance.one([...thingsIn(only.place.things)]).thing.name);
      const labels = [...thingsIn(only.place.things)].flatMap(({ thing }) => thing.labels);
      if (labels.length > 0 && chance.is(0.5)) type.labels.push(chance.one(labels));
    }
    if (chance.is(0.35)) type.spawns.push(chance.one(prefabs).id);
    if (chance.is(0.3)) type.loads.push(chance.one(scenes).id);
    const table = tables[0];
    if (table && chance.is(0.5)) type.records.push({ table: table.name, id: chance.one(table.entries).id });
  }
}
