/**
 * A small runtime of the sample's made-up engine: it loads scenes and prefabs, runs the scripts frame by frame, and tells
 * what happens. docs/sluicekeeper-engine.md says what fails, and how.
 */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import { parse as parseToml } from 'smol-toml';
import { satisfies } from 'semver';
import { parse as parseYaml } from 'yaml';
import { openParcel, placeInLua } from './parcel.mjs';
import { loadScripts } from './scripts.mjs';
import { build, Thing, withParts } from './things.mjs';

/** Seconds of a frame. */
const FRAME = 1 / 60;
/** Events that answer each other go round for so long, and are told as a failure then. */
const DEEPEST = 40;
/** What the engine tells scripts of. */
const ENGINE = ['engine.touched', 'engine.used', 'engine.key', 'engine.scraped', 'engine.dusk'];

/** @param {{ folder: string, seed?: number, tell: (event: object) => void }} options */
export function createGame({ folder, seed = 1, tell }) {
  const random = numbersOf(seed);
  const listeners = [];
  const heardBy = (one) => ({ source: placeOf(one.by), handler: handlerOf(one), type: one.event });
  function listen(one) {
    listeners.push(one);
    game.tell({ ...heardBy(one), happening: 'listening' });
  }
  function end(one) {
    if (!one.isGone) game.tell({ ...heardBy(one), happening: 'ended' });
    one.isGone = true;
  }
  /** Tells when a flag of a part is set. */
  function watchFlag(part, name, start) {
    let now = start;
    const subject = `${part.constructor.name}.${name}`;
    Object.defineProperty(part, name, {
      enumerable: true,
      get: () => now,
      set(value) {
        if (value !== now)
          game.tell({ type: 'flag set', happening: 'flag set', source: placeOf(part), subject, data: { now: value } });
        now = value;
      },
    });
  }
  const placeOf = (by) => by?.object?.path ?? by?.name ?? 'engine';
  function handlerOf({ by, run: doIt }) {
    const name = by?.constructor.name;
    return `${name && name !== 'Object' ? name : (by?.name ?? 'engine')}.${doIt.name || 'function'}`;
  }
  let frame = 0;
  let last = 0;
  let stageRoot;
  let next;
  let speaking;
  let cause;
  let depth = 0;
  let parcel;
  const later = [];

  const game = {
    open: [],
    get frame() {
      return frame;
    },
    speaker: () => (speaking ? (speaking.object?.path ?? speaking.name) : 'engine'),
    tell(event) {
      const id = `e${++last}`;
      const side = speaking?.constructor.side;
      tell({ specversion: '1.0', id, frame, ...(side && { side }), ...(cause && { cause }), ...event });
      return id;
    },
    json: (path) => JSON.parse(read(path)),
    parts: (wanted) => game.open.push(...wanted),
    typeOf: ({ type, script }) => type ?? scripts.typeIn(script)?.name,
    addPart(thing, type, slots, top) {
      const part = game.makePart(thing, type);
      game.fillSlots(part, slots, top);
      return part;
    },
    makePart(thing, type) {
      const part = withObject(thing, () => new type());
      thing.parts.push(part);
      return part;
    },
    fillSlots(part, slots, top) {
      const thing = part.object ?? top;
      const type = part.constructor;
      const own = scripts.slotsOf(type);
      for (const [name, { takes, isNeeded }] of own) {
        const given = slots[name];
        if (given === undefined || given === null || given === '') {
          // An empty place is where the thing stands.
          if (takes === 'Place') part[name] = thing;
          else if (isNeeded) fails(part, 'is made', `slot ${name} is empty`);
          continue;
        }
        run(part, 'is made', () => {
          part[name] = slotOf(given, thing, top);
          const wanted = scripts.types.get(takes);
          if (wanted && !part[name].hasPart?.(wanted))
            throw new Error(`slot ${name} takes a ${takes}, and ${part[name].name} carries none`);
        });
      }
      // What is saved for a field that is gone goes nowhere; and no field comes that the script does not have.
      for (const name of Object.keys(slots))
        if (!own.has(name)) fails(part, 'is made', `what is saved for ${name} goes nowhere`, 'note');
      for (const [name, value] of Object.entries(part)) if (typeof value === 'boolean') watchFlag(part, name, value);
      Object.seal(part);
    },
  };

  // What scripts take from the engine ---------------------------------------------------------------------------------

  let making;
  const withObject = (thing, make) => {
    const before = making;
    making = thing;
    try {
      return make();
    } finally {
      making = before;
    }
  };
  class Behaviour {
    constructor() {
      Object.defineProperty(this, 'object', { value: making });
    }
    get holder() {
      return this.object.holder;
    }
  }
  for (const name of [
    ...[
      'child',
      'childAt',
      'part',
      'hasPart',
      'attach',
      'show',
      'hide',
      'turn',
      'swing',
      'moveTo',
      'playSound',
      'putUnder',
    ],
  ])
    Behaviour.prototype[name] = function (...given) {
      return this.object[name](...given);
    };
  class MooringPoint {
    fasten() {}
  }
  const bells = {
    ring(event, ...payload) {
      if (depth >= DEEPEST) throw new Error(`${event} goes round without end`);
      const sender = speaking;
      const id = game.tell({
        type: event,
        source: game.speaker(),
        ...(payload.length > 0 && { data: payload.map(told) }),
      });
      depth++;
      try {
        for (const one of [...listeners]) {
          if (one.event !== event || one.isGone || (one.from && one.from !== sender?.object)) continue;
          handle(one, id, event, payload);
        }
      } finally {
        depth--;
      }
    },
    hear(event, run) {
      listen({ event, run, by: speaking });
    },
    forget(event) {
      for (const one of listeners) if (one.event === event && one.by === speaking) end(one);
    },
  };
  const stage = {
    find: (name) => stageRoot.find(name),
    enter: (scene) => void (next = scene),
    labelled: (label) => [...stageRoot].filter(({ labels }) => labels.includes(label)),
    every(type) {
      const all = [...stageRoot].flatMap((thing) => thing.parts.filter((one) => one instanceof type));
      return Object.assign(all, { hide: () => all.forEach((one) => one.hide()) });
    },
    keep: (thing) => void (thing.stays = true),
  };
  const deck = {
    ...{ Behaviour, bells, stage },
    slot: () => (type, name) => void (type.slots ??= new Set()).add(name),
    onServer: () => (type) => void (type.side = 'server'),
    onScreen: () => (type) => void (type.side = 'client'),
    desk: { isTyping: () => false },
    pressed: (action) => game.actions.has(action) && random() < 0.5,
    remove(thing) {
      thing.does('destroyed');
      for (const one of thing) one.isGone = true;
      thing.parent?.things.splice(thing.parent.things.indexOf(thing), 1);
    },
    spawnFrom(path, parent = stageRoot) {
      const made = game.json(path);
      const [root] = made.objects;
      const before = parent.things.length;
      build(game, [{ ...root, name: root?.name ?? made.prefab }], parent, null, true);
      const thing = parent.things[before];
      game.tell({
        type: 'spawned',
        happening: 'spawned',
        source: game.speaker(),
        subject: path,
        data: { as: thing.path },
      });
      begin();
      return thing.parts.find((one) => one instanceof Behaviour) ?? thing;
    },
  };

  // What is read of the sample ----------------------------------------------------------------------------------------

  const exists = (path) => {
    // As the engine has it, capitals matter, whatever the disk says.
    const steps = path.split('/');
    return steps.every((step, at) => {
      const at0 = join(folder, ...steps.slice(0, at));
      return existsSync(at0) && readdirSync(at0).includes(step);
    });
  };
  function read(path) {
    if (!exists(path)) throw new Error(`there is no file ${path}`);
    return readFileSync(join(folder, path), 'utf8');
  }
  function slotOf(value, thing, top) {
    if (typeof value !== 'string') return value ?? undefined;
    const kind = value[0];
    if (kind === '#' || kind === '@') {
      const all = [...stageRootOf(top ?? thing)];
      const found =
        kind === '#'
          ? all.find(({ id }) => id === value.slice(1))
          : value
              .slice(1)
              .split('/')
              .reduce((at, name) => at?.find(name), top ?? thing);
      if (!found) throw new Error(`there is nothing called ${value}`);
      return withParts(found);
    }
    if (value.startsWith('data/')) return tableOf(value);
    if (value.startsWith('pictures/')) read(value);
    return value;
  }
  const stageRootOf = (thing) => (thing.parent ? stageRootOf(thing.parent) : thing);
  function tableOf(path) {
    const rows = rowsOf(path, read(path));
    return { path, row: (code) => rows.find((row) => row.code === code) };
  }
  const scripts = loadScripts(folder, { deck, engine: deck, 'deck/parts': { MooringPoint } });
  game.actions = new Set(parseToml(read('data/keys.toml')).action.map(({ name }) => name));

  // What goes on ------------------------------------------------------------------------------------------------------

  /** Tells that something failed, and where in the sample. */
  function fails(part, does, message, how = 'error', place = {}) {
    const source = part?.object?.path ?? part?.name ?? 'engine';
    const type = how === 'error' ? 'engine.failed' : 'engine.noted';
    const { file, line } = part?.place ?? place;
    game.tell({
      type,
      ...(how === 'error' && { happening: 'failed' }),
      source,
      ...(file && { place: `${file}:${line}` }),
      data: { message, does },
    });
  }
  /** Runs something of a part; what it throws is told, and the game goes on. */
  function run(part, does, doIt) {
    const before = speaking;
    speaking = part;
    try {
      return doIt();
    } catch (error) {
      fails(part, does, String(error.message), 'error', scripts.placeOf(error) ?? placeInLua(error));
      return undefined;
    } finally {
      speaking = before;
    }
  }
  function handle(one, id, event, payload) {
    const { run: doIt, by } = one;
    const before = cause;
    cause = id;
    const [handler, who] = [handlerOf(one), placeOf(by)];
    const own = run(by, handler, () => {
      cause = game.tell({ type: event, happening: 'handled', source: who, handler });
      return doIt.call(by, ...payload);
    });
    cause = before;
    return own;
  }
  /** Parts that wait are made, all of them, and begin one after the other. */
  function begin() {
    const wanted = game.open;
    game.open = [];
    const made = [];
    for (const { thing, part, top } of wanted)
      run({ name: thing.path }, 'is made', () => {
        const type = part.script
          ? scripts.typeIn(part.script)
          : part.type === 'MooringPoint'
            ? MooringPoint
            : scripts.types.get(part.type);
        if (part.script && !type) throw new Error(`there is no file ${part.script}`);
        if (type) made.push({ part: game.makePart(thing, type), slots: part.slots ?? {}, top });
      });
    // What a slot names may be made later than what has the slot.
    for (const { part, slots, top } of made) game.fillSlots(part, slots, top);
    for (const { part } of made) if (part.begin) run(part, `${part.constructor.name}.begin`, () => part.begin());
  }
  function enter(path) {
    const scene = game.json(path);
    const staying = stageRoot ? [...stageRoot].filter(({ stays }) => stays) : [];
    for (const one of listeners) if (one.by?.object && !staying.includes(one.by.object)) end(one);
    stageRoot = new Thing(game, { name: scene.title });
    for (const one of staying) stageRoot.things.push(one);
    game.tell({ type: 'loaded', happening: 'loaded', source: path, subject: path });
    build(game, scene.objects, stageRoot, null, false);
    for (const { when, from, to, do: does } of scene.wires ?? []) {
      const by = byId(to);
      listen({
        event: when,
        from: from && byId(from),
        by: { name: by?.path ?? to, object: by, constructor: { name: 'wire' } },
        run: called(does, (...given) => {
          const doIt = by && withParts(by)[does];
          if (typeof doIt !== 'function') throw new Error(`${to} has no ${does}`);
          return doIt(...given);
        }),
      });
    }
    begin();
    showHints(scene.scene);
  }
  const byId = (id) => [...stageRoot].find((one) => `#${one.id}` === id);
  const { start: startScene, scenes: listed } = game.json('data/build-list.json');
  const scenes = new Map(
    readdirSync(join(folder, 'scenes')).map((name) => [game.json(`scenes/${name}`).scene, `scenes/${name}`]),
  );
  /** What the crew does step by step, whatever the scene. */
  function giveOrders() {
    const reader = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '',
      isArray: (name) => name === 'step',
    });
    for (const file of readdirSync(join(folder, 'data/orders'))) {
      const { name, step: steps } = reader.parse(read(`data/orders/${file}`)).orders;
      const crew = { name };
      const go = (id) => {
        const step = steps.find((one) => one.id === id);
        if (!step) return;
        if (step.does === 'wait for bell')
          return void listen({
            event: step.bell,
            by: crew,
            run: called(`step ${id}`, () => go(step.then)),
          });
        if (step.does === 'ring bell') bells.ring(step.bell);
        if (step.does === 'show picture') read(step.picture);
        go(step.then);
      };
      run(crew, 'begins', () => go(steps[0].id));
    }
  }
  /** Before anything begins all tables are read, and parcels are looked for. */
  function readAll() {
    for (const file of readdirSync(join(folder, 'data'), { withFileTypes: true })) {
      if (!file.isFile() || !/\.(?:json|yaml|csv)$/.test(file.name)) continue;
      const path = `data/${file.name}`;
      run({ name: path }, 'is read', () => checkRows(rowsOf(path, read(path)), 'code'));
    }
    const parcels = readdirSync(folder, { recursive: true })
      .filter((path) => path.endsWith('.parcel.json'))
      .map((path) => ({ path, ...game.json(path) }));
    for (const { path, parcel: own, needs } of parcels)
      for (const { parcel: wanted, version } of needs)
        run({ name: path }, 'is joined', () => {
          const other = parcels.find((one) => one.parcel === wanted);
          if (!other || !satisfies(other.version, version))
            throw new Error(`${own} needs ${wanted} in version ${version}, and there is ${other?.version ?? 'none'}`);
        });
  }
  /** What is shown to the player in a scene, for the first time. */
  function showHints(id) {
    for (const file of readdirSync(join(folder, 'data/hints'))) {
      const path = `data/hints/${file}`;
      const hint = game.json(path);
      if (hint.scene !== id) continue;
      for (const { text = '', picture } of hint.steps ?? [])
        run({ name: path }, 'shows a hint', () => {
          for (const [, key] of text.matchAll(/\{key:([\w-]+)\}/g))
            if (!game.actions.has(key)) fails({ name: path }, 'shows a hint', `there is no action ${key}`);
          if (picture) read(picture);
        });
    }
  }
  const parts = () => [...stageRoot].flatMap((thing) => thing.parts.filter((one) => one instanceof Behaviour));

  return {
    game,
    /** Begins in a scene, that of the build list unless given. */
    async start(scene) {
      const first = scene ? (scenes.get(scene) ?? scene) : startScene;
      for (const { file, error } of scripts.problems) fails({ name: file }, 'is read', error.message);
      parcel = await openParcel(folder, {
        run,
        ring: (event, ...payload) => bells.ring(event, ...payload),
        hear: (event, by, name, doIt) => listen({ event, by, run: called(name, doIt) }),
        later: (seconds, by, does, doIt) => later.push({ at: frame + seconds / FRAME, by, does, doIt }),
      });
      readAll();
      giveOrders();
      enter(first);
      parcel.begin();
    },
    end: () => parcel?.close(),
    /** A frame: each script's own, and now and then what a player does. */
    step({ plays = true } = {}) {
      frame++;
      for (const one of later.filter(({ at }) => at <= frame)) {
        later.splice(later.indexOf(one), 1);
        run(one.by, one.does, one.doIt);
      }
      for (const part of parts())
        if (part.everyFrame) run(part, `${part.constructor.name}.everyFrame`, () => part.everyFrame(FRAME));
      if (plays && random() < 0.15) this.play();
      if (next !== undefined) {
        const scene = next;
        next = undefined;
        run({ name: 'engine' }, 'enters a scene', () => {
          if (!scenes.has(scene)) throw new Error(`there is no scene ${scene}`);
          if (!listed.includes(scenes.get(scene))) throw new Error(`${scene} is not in the build list`);
          enter(scenes.get(scene));
        });
      }
    },
    /** Something that a player does: touches, keys, and what can be asked of things. */
    play() {
      const boats = [...stageRoot].filter(({ labels }) => labels.includes('boat'));
      const boat = boats[Math.floor(random() * boats.length)];
      if (random() < 0.6) {
        const event = ENGINE[Math.floor(random() * (ENGINE.length - (frame < 600 ? 1 : 0)))];
        return run(undefined, event, () => bells.ring(event, boat));
      }
      const all = parts().flatMap((part) => scripts.askedOf(part.constructor).map((name) => ({ part, name })));
      const wanted = all[Math.floor(random() * all.length)];
      if (wanted) this.ask(wanted.part, wanted.name, Math.floor(random() * 14));
      return undefined;
    },
    asked: (part) => scripts.askedOf(part.constructor),
    ask: (part, name, ...given) => run(part, `${part.constructor.name}.${name}`, () => part[name](...given)),
    ring: (event, ...payload) => run(undefined, event, () => bells.ring(event, ...payload)),
    parts,
    /** Events that somebody listens to now. */
    heard: () => [...new Set(listeners.filter(({ isGone }) => !isGone).map(({ event }) => event))].sort(),
    things: () => [...stageRoot],
  };
}

/** A function under a name of its own. */
const called = (name, run) => Object.defineProperty(run, 'name', { value: name });

/** Rows of a table, in whatever form it is written. */
function rowsOf(path, text) {
  if (path.endsWith('.csv')) {
    const [head, ...lines] = text
      .trim()
      .split(/\r?\n/)
      .map((line) => line.split(','));
    return lines.map((line) => Object.fromEntries(head.map((name, at) => [name, line[at]])));
  }
  return (path.endsWith('.yaml') ? parseYaml(text) : JSON.parse(text)).rows ?? [];
}

/** Codes tell rows apart, and no row is like itself. */
function checkRows(rows, id) {
  const known = new Map();
  for (const row of rows) {
    if (row[id] !== undefined && known.has(row[id])) throw new Error(`${row[id]} stands there twice`);
    known.set(row[id], row);
  }
  for (const row of rows.filter(({ like }) => like !== undefined))
    for (let at = known.get(row.like), steps = 0; at; at = known.get(at.like))
      if (at === row || ++steps > rows.length) throw new Error(`${row[id]} is like itself`);
}

/** What is passed along, as it can be written. */
function told(value) {
  if (value === null || typeof value !== 'object') return value;
  return value.path ?? value.object?.path ?? value.name ?? String(value);
}

/** Numbers from 0 to 1, the same for each seed (mulberry32). */
function numbersOf(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}
