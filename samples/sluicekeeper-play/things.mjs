/** Things on the stage: made of scenes and prefabs, with parts, and what scripts may do with them. */

/** What only some things are: scenery takes no orders, and what was removed is gone. */
class Thing {
  constructor(game, { name, id = '', parent = null, labels = [], isScenery = false, isShown = true, stays = false }) {
    Object.assign(this, {
      game,
      name,
      id,
      parent,
      labels,
      isScenery,
      isShown,
      stays,
      things: [],
      parts: [],
      isGone: false,
    });
    parent?.things.push(this);
  }
  get path() {
    return this.parent ? `${this.parent.path}/${this.name}` : this.name;
  }
  /** Whatever is done with a thing is told; what cannot be done fails. */
  does(happening, data) {
    if (this.isGone) throw new Error(`${this.name} is gone`);
    if (this.isScenery) throw new Error(`${this.name} is scenery, and takes no orders`);
    this.game.tell({ type: happening, happening, source: this.game.speaker(), subject: this.path, data });
  }
  get holder() {
    return this.parent ?? undefined;
  }
  get object() {
    return this;
  }
  child(name) {
    return this.things.find((one) => one.name === name);
  }
  childAt(at) {
    return this.things[at];
  }
  part(type) {
    return this.parts.find((one) => one instanceof type);
  }
  hasPart(type) {
    return this.part(type) !== undefined;
  }
  attach(type) {
    return this.game.addPart(this, type, {});
  }
  show() {
    this.isShown = true;
    this.does('switched', { shown: true });
  }
  hide() {
    this.isShown = false;
    this.does('switched', { shown: false });
  }
  turn(degrees) {
    this.does('moved', { turn: degrees });
  }
  swing(degrees) {
    this.does('moved', { swing: degrees });
  }
  moveTo(where) {
    this.does('moved', { to: where instanceof Thing ? where.path : where });
  }
  playSound(sound) {
    this.does('switched', { sound });
  }
  putUnder(parent) {
    this.does('moved', { under: parent.path });
    this.parent?.things.splice(this.parent.things.indexOf(this), 1);
    this.parent = parent;
    parent.things.push(this);
  }
  *[Symbol.iterator]() {
    yield this;
    for (const one of [...this.things]) yield* one;
  }
  /** The first below it of this name. */
  find(name) {
    for (const one of this) if (one !== this && one.name === name) return one;
    return undefined;
  }
}

/** A thing as slots give it: what it does not have itself is looked for on its parts. */
export function withParts(thing) {
  return new Proxy(thing, {
    get(of, key) {
      if (key in of) return Reflect.get(of, key, of);
      const part = of.parts.find((one) => key in one);
      const value = part?.[key];
      return typeof value === 'function' ? value.bind(part) : value;
    },
  });
}

/** Makes the objects that a scene or prefab lists, each with those below it. */
export function build(game, list, parent, root, isPrefab) {
  for (const one of list ?? []) {
    const thing = new Thing(game, {
      ...{ name: one.name, id: one.id, parent, labels: one.labels },
      ...{ isScenery: one.mode === 'scenery', isShown: one.shown !== false, stays: one.stays === true },
    });
    const top = isPrefab ? (root ?? thing) : root;
    const wanted = [];
    if (one.prefab) wanted.push(...buildPrefab(game, one.prefab, thing, one.changes ?? []));
    for (const part of one.parts ?? []) wanted.push({ thing, part, top });
    game.parts(mergedParts(wanted));
    build(game, one.objects, thing, top, isPrefab);
  }
}

/** The root of a prefab is the thing itself; what the instance changes of parts counts. */
function buildPrefab(game, path, thing, changes) {
  const { objects } = game.json(path);
  const [root] = objects;
  build(game, root.objects, thing, thing, true);
  const wanted = (root.parts ?? []).map((part) => ({ thing, part, top: thing }));
  if (root.prefab) wanted.unshift(...buildPrefab(game, root.prefab, thing, []));
  for (const { on, part, set } of changes) {
    const of = on ? on.split('/').reduce((at, name) => at?.child(name), thing) : thing;
    for (const one of [...wanted, ...game.open])
      if (one.thing === of && game.typeOf(one.part) === part)
        one.part = { ...one.part, slots: { ...one.part.slots, ...set } };
  }
  return wanted;
}

/** An instance that lists a part of the prefab again changes its slots. */
function mergedParts(wanted) {
  const merged = [];
  for (const one of wanted) {
    const known = merged.find(({ part }) => part.script !== undefined && part.script === one.part.script);
    if (known) known.part = { ...known.part, slots: { ...known.part.slots, ...one.part.slots } };
    else merged.push(one);
  }
  return merged;
}

export { Thing };
