// Writes a project of any size in the manner of Sluicekeeper: the same in every run.
// node samples/synthetic/generate.mjs DIR [S|M|L]
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Scripts, scene and prefab files, objects per file. L: 4,000 scripts of 14 MB, 2,000 files of 60 MB, 200,000 objects. */
export const SIZES = {
  S: { scripts: 200, files: 100, objectsPerFile: 100 },
  M: { scripts: 1000, files: 500, objectsPerFile: 100 },
  L: { scripts: 4000, files: 2000, objectsPerFile: 100 },
};

/** A project with tens of thousands of findings: of a hundred slots, so many lead nowhere. */
export const MANY_FINDINGS = { scripts: 200, files: 500, objectsPerFile: 100, lost: 90 };

/** One prefab file to so many scene files. */
const SCENES_PER_PREFAB = 9;
/** Functions that make a script as long as scripts are (about 3.5 kB). */
const FILLERS = 22;

/** A small generator of numbers, the same in every run (mulberry32, public domain). */
export function numbers(seed) {
  let state = seed;
  return (below) => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) % below;
  };
}

const LANGUAGES = {
  ts: {
    head: (name, parent) =>
      `import { Behaviour, bells, stage } from 'deck';\n\nexport class ${name} extends ${parent} {\n`,
    begin: (lines) => `  begin(): void {\n${lines.map((line) => `    ${line};\n`).join('')}  }\n`,
    filler: (n) =>
      `\n  step${n}(load: number): void {\n    const level = this.level * ${n} + load;\n    if (level > ${n * 3}) this.show(level);\n    else this.hide(level - ${n});\n  }\n`,
    tail: '}\n',
    self: 'this',
    method: '.',
  },
  js: null,
  lua: {
    head: (name, parent) => `local ${parent} = require("${parent}")\nlocal ${name} = ${parent}:extend()\n\n`,
    begin: (lines, name) => `function ${name}:begin()\n${lines.map((line) => `  ${line}\n`).join('')}end\n`,
    filler: (n, name) =>
      `\nfunction ${name}:step${n}(load)\n  local level = self.level * ${n} + load\n  if level > ${n * 3} then self:show(level) else self:hide(level - ${n}) end\nend\n`,
    tail: '',
    self: 'self',
    method: ':',
  },
  cs: {
    head: (name, parent) => `using Deck;\n\npublic class ${name} : ${parent} {\n`,
    begin: (lines) => `  void begin() {\n${lines.map((line) => `    ${line.replace(/'/g, '"')};\n`).join('')}  }\n`,
    filler: (n) =>
      `\n  void step${n}(float load) {\n    var level = this.level * ${n} + load;\n    if (level > ${n * 3}) this.show(level);\n    else this.hide(level - ${n});\n  }\n`,
    tail: '}\n',
    self: 'this',
    method: '.',
  },
  py: {
    head: (name, parent) => `from deck import Behaviour, bells, stage\n\n\nclass ${name}(${parent}):\n`,
    begin: (lines) => `    def begin(self):\n${lines.map((line) => `        ${line}\n`).join('')}`,
    filler: (n) =>
      `\n    def step${n}(self, load):\n        level = self.level * ${n} + load\n        if level > ${n * 3}:\n            self.show(level)\n        else:\n            self.hide(level - ${n})\n`,
    tail: '',
    self: 'self',
    method: '.',
  },
};
LANGUAGES.js = {
  ...LANGUAGES.ts,
  begin: (lines) => LANGUAGES.ts.begin(lines).replace(': void', ''),
  filler: (n) => LANGUAGES.ts.filler(n).replace(': number', '').replace(': void', ''),
};
const ENDINGS = Object.keys(LANGUAGES);

function scriptText(index, ending, random) {
  const language = LANGUAGES[ending];
  const { self, method } = language;
  const name = `Part${index}`;
  const lines = [
    `${self}.mast = ${self}.holder${method}child('Node ${random(4)}')`,
    `${self}.flag = ${self}.mast${method}child('Leaf')`,
    `bells.ring('event.${index % 400}', ${index})`,
    `bells.hear('event.${(index * 7) % 400}', ${self}.step1)`,
    `stage.find('Clock').show()`,
  ];
  const parent = index % 10 === 0 ? 'Behaviour' : `Part${index - (index % 10)}`;
  const fillers = Array.from({ length: FILLERS }, (_, n) => language.filler(n, name)).join('');
  return language.head(name, parent) + language.begin(lines, name) + fillers + language.tail;
}

function fileText(index, isPrefab, { scripts, objectsPerFile, files, lost = 0 }, random) {
  const groups = Math.max(1, Math.floor(objectsPerFile / 10));
  const part = () => {
    const script = random(scripts);
    const slots = {
      target: random(100) < lost ? `#gone-${index}-${random(1000)}` : `#id-${index}-${random(groups)}`,
      picture: `pictures/p${random(50)}.svg`,
      depth: random(100),
      title: `A title for ${script}`,
    };
    return { script: `scripts/part${script}.${ENDINGS[script % ENDINGS.length]}`, slots };
  };
  const node = (group, n) => ({
    name: `Node ${n}`,
    place: { x: random(1000) / 10, y: random(1000) / 10, z: random(1000) / 10, turn: random(360), scale: 1 },
    parts: [part(), { type: 'Shape', colour: '#a85c00', size: random(9) }],
    objects: [
      {
        name: 'Leaf',
        place: { x: random(1000) / 10, y: random(1000) / 10, z: random(1000) / 10, turn: random(360), scale: 1 },
      },
    ],
    note: `group ${group}`,
  });
  const objects = Array.from({ length: groups }, (_, group) => ({
    name: `Group ${group}`,
    id: `id-${index}-${group}`,
    parts: [part()],
    objects: Array.from({ length: 4 }, (_, n) => node(group, n)),
    prefab:
      !isPrefab && group === 0
        ? `prefabs/p${random(Math.max(1, Math.floor(files / (SCENES_PER_PREFAB + 1))))}.json`
        : undefined,
  }));
  return JSON.stringify({ id: `file-${index}`, objects: [{ name: 'Clock' }, ...objects] }, null, 1);
}

const OBJECTS = {
  objects: {
    at: '$..objects[*]',
    kind: 'object',
    id: '$.id',
    madeFrom: { field: '$.prefab' },
    parts: { at: '$.parts[*]', type: '$.type', script: { field: '$.script' }, values: '$.slots' },
  },
};
const REFERENCES = {
  objects: { at: '$..slots.*', by: 'id', pattern: '^#(.+)$' },
  pictures: { at: '$..slots.*', by: 'path', pattern: '^pictures/.+$' },
};
const PLAN = {
  version: 1,
  name: 'A synthetic flight',
  files: {
    scenes: { match: 'scenes/*.json', as: 'scene', id: '$.id', pieces: OBJECTS, references: REFERENCES },
    prefabs: { match: 'prefabs/*.json', as: 'prefab', pieces: OBJECTS, references: REFERENCES },
    pictures: { match: 'pictures/*.svg', as: 'media' },
  },
  scripts: Object.fromEntries(
    Object.entries({ ts: 'typescript', js: 'javascript', lua: 'lua', cs: 'csharp', py: 'python' }).map(
      ([ending, language]) => [language, { match: `scripts/*.${ending}`, language, moments: { start: ['begin'] } }],
    ),
  ),
  calls: [
    { call: '*.holder', means: 'step up' },
    { call: '*.child($name)', means: 'child' },
    { call: 'stage.find($name)', means: 'find' },
    { call: 'bells.ring($event, ...)', means: 'send' },
    { call: 'bells.hear($event, $handler)', means: 'listen' },
  ],
  engine: { parts: ['Shape'] },
};

/** Writes the project; gives its size in bytes by kind. */
export function generate(folder, size) {
  const random = numbers(4860);
  const written = { scripts: 0, files: 0 };
  const write = (path, text) => {
    mkdirSync(dirname(join(folder, path)), { recursive: true });
    writeFileSync(join(folder, path), text);
    return Buffer.byteLength(text);
  };
  write('glue-trace.json', JSON.stringify(PLAN, null, 2));
  for (let n = 0; n < 50; n++) write(`pictures/p${n}.svg`, '<svg/>');
  for (let n = 0; n < size.scripts; n++) {
    const ending = ENDINGS[n % ENDINGS.length];
    written.scripts += write(`scripts/part${n}.${ending}`, scriptText(n, ending, random));
  }
  const prefabs = Math.max(1, Math.floor(size.files / (SCENES_PER_PREFAB + 1)));
  for (let n = 0; n < size.files; n++) {
    const isPrefab = n < prefabs;
    written.files += write(isPrefab ? `prefabs/p${n}.json` : `scenes/s${n}.json`, fileText(n, isPrefab, size, random));
  }
  return written;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const [, , folder, name = 'S'] = process.argv;
  if (!folder || folder.startsWith('-') || !SIZES[name]) {
    process.stderr.write('usage: node samples/synthetic/generate.mjs DIR [S|M|L]\n');
    process.exit(2);
  }
  process.stdout.write(`${JSON.stringify(generate(folder, SIZES[name]))}\n`);
}
