/** Projects made to hurt whoever opens them, each of a size: small ones for every test run, large ones for a siege. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

export interface HostileProject {
  name: string;
  /** How much there is of it: small, and in a siege. */
  sizes: [number, number];
  make(project: ProjectFolder, size: number): void;
  /** Codes with which its scan may end instead of being done. */
  refusedWith?: string[];
}

/** A folder with a plan that reads files of every format, into which files are put. */
export class ProjectFolder {
  constructor(readonly folder: string) {
    mkdirSync(folder);
    this.plan({});
  }
  write(file: string, content: string | Buffer | object): void {
    const path = join(this.folder, file);
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, typeof content === 'string' || Buffer.isBuffer(content) ? content : JSON.stringify(content));
  }
  plan(more: object): void {
    this.write('glue-trace.json', { version: 1, name: 'Hostile', files: FILES, scripts: SCRIPTS, ...more });
  }
}

const SCENE = {
  match: 'scenes/**',
  as: 'scene',
  pieces: {
    objects: {
      at: '$..objects[*]',
      kind: 'object',
      madeFrom: { field: '$.prefab' },
      parts: { at: '$.scripts[*]', script: { field: '$.script' }, values: '$.values' },
    },
  },
};
const FILES = {
  scenes: SCENE,
  prefabs: { ...SCENE, match: 'prefabs/**', as: 'prefab' },
  data: {
    match: 'data/**',
    as: 'data asset',
    pieces: { rows: { at: '$.rows[*]', kind: 'record', id: '$.id' } },
    references: { all: { at: '$..path', by: 'path' }, next: { at: '$.rows[*].next', by: 'id' } },
  },
};
const SCRIPTS = {
  ts: { match: '**/*.ts', language: 'typescript' },
  lua: { match: '**/*.lua', language: 'lua' },
  cs: { match: '**/*.cs', language: 'csharp' },
  py: { match: '**/*.py', language: 'python' },
};

const within = (open: string, close: string, depth: number): string => open.repeat(depth) + close.repeat(depth);
const list = <T>(length: number, make: (at: number) => T): T[] => Array.from({ length }, (_, at) => make(at));

export const HOSTILE: HostileProject[] = [
  {
    name: 'whose plan is nested beyond measure',
    sizes: [20_000, 1_500_000],
    make: (project, size) => project.write('glue-trace.json', within('[', ']', size)),
    refusedWith: ['plan/not-json', 'plan/invalid', 'file/unreadable'],
  },
  {
    name: 'whose plan has rules without number',
    sizes: [300, 20_000],
    make: (project, size) =>
      project.plan({
        files: Object.fromEntries(
          list(size, (at) => [`r${at}`, { match: `**/*${at}*{a,b,c}*/**/[a-z]*.json`, as: 'data asset' }]),
        ),
      }),
    refusedWith: ['plan/invalid'],
  },
  {
    name: 'whose plan builds on many large plans',
    sizes: [3, 50],
    make(project, size) {
      const rules = Object.fromEntries(list(20_000, (at) => [`rule${at}`, { match: `${at}/**`, as: 'data asset' }]));
      for (const at of list(size, String)) project.write(`base${at}.json`, { files: rules });
      project.plan({ extends: list(size, (at) => `base${at}.json`) });
    },
    refusedWith: ['plan/invalid'],
  },
  {
    name: 'with a plan that names what every object has',
    sizes: [1, 1],
    make: (project) =>
      project.write(
        'glue-trace.json',
        '{"version": 1, "name": "x", "files": {"__proto__": {"match": "*", "as": "scene"}, "constructor": {"match": "**", "as": "scene"}}, "__proto__": {"extends": "x"}}',
      ),
    refusedWith: ['plan/invalid'],
  },
  {
    name: 'with files nested beyond measure',
    sizes: [5_000, 400_000],
    make(project, size) {
      project.write('data/deep.json', within('{"a":[', ']}', size));
      project.write('data/deep.xml', within('<a>', '</a>', size));
      project.write('data/deep.yaml', within('[', ']', size));
      project.write('data/lines.yaml', list(Math.min(size, 3000), (at) => `${' '.repeat(at)}a:`).join('\n'));
      project.write('data/deep.toml', `a = ${within('[', ']', size)}`);
      project.write('scripts/deep.ts', `class A { b() { return ${within('(', ')', size)}; } }`);
      project.write('scripts/deep.lua', `local a = ${within('{', '}', size)}`);
      project.write('scripts/deep.py', `a = ${within('(', ')', size)}`);
      project.write('scripts/deep.cs', `class A { void B() ${within('{', '}', size)} }`);
      project.write('scripts/sum.ts', `class A { b() { return ${'1 + '.repeat(size)}1; } }`);
      project.write('scripts/chain.ts', `class A { b() { return this${'.a()'.repeat(size)}; } }`);
      project.write('scripts/else.lua', `if a then ${'elseif b then '.repeat(size)} end`);
    },
  },
  {
    name: 'with texts that stand for ever longer texts',
    sizes: [9, 40],
    make(project, size) {
      const doubled = list(size, (at) => `a${at + 1}: &a${at + 1} [${list(9, () => `*a${at}`).join()}]`);
      project.write('data/laughs.yaml', ['a0: &a0 [x, x]', ...doubled].join('\n'));
      const entities = list(size, (at) => `<!ENTITY a${at + 1} "${`&a${at};`.repeat(9)}">`);
      project.write(
        'data/laughs.xml',
        `<!DOCTYPE a [<!ENTITY a0 "x">${entities.join('')}<!ENTITY f SYSTEM "file:///etc/passwd">]><a>&a${size};&f;</a>`,
      );
    },
  },
  {
    name: 'with prefabs in prefabs',
    sizes: [5, 24],
    make(project, size) {
      list(size, (at) =>
        project.write(`prefabs/p${at}.json`, {
          objects: list(4, (child) => ({ name: `c${child}`, prefab: `prefabs/p${at + 1}.json` })),
        }),
      );
      project.write(`prefabs/p${size}.json`, { objects: [{ name: 'Leaf' }] });
      project.write('scenes/a.json', { objects: [{ name: 'Top', prefab: 'prefabs/p0.json' }] });
    },
  },
  {
    name: 'with a prefab within itself',
    sizes: [2, 50],
    make: (project, size) =>
      list(size, (at) =>
        project.write(`prefabs/p${at}.json`, {
          objects: list(size, () => ({ name: 'x', prefab: `prefabs/p${(at + 1) % size}.json` })),
        }),
      ),
  },
  {
    name: 'with texts joined over and over',
    sizes: [10, 400],
    make: (project, size) =>
      project.write(
        'scripts/a.ts',
        `class A { go() { let n0 = 'a'; ${list(size, (at) => `const n${at + 1} = this.x ? n${at} + 'a' : n${at} + n${at};`).join(' ')} this.child(n${size}).go(); } }`,
      ),
  },
  {
    name: 'with one identity shared by all',
    sizes: [500, 100_000],
    make: (project, size) =>
      project.write('data/a.json', { rows: list(size, (at) => ({ id: 'x', next: at % 2 ? 'x' : 'y' })) }),
  },
  {
    name: 'with sections without number',
    sizes: [2_000, 300_000],
    make(project, size) {
      project.write('data/a.ini', list(size, (at) => `[s${at}]\nid = ${at}\npath = none/${at}.json`).join('\n'));
      project.write('data/same.ini', list(size, () => '[s]\na = 1').join('\n'));
      project.write('data/a.toml', list(size, (at) => `[s${at}]\nid = ${at}`).join('\n'));
      project.write('data/rows.csv', list(size, (at) => `${at},"${at}""",x`).join('\n'));
    },
  },
  {
    name: 'with nothing but what is missing',
    sizes: [300, 200_000],
    make: (project, size) =>
      project.write('data/a.json', {
        rows: list(size, (at) => ({ id: `row${at}`, next: `lost${at}`, path: `lost/file-${at}.json` })),
      }),
  },
  {
    name: 'with names that mean something elsewhere',
    sizes: [1, 1],
    make(project) {
      const names = [
        '__proto__',
        'constructor',
        'toString',
        'hasOwnProperty',
        '',
        ' ',
        '..',
        '\u202egate',
        '\u001b[2J',
      ];
      const rows = names.map((name) => ({ id: name, next: name, [name]: name, path: name }));
      project.write('data/a.json', JSON.stringify({ rows }));
      project.write('data/b.json', '{"__proto__": {"rows": [{"id": "polluted"}]}, "rows": [{"__proto__": 7}]}');
      project.write('scenes/a.json', {
        objects: names.map((name) => ({ name, prefab: name, scripts: [{ script: name }] })),
      });
      for (const name of ['\u001b[31mred.json', '\u202egnp.json', ' .json', '__proto__.json', "'; --.json", '\n.json'])
        project.write(`data/${name}`, '{"rows": []}');
      project.write('scripts/a.ts', 'class constructor { __proto__() { this.toString.hasOwnProperty(); } }');
      project.write('scripts/b.lua', '__proto__ = {} function __proto__.constructor() end');
    },
  },
  {
    name: 'with one line that does not end',
    sizes: [200_000, 50_000_000],
    make(project, size) {
      project.write('data/a.json', `{"rows": [{"id": "${'x'.repeat(size)}", "next": "${'y'.repeat(size / 4)}"}]}`);
      project.write('scripts/a.ts', `class A { b = "${'x'.repeat(size / 4)}"; }`);
      project.write('scripts/b.ts', `class B { b() { ${'this.c(1);'.repeat(size / 50)} } }`);
      project.write('data/a.xml', `<a b="${'x'.repeat(size / 4)}"/>`);
    },
  },
  {
    name: 'with folders within folders',
    sizes: [100, 1200],
    make(project, size) {
      project.write(`${'d/'.repeat(size)}a.json`, '{}');
      project.write(`${'e/'.repeat(20)}.gitignore`, '**/**/**/*a*a*a*b\n'.repeat(size));
    },
  },
  {
    name: 'with links that lead round and out, pipes and devices',
    sizes: [1, 1],
    make({ folder }) {
      symlinkSync('.', join(folder, 'round'));
      symlinkSync('/etc', join(folder, 'out'));
      symlinkSync('/dev/zero', join(folder, 'zero.json'));
      execFileSync('mkfifo', [join(folder, 'pipe.json'), join(folder, '.gitignore'), join(folder, '.glueignore')]);
    },
  },
  {
    name: 'with scripts that repeat themselves',
    sizes: [50, 4_000],
    make(project, size) {
      const body = list(30, (at) => `if (this.a${at} > ${at}) { this.go(${at}); this.b = this.c + ${at}; }`).join('\n');
      list(10, (file) =>
        project.write(
          `scripts/s${file}.ts`,
          list(size / 10, (at) => `export class C${file}x${at} { run() { ${body} } }`).join('\n'),
        ),
      );
    },
  },
  {
    name: 'with bytes that are no text',
    sizes: [1, 1],
    make(project) {
      for (const ending of ['json', 'xml', 'yaml', 'toml', 'ini', 'csv'])
        project.write(`data/a.${ending}`, Buffer.from([0xff, 0xfe, 0x00, 0xd8, 0x7b, 0x00, 0x22]));
      for (const ending of ['ts', 'lua', 'cs', 'py'])
        project.write(`scripts/a.${ending}`, Buffer.from(list(4000, (at) => (at * 7919) % 256)));
    },
  },
];
