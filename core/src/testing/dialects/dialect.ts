/**
 * Made-up projects in dialects of their own: each seed chooses formats, names of fields, nesting, identities, ways of
 * referring, names of calls, events and languages, and gives the files, the true plan and the broken references planted.
 */
import { chanceOf, type Chance } from './chance.js';
import {
  capital,
  csv,
  ENDING,
  ini,
  luaTable,
  ownKinds,
  ownLines,
  toml,
  xml,
  yaml,
  type Value,
  type Written,
} from './formats.js';
import { HABITS } from './habits.js';
import { callsIn, scriptsIn, type Speech, speechOf } from './speech.js';
import { worldOf, type Entry, type Place, type Table, type Thing, type World } from './world.js';

export interface Dialect {
  seed: number;
  files: Record<string, string>;
  plan: Record<string, unknown>;
  /** Texts that lead nowhere, each of which stands once. */
  broken: string[];
  /** In words, what was chosen. */
  choices: string[];
}

/** How a table of records is written. */
interface TableForm {
  written: Written;
  holds: 'list' | 'map' | 'files' | 'bare list';
  idKey: string;
  nameKey: string;
  container: string;
  folder: string;
  identity: 'field' | 'key' | 'stem' | 'number';
  mark: string;
  many: 'list' | 'joined';
  /** A single reference is an object that holds it. */
  inside: string;
  /** Marks around what prose names; none where it names nothing. */
  mention: readonly [string, string] | undefined;
  joint: string;
}

interface ObjectForm {
  written: 'json' | 'yaml' | 'xml attributes';
  tree: 'nested' | 'parent' | 'children';
  ending: string;
  keys: Record<
    | 'id'
    | 'name'
    | 'children'
    | 'parts'
    | 'type'
    | 'slots'
    | 'prefab'
    | 'labels'
    | 'scene'
    | 'wires'
    | 'event'
    | 'from'
    | 'to'
    | 'handler'
    | 'parent',
    string
  >;
  mark: string;
  partBy: 'type' | 'path';
  prefabBy: 'path' | 'relative' | 'stem' | 'id';
  scenes: string;
  prefabs: string;
  sceneId: 'field' | 'stem';
}

const TABLE_FORMATS: Written[] = [
  'json',
  'yaml',
  'xml attributes',
  'xml elements',
  'toml',
  'ini',
  'csv',
  'own lines',
  'lua',
];
/** Formats of rows and values alone. */
const FLAT = new Set<Written>(['csv', 'ini', 'own lines']);

export function dialectOf(seed: number, size = 2): Dialect {
  const chance = chanceOf(seed);
  const world = worldOf(chance, size);
  const speech = speechOf(chance);
  const writer = new Writer(chance, world, speech);
  return writer.dialect(seed);
}

/** A dialect with files of a habit that it lacks. */
export function withHabit(dialect: Dialect, name: string): Dialect & { added: Set<string> } {
  const habit = HABITS[name];
  if (!habit) throw new RangeError(`no habit ${name}`);
  const { files, rules, scripts, calls, broken } = habit(chanceOf(dialect.seed * 31 + name.length));
  const { plan } = dialect;
  return {
    ...dialect,
    files: { ...dialect.files, ...files },
    plan: {
      ...plan,
      // Where both match, the habit's rule is the narrower one.
      files: { ...rules, ...(plan.files as object) },
      scripts: { ...scripts, ...(plan.scripts as object) },
      calls: [...(calls ?? []), ...(plan.calls as object[])],
    },
    broken: [...dialect.broken, ...broken],
    choices: [...dialect.choices, name],
    added: new Set(Object.keys(files)),
  };
}

class Writer {
  private readonly files: Record<string, string> = {};
  private readonly rules: Record<string, unknown> = {};
  private readonly broken: string[] = [];
  /** Tables in code of their own. */
  private readonly tables: Record<string, { match: string; rule: Record<string, unknown> }> = {};
  private readonly forms = new Map<string, TableForm>();
  private readonly numbers = new Map<string, string>();
  private readonly objects: ObjectForm;
  private readonly pictures: { folder: string; ending: string; by: 'path' | 'no ending' | 'name' | 'scheme' };

  constructor(
    private readonly chance: Chance,
    private readonly world: World,
    private readonly speech: Speech,
  ) {
    this.objects = this.objectForm();
    this.pictures = {
      folder: chance.one(['pictures', 'art/icons', 'drawings', 'media/img']),
      ending: chance.one(['png', 'svg', 'webp']),
      by: chance.one(['path', 'no ending', 'name', 'scheme'] as const),
    };
    let number = chance.whole(100, 5000);
    for (const table of world.tables) {
      const form = this.tableForm(table);
      this.forms.set(table.name, form);
      if (form.identity === 'number')
        for (const { id } of table.entries) this.numbers.set(id, String((number += chance.whole(1, 7))));
    }
  }

  dialect(seed: number): Dialect {
    for (const picture of this.world.pictures)
      this.files[`${this.pictures.folder}/${picture}.${this.pictures.ending}`] = '';
    this.rules.pictures = { match: `**/*.${this.pictures.ending}`, as: 'media' };
    for (const table of this.world.tables) this.table(table);
    this.places(this.world.scenes, 'scene');
    this.places(this.world.prefabs, 'prefab');
    const scripts = this.scripts();
    this.noise();
    const calls = callsIn(this.speech, {
      record: this.recordTarget(this.world.tables[0]?.name ?? ''),
      // Code names files from the project's root.
      prefab: this.objects.prefabBy === 'relative' ? { by: 'path' } : this.prefabTarget(),
      scene: this.sceneTarget(),
    });
    return {
      seed,
      files: this.files,
      plan: {
        version: 1,
        name: `Dialect ${seed}`,
        files: this.rules,
        scripts,
        calls,
        house: { unattached: 'fine' },
        engine: this.speech.engine,
      },
      broken: this.broken,
      choices: [
        `objects ${this.objects.written} ${this.objects.tree} ${this.objects.partBy} ${this.objects.prefabBy}`,
        ...[...this.forms].map(([name, form]) => `${name} ${form.written} ${form.holds} ${form.identity} ${form.mark}`),
        `pictures ${this.pictures.by}`,
        `events ${this.speech.events} ${this.speech.languages.join('+')}`,
      ],
    };
  }

  /** A text that names something; now and then misspelt. */
  private named(text: string): string {
    if (!this.chance.is(0.03) || text.length < 5) return text;
    const at = this.chance.whole(1, text.length - 3);
    const wrong = text.slice(0, at) + (text[at + 1] ?? '') + (text[at] ?? '') + text.slice(at + 2);
    if (wrong === text || this.broken.includes(wrong)) return text;
    this.broken.push(wrong);
    return wrong;
  }

  // Records ---------------------------------------------------------------------------------------------------------

  private tableForm(table: Table): TableForm {
    const { chance } = this;
    const written = chance.one(TABLE_FORMATS);
    const identity =
      written === 'own lines' || written === 'lua'
        ? 'field'
        : written === 'ini'
          ? 'key'
          : chance.one(['field', 'field', 'key', 'stem', 'number'] as const);
    const canMap = written === 'json' || written === 'yaml' || written === 'toml' || written === 'ini';
    const canFile = written === 'json' || written === 'yaml' || written === 'toml' || written.startsWith('xml');
    const of = identity === 'key' && !canMap ? 'field' : identity === 'stem' && !canFile ? 'field' : identity;
    return {
      written,
      identity: of,
      holds:
        of === 'key'
          ? 'map'
          : of === 'stem'
            ? 'files'
            : canFile && chance.is(0.15)
              ? 'files'
              : written === 'json' && chance.is(0.3)
                ? 'bare list'
                : 'list',
      idKey: chance.one(['id', 'code', 'key', 'uid', 'ident', 'mark']),
      nameKey: chance.one(['name', 'title', 'called', 'label']),
      container: chance.one(['rows', 'entries', 'all', table.name]),
      folder: chance.one(['data', 'rules', `data/${table.name}`, 'content']),
      mark: chance.one(['', '', '', '#', '@', `${table.name}:`]),
      many: FLAT.has(written) ? 'joined' : chance.one(['list', 'joined'] as const),
      joint: chance.one([', ', ';', '|', ' ']),
      inside: (written === 'json' || written === 'yaml') && chance.is(0.15) ? chance.one(['ref', 'of', 'id']) : '',
      mention: chance.is(0.25)
        ? chance.one([
            ['{', '}'],
            ['[', ']'],
            ['<<', '>>'],
            ['%', '%'],
          ] as const)
        : undefined,
    };
  }

  private idOf(id: string): string {
    return this.numbers.get(id) ?? id;
  }

  private ref(table: string, id: string): string {
    const form = this.form(table);
    return form.mark + this.named(this.idOf(id));
  }

  private form(table: string): TableForm {
    const form = this.forms.get(table);
    if (!form) throw new RangeError(`no table ${table}`);
    return form;
  }

  recordTarget(table: string): Record<string, unknown> {
    const { mark } = this.form(table);
    return { by: 'id', space: table, ...(mark && { pattern: `^${mark}(.+)$` }) };
  }

  private entry(table: Table, form: TableForm, entry: Entry): { [key: string]: Value } {
    const isXml = form.written.startsWith('xml');
    const record: { [key: string]: Value } = {};
    if (form.identity === 'field' || form.identity === 'number')
      record[form.idKey] = form.identity === 'number' ? Number(this.idOf(entry.id)) : entry.id;
    record[form.nameKey] = entry.name;
    for (const [key, value] of Object.entries(entry.plain)) record[key] = value;
    for (const field of table.fields) {
      const ids = entry.refs[field.name];
      if (!ids) continue;
      const texts = ids.map((id) => this.ref(field.to, id));
      if (field.counted && !isXml && !FLAT.has(form.written))
        record[field.name] = Object.fromEntries(texts.map((text) => [text, this.chance.whole(1, 9)]));
      else if (!field.many) record[field.name] = form.inside ? { [form.inside]: texts[0] ?? '' } : (texts[0] ?? '');
      else if (form.many === 'joined') record[field.name] = texts.join(form.joint);
      else record[field.name] = isXml ? texts.map((text) => ({ of: text })) : texts;
    }
    const [near] = table.fields;
    if (form.mention && near && this.chance.is(0.6)) {
      const other = this.world.tables.find(({ name }) => name === near.to);
      const [open, end] = form.mention;
      const id = other && this.chance.one(other.entries).id;
      if (id !== undefined) record.about = `${String(record.about)} Ask for ${open}${this.named(this.idOf(id))}${end}.`;
    }
    if (entry.picture !== undefined) record[table.picture] = this.picture(entry.picture);
    return record;
  }

  private picture(name: string): string {
    const { folder, ending, by } = this.pictures;
    const base = `${this.named(name)}`;
    if (by === 'name') return `${base}.${ending}`;
    if (by === 'scheme') return `reach://${base}.${ending}`;
    return by === 'path' ? `${folder}/${base}.${ending}` : base;
  }

  private pictureTarget(): Record<string, unknown> {
    const { folder, ending, by } = this.pictures;
    if (by === 'path') return { by: 'path' };
    if (by === 'scheme') return { by: 'path', schemes: { 'reach://': folder } };
    return { by: 'path', roots: [folder], ...(by === 'no ending' && { endings: [`.${ending}`] }) };
  }

  private table(table: Table): void {
    const form = this.form(table.name);
    const { written, holds, container } = form;
    const ending = ENDING[written];
    const isXml = written.startsWith('xml');
    const item = table.name.replace(/s$/, '');
    const records = table.entries.map((entry) => [entry, this.entry(table, form, entry)] as const);
    const write = (value: { [key: string]: Value }, tag: string): string => this.write(written, value, tag);
    let at: string;
    let match: string;
    if (holds === 'files') {
      for (const [entry, record] of records)
        this.files[`${form.folder}/${table.name}/${entry.id}.${ending}`] = write(record, item);
      match = `${form.folder}/${table.name}/*.${ending}`;
      at = isXml ? `$.${item}[0]` : '$';
    } else {
      match = `${form.folder}/${table.name}.${ending}`;
      if (written === 'own lines') {
        this.files[match] = ownLines(
          item,
          records.map(([, record]) => record),
        );
        at = `$.${item}[*]`;
      } else if (written === 'lua') {
        this.files[match] = luaTable(
          table.name,
          records.map(([, record]) => record),
        );
        at = '$[*]';
      } else if (written === 'csv') {
        this.files[match] = csv(records.map(([, record]) => record));
        at = '$[*]';
      } else if (isXml) {
        this.files[match] = write({ [item]: records.map(([, record]) => record) }, table.name);
        at = `$.${table.name}[0].${item}[*]`;
      } else if (holds === 'map') {
        const map = Object.fromEntries(records.map(([entry, record]) => [entry.id, record]));
        this.files[match] = write(written === 'ini' ? map : { [container]: map }, container);
        at = written === 'ini' ? '$.*' : `$.${container}.*`;
      } else if (holds === 'bare list') {
        this.files[match] = `${JSON.stringify(
          records.map(([, record]) => record),
          null,
          2,
        )}\n`;
        at = '$[*]';
      } else {
        this.files[match] = write({ [container]: records.map(([, record]) => record) }, container);
        at = `$.${container}[*]`;
      }
    }
    const value = (key: string): string => (written === 'xml elements' ? `.${key}[*]['#text']` : `.${key}`);
    const id =
      form.identity === 'key' ? { key: true } : form.identity === 'stem' ? { file: 'stem' } : `$${value(form.idKey)}`;
    const references: Record<string, unknown> = {};
    for (const field of table.fields) {
      const target = this.recordTarget(field.to);
      const mark = this.form(field.to).mark;
      const isFlat = FLAT.has(written);
      if (field.counted && !isXml && !isFlat)
        references[field.name] = { at: `${at}.${field.name}.*`, written: 'key', ...target };
      else if (!field.many)
        references[field.name] = { at: at + value(field.name) + (form.inside ? `.${form.inside}` : ''), ...target };
      else if (form.many === 'joined')
        references[field.name] = {
          at: at + value(field.name),
          ...target,
          every: true,
          pattern: `${mark}([^${form.joint.trim() === '' ? '\\s' : `${form.joint.trim()}\\s`}]+)`,
        };
      else
        references[field.name] = {
          at: isXml
            ? `${at}.${field.name}[*]${written === 'xml elements' ? ".of[*]['#text']" : '.of'}`
            : `${at}.${field.name}[*]`,
          ...target,
        };
    }
    const [near] = table.fields;
    if (form.mention && near) {
      const [open, end] = form.mention;
      const sign = (text: string): string => text.replace(/[[\]{}]/g, '\\$&');
      references.mentions = {
        at: at + value('about'),
        by: 'id',
        space: near.to,
        every: true,
        pattern: `${sign(open)}([^\\s${sign(end.slice(0, 1))}]+)${sign(end)}`,
      };
    }
    if (table.picture) references[table.picture] = { at: at + value(table.picture), ...this.pictureTarget() };
    const content = {
      pieces: { [table.name]: { at, kind: 'record', id, named: `$${value(form.nameKey)}`, space: table.name } },
      ...(Object.keys(references).length > 0 && { references }),
    };
    if (written === 'lua') {
      this.tables[table.name] = { match, rule: { assigned: capital(table.name), ...content } };
      return;
    }
    const all = records.map(([, record]) => record);
    const lines = written === 'own lines' && { format: 'lines', lines: ownKinds(item, all) };
    this.rules[table.name] = { match, as: 'data asset', ...lines, ...content };
  }

  private write(written: Written, value: { [key: string]: Value }, tag: string): string {
    switch (written) {
      case 'json':
        return `${JSON.stringify(value, null, 2)}\n`;
      case 'yaml':
        return yaml(value);
      case 'toml':
        return toml(value);
      case 'ini':
        return ini(value);
      case 'csv':
      case 'lua':
      case 'own lines':
        return '';
      default:
        return xml(tag, value, written === 'xml elements');
    }
  }

  // Objects ---------------------------------------------------------------------------------------------------------

  private objectForm(): ObjectForm {
    const { chance } = this;
    const written = chance.one(['json', 'json', 'yaml', 'xml attributes'] as const);
    const scenes = chance.one(['scenes', 'reaches', 'places', 'content/maps']);
    return {
      written,
      tree: written === 'xml attributes' ? 'nested' : chance.one(['nested', 'nested', 'parent', 'children'] as const),
      ending: chance.one(['', '.scene', '.reach']),
      keys: {
        id: chance.one(['id', 'uid', 'key', 'no']),
        name: chance.one(['name', 'called', 'title']),
        children: chance.one(['objects', 'inner', 'below', 'holds', 'items']),
        parts: chance.one(['parts', 'duties', 'carries', 'scripts']),
        type: chance.one(['type', 'kind', 'is', 'does']),
        slots: chance.one(['slots', 'values', 'given', 'set']),
        prefab: chance.one(['prefab', 'from', 'made', 'pattern']),
        labels: chance.one(['labels', 'groups', 'marks']),
        scene: chance.one(['scene', 'id', 'reach']),
        wires: chance.one(['wires', 'cables', 'ties']),
        event: chance.one(['when', 'event', 'signal']),
        from: chance.one(['from', 'source', 'sender']),
        to: chance.one(['to', 'target', 'on']),
        handler: chance.one(['do', 'call', 'run']),
        parent: chance.one(['parent', 'in', 'holder']),
      },
      mark: chance.one(['', '#', '@', 'obj:']),
      partBy: chance.one(['type', 'path'] as const),
      prefabBy: chance.one(['path', 'relative', 'stem', 'id'] as const),
      scenes,
      prefabs: chance.one(['prefabs', 'patterns', 'kit', `${scenes}/kit`]),
      sceneId: chance.one(['field', 'stem'] as const),
    };
  }

  private thingRef(id: string): string {
    return this.objects.mark + this.named(id);
  }

  private prefabRef(id: string): string {
    const { prefabBy, prefabs, written, scenes } = this.objects;
    const name = this.named(id);
    if (prefabBy === 'id' || prefabBy === 'stem') return name;
    const path = `${prefabs}/${name}.${ENDING[written]}`;
    if (prefabBy === 'path') return path;
    return `${scenes
      .split('/')
      .map(() => '..')
      .join('/')}/${path}`;
  }

  private prefabTarget(): Record<string, unknown> {
    const { prefabBy, prefabs, written } = this.objects;
    if (prefabBy === 'id') return { by: 'id', space: 'prefabs' };
    if (prefabBy === 'stem') return { by: 'path', roots: [prefabs], endings: [`.${ENDING[written]}`] };
    return { by: 'path', ...(prefabBy === 'relative' && { from: 'file' }) };
  }

  private sceneTarget(): Record<string, unknown> {
    return { by: 'id', space: 'scenes' };
  }

  private part({ type, slots }: Thing['parts'][number]): { [key: string]: Value } {
    const { keys, partBy, written } = this.objects;
    const values: { [key: string]: Value } = {};
    for (const [name, { to, text }] of Object.entries(slots))
      values[name] =
        to === 'thing'
          ? this.thingRef(text)
          : to === 'record'
            ? this.slotRecord(text)
            : to === 'file'
              ? this.slotFile(text)
              : Number(text);
    const filled = Object.keys(values).length > 0;
    return {
      [keys.type]: partBy === 'type' ? type : this.named(this.speech.fileOf(type)),
      ...(filled && { [keys.slots]: written === 'xml attributes' ? [values] : values }),
    };
  }

  private slotRecord(id: string): string {
    return `rec~${this.named(this.idOf(id))}`;
  }

  private slotFile(name: string): string {
    return `${this.pictures.folder}/${this.named(name)}.${this.pictures.ending}`;
  }

  private thing(thing: Thing, isPrefab: boolean): { [key: string]: Value } {
    const { keys, tree, written } = this.objects;
    const one: { [key: string]: Value } = {};
    if (!isPrefab || tree !== 'nested') one[keys.id] = thing.id;
    one[keys.name] = thing.name;
    if (thing.prefab !== undefined) one[keys.prefab] = this.prefabRef(thing.prefab);
    if (thing.labels.length > 0)
      one[keys.labels] = written === 'xml attributes' ? thing.labels.map((label) => ({ of: label })) : thing.labels;
    const parts = thing.parts.map((part) => this.part(isPrefab ? withoutThings(part) : part));
    if (parts.length > 0) one[keys.parts] = parts;
    if (tree === 'nested' && thing.children.length > 0)
      one[keys.children] = thing.children.map((child) => this.thing(child, isPrefab));
    if (tree === 'children' && thing.children.length > 0) one[keys.children] = thing.children.map(({ id }) => id);
    return one;
  }

  /** All objects in one list, where they do not stand in one another. */
  private flat(things: readonly Thing[], isPrefab: boolean, parent?: Thing): { [key: string]: Value }[] {
    const { keys, tree } = this.objects;
    return things.flatMap((thing) => [
      { ...this.thing(thing, isPrefab), ...(tree === 'parent' && parent && { [keys.parent]: parent.id }) },
      ...this.flat(thing.children, isPrefab, thing),
    ]);
  }

  private places(places: readonly Place[], role: 'scene' | 'prefab'): void {
    const { keys, tree, written, scenes, prefabs, ending, sceneId, mark, partBy } = this.objects;
    const isXml = written === 'xml attributes';
    const folder = role === 'scene' ? scenes : prefabs;
    const suffix = `${role === 'scene' ? ending : ''}.${ENDING[written]}`;
    const list = tree === 'children' ? 'all' : keys.children;
    for (const place of places) {
      const things =
        tree === 'nested'
          ? place.things.map((thing) => this.thing(thing, role === 'prefab'))
          : this.flat(place.things, role === 'prefab');
      const isNamed = role === 'prefab' ? this.objects.prefabBy === 'id' : sceneId === 'field';
      const value: { [key: string]: Value } = {
        ...(isNamed && { [keys.scene]: place.id }),
        [list]: things,
        ...(place.wires.length > 0 && {
          [keys.wires]: place.wires.map((wire) => ({
            [keys.event]: this.speech.eventText(wire.event),
            [keys.from]: this.thingRef(wire.from),
            [keys.to]: this.thingRef(wire.to),
            [keys.handler]: wire.handler,
          })),
        }),
      };
      this.files[`${folder}/${place.id}${suffix}`] = this.write(written, value, role);
    }
    const top = isXml ? `$.${role}[0]` : '$';
    const one = (key: string): string => `${key}[*]`;
    const at = tree === 'nested' ? `$..${one(keys.children)}` : `${top}.${one(list)}`;
    const byMark = mark ? { pattern: `^${mark}(.+)$` } : {};
    const slots = `${at}.${one(keys.parts)}.${keys.slots}${isXml ? '[*]' : ''}.*`;
    const isPrefab = role === 'prefab';
    const filePattern = `^${this.pictures.folder}/.+$`;
    const idOfFile = isPrefab
      ? this.objects.prefabBy === 'id'
        ? `${top}.${keys.scene}`
        : undefined
      : sceneId === 'field'
        ? `${top}.${keys.scene}`
        : { file: 'stem' };
    const stem = !isPrefab && sceneId === 'stem' && ending ? { file: 'stem' } : idOfFile;
    this.rules[isPrefab ? 'prefabs' : 'scenes'] = {
      match: isPrefab || ending === '' ? `${folder}/*.${ENDING[written]}` : `**/*${suffix}`,
      as: role,
      ...(stem && { id: stem, space: isPrefab ? 'prefabs' : 'scenes' }),
      pieces: {
        objects: {
          at,
          kind: 'object',
          id: `$.${keys.id}`,
          named: `$.${keys.name}`,
          space: 'objects',
          ...(tree === 'parent' && { parent: { field: `$.${keys.parent}`, by: 'id' } }),
          ...(tree === 'children' && { parent: 'nesting', children: { at: `$.${keys.children}[*]`, by: 'id' } }),
          madeFrom: { field: `$.${keys.prefab}`, ...this.prefabTarget() },
          parts: {
            at: `$.${one(keys.parts)}`,
            ...(partBy === 'type' ? { type: `$.${keys.type}` } : { script: { field: `$.${keys.type}`, by: 'path' } }),
            values: isXml ? `$.${keys.slots}[0]` : `$.${keys.slots}`,
          },
          labels: isXml ? `$.${keys.labels}[*].of` : `$.${keys.labels}[*]`,
        },
      },
      references: {
        files: { at: slots, by: 'path', pattern: filePattern },
        records: { at: slots, by: 'id', space: this.world.tables[0]?.name ?? '', pattern: '^rec~(.+)$' },
        ...(!isPrefab && mark && { objects: { at: slots, by: 'id', space: 'objects', within: 'file', ...byMark } }),
        ...(!isPrefab &&
          !mark && {
            objects: {
              at: `${at}.${one(keys.parts)}.${keys.slots}${isXml ? '[*]' : ''}['target','partner']`,
              by: 'id',
              space: 'objects',
              within: 'file',
            },
          }),
      },
      ...(!isPrefab && {
        events: {
          wires: {
            at: `${top}.${one(keys.wires)}`,
            event: `$.${keys.event}`,
            from: mark ? { select: `$.${keys.from}`, ...byMark } : `$.${keys.from}`,
            to: mark ? { select: `$.${keys.to}`, ...byMark } : `$.${keys.to}`,
            handler: `$.${keys.handler}`,
          },
        },
      }),
    };
  }

  // Scripts and what means nothing ----------------------------------------------------------------------------------

  private scripts(): Record<string, unknown> {
    const { rules, files } = scriptsIn(this.speech, this.world, {
      named: (text) => this.named(text),
      record: (table, id) => this.ref(table, id),
      prefab: (id) => {
        const { prefabBy, prefabs, written } = this.objects;
        const name = this.named(id);
        return prefabBy === 'path' || prefabBy === 'relative' ? `${prefabs}/${name}.${ENDING[written]}` : name;
      },
    });
    Object.assign(this.files, files);
    const inCode = Object.entries(this.tables).map(
      ([name, { match, rule }]) => [`${name} in code`, { match, language: 'lua', tables: { [name]: rule } }] as const,
    );
    return { ...Object.fromEntries(inCode), ...rules };
  }

  private noise(): void {
    const { chance } = this;
    this.files['notes/readme.txt'] = 'Notes of the keepers.\n';
    this.files['settings.json'] = JSON.stringify(
      {
        volume: chance.whole(1, 10),
        language: 'en',
        window: { width: 1280, height: 800 },
        keys: ['gate', 'lock', 'left', 'right'],
        seasons: chance.whole(100, 5000),
      },
      null,
      2,
    );
    this.files['data/weather-table.csv'] = csv(
      Array.from({ length: 12 }, (_, at) => ({
        day: at + 1,
        sky: chance.one(['clear', 'grey', 'fog']),
        wind: chance.whole(0, 9),
      })),
    );
  }
}

/** Objects of a prefab have no identity by which a slot could name them. */
function withoutThings(part: Thing['parts'][number]): Thing['parts'][number] {
  return { ...part, slots: Object.fromEntries(Object.entries(part.slots).filter(([, { to }]) => to !== 'thing')) };
}
