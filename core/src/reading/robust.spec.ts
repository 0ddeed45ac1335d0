/** Whatever stands in a file: it is read without a fault of ours, nothing is lost, and every place lies inside of it. */
import fc from 'fast-check';
import { GlueError } from '../model/errors.js';
import type { Range } from '../model/piece.js';
import { PLAN, useGrammars } from '../testing/project.js';
import { readGlueFactsFrom } from '../testing/glue-facts.js';
import type { FileFacts } from './facts.js';
import { LANGUAGES, type Language } from './plan/plan.js';
import { readPlan } from './plan/read-plan.js';
import { readFile } from './read-file.js';
import { ruleFor } from './read-structured.js';
import { FORMATS, readTree, type Format } from './tree/read-tree.js';
import type { TreeNode } from './tree/node.js';

const TEXTS: Record<Format, string> = {
  json: '{"title": "Flight", "objects": [{"name": "Gate", "id": 7, "slots": {"a": "#x", "b": null}}, true]}',
  yaml: 'title: Flight\nobjects: &all\n  - name: Gate\n    id: 7\n  - !Boat {name: "Tender", on: yes}\nmore: *all\ntext: |\n  two\n  lines\n---\nsecond: 1\n',
  xml: '<?xml version="1.0"?>\n<flight title="Upper"><gate name="A &amp; B" id="7"/><text>some <![CDATA[<text>]]></text><!-- note --></flight>',
  toml: 'title = "Flight"\n[gate]\nid = 7\nwhen = 1979-05-27\n[[boats]]\nname = "Tender"\n[[boats]]\nname = \'Barge\'\n',
  ini: 'title = Flight\n; note\n[gate]\nname = "A"\nopen: yes\n',
  csv: 'name,id\n"A, B",7\n"two\nlines",8\n',
};
const CODE: Record<Language, string> = {
  typescript:
    "import { a } from './b';\nexport class Rope<T> extends Base { @slot cleat?: Cleat; begin() { const c = this.holder?.child(`Cl${x}eat`); if (!c) return; bells.ring('tight', c); } }",
  javascript: "class A { f() { for (const x of y) this.z = x ?? a.b?.('c'); } }\nconst t = { k: 'v', ['w']: () => 1 };",
  lua: 'local Rope = Base:extend()\nfunction Rope:begin()\n  local c = self.holder:child("Cleat")\n  if not c then return end\n  bells.ring("tight", c)\nend\nreturn Rope',
  csharp:
    'using Deck;\npublic class Rope : Base { [Slot] public Cleat cleat; void Begin() { var c = Holder?.Child($"Cl{x}eat"); Tight += OnTight; } }',
  python:
    'from deck import Base\n\nclass Rope(Base):\n    cleat: Slot[Cleat] = None\n    def begin(self):\n        c = self.holder.child(f"Cl{x}eat")\n        if not c:\n            return\n',
};
/** `npm run fuzz` makes many more. */
const RUNS = Number(process.env['GLUE_FUZZ_RUNS'] ?? 120);

/** Texts that begin as a right one, with some of it taken out, doubled, or put elsewhere, and oddities put in. */
function spoilt(text: string): fc.Arbitrary<string> {
  const oddity = fc.constantFrom(
    '"',
    "'",
    '{',
    '}',
    '[',
    ']',
    '(',
    '<',
    '>',
    '&',
    '\u0000',
    '\ufeff',
    '\u2028',
    '\ud83d\ude80',
    '\ud800',
    '\r',
    '\n',
    '\t',
    '\\',
    '#',
    '---',
    '&a *a',
    '<!--',
    '"""',
    '`${',
    '=',
    ':',
    ',',
  );
  const place = fc.nat({ max: text.length });
  const change = fc.oneof(
    fc.record({ do: fc.constant('insert' as const), at: place, what: oddity }),
    fc.record({ do: fc.constant('cut' as const), at: place, length: fc.nat({ max: 12 }) }),
    fc.record({ do: fc.constant('double' as const), at: place, length: fc.nat({ max: 40 }) }),
    fc.record({ do: fc.constant('end' as const), at: place }),
  );
  return fc.array(change, { maxLength: 6 }).map((changes) =>
    changes.reduce((now, one) => {
      const at = Math.min(one.at, now.length);
      if (one.do === 'insert') return now.slice(0, at) + one.what + now.slice(at);
      if (one.do === 'cut') return now.slice(0, at) + now.slice(at + one.length);
      if (one.do === 'double') return now.slice(0, at + one.length) + now.slice(at);
      return now.slice(0, at);
    }, text),
  );
}

function everyRange(value: unknown, visit: (range: Range) => void): void {
  if (typeof value !== 'object' || value === null) return;
  if ('endColumn' in value) visit(value as Range);
  else for (const inner of Object.values(value)) everyRange(inner, visit);
}

/** Says what is wrong with the places in some facts; empty when all lie inside the text. */
function misplaced(facts: FileFacts, text: string): string {
  const lines = text.split(/\r\n|\r|\n/);
  let wrong = '';
  everyRange(facts, ({ line, column, endLine, endColumn }) => {
    const isInside =
      line >= 1 &&
      endLine >= line &&
      endLine <= lines.length &&
      column >= 1 &&
      endColumn >= 1 &&
      column <= lines[line - 1].length + 2 &&
      endColumn <= lines[endLine - 1].length + 2;
    const isOrdered = endLine > line || endColumn >= column;
    if (!isInside || !isOrdered) wrong ||= JSON.stringify({ line, column, endLine, endColumn });
  });
  return wrong;
}

describe('structured files, spoilt at random', () => {
  for (const format of FORMATS) {
    it(`are read without a fault, every place inside: ${format}`, () => {
      fc.assert(
        fc.property(fc.oneof(spoilt(TEXTS[format]), fc.string({ maxLength: 60, unit: 'binary' })), (text) => {
          const { documents, problems } = readTree(text, format);
          const open: TreeNode[] = [...documents];
          for (let node = open.pop(); node; node = open.pop()) {
            if (node.start < 0 || node.end < node.start || node.end > text.length)
              throw new Error(`${node.start}–${node.end} of ${text.length}`);
            if (node.keyStart > text.length || node.keyEnd > text.length) throw new Error(`name at ${node.keyStart}`);
            open.push(...node.children);
          }
          return problems.every((problem) => problem.message.length > 0);
        }),
        { numRuns: RUNS },
      );
    });
  }

  it('give facts with places inside, by any rule', () => {
    const plan = readPlan(
      JSON.stringify({ ...PLAN, files: { all: { ...PLAN.files.scenes, match: '**', format: 'yaml' } }, scripts: {} }),
    );
    const rule = ruleFor(plan, 'a.scene')!;
    fc.assert(
      fc.property(spoilt(TEXTS.json), (text) => misplaced(readFile('a.scene', text, rule, plan), text) === ''),
      { numRuns: RUNS },
    );
  });
});

describe('scripts, spoilt at random', () => {
  beforeAll(useGrammars);
  for (const language of LANGUAGES) {
    it(`are read without a fault, every place inside: ${language}`, () => {
      const plan = readPlan(
        JSON.stringify({
          ...PLAN,
          scripts: { all: { match: '**', language, moments: { start: 'begin' } } },
          literals: { all: { pattern: '.+', by: 'id' } },
        }),
      );
      const rule = ruleFor(plan, 'a')!;
      fc.assert(
        fc.property(spoilt(CODE[language]), (text) => {
          const wrong = misplaced(readFile('a', text, rule, plan), text);
          if (wrong) throw new Error(wrong);
        }),
        { numRuns: RUNS },
      );
    });
  }
});

describe('plans and glue facts, spoilt at random', () => {
  it('are refused with mistakes, or taken', () => {
    fc.assert(
      fc.property(spoilt(JSON.stringify(PLAN, null, 1)), (text) => {
        try {
          readPlan(text);
        } catch (error) {
          if (!(error instanceof GlueError) || error.mistakes.some((mistake) => !mistake.message)) throw error;
        }
      }),
      { numRuns: RUNS },
    );
  });

  it('keep the lines that can be read', () => {
    const text = '{"fact":"piece","id":"a","kind":"object"}\n{"fact":"link","from":"a","verb":"uses"}\n';
    fc.assert(
      fc.property(spoilt(text), (spoiltText) => {
        const facts = readGlueFactsFrom(`${spoiltText}\n{"fact":"piece","id":"last","kind":"object"}`);
        return facts.pieces.at(-1)?.id === 'last' || facts.problems.length > 0;
      }),
      { numRuns: RUNS },
    );
  });
});

describe('files made to do harm', () => {
  const DEEP = 10_000;
  const deep: Record<string, [Format, string]> = {
    'JSON lists': ['json', '['.repeat(DEEP) + ']'.repeat(DEEP)],
    'JSON objects': ['json', '{"a":'.repeat(DEEP) + '1' + '}'.repeat(DEEP)],
    'YAML flows': ['yaml', '['.repeat(DEEP)],
    'XML elements': ['xml', '<a>'.repeat(DEEP) + '</a>'.repeat(DEEP)],
    'TOML lists': ['toml', `a = ${'['.repeat(DEEP)}${']'.repeat(DEEP)}`],
  };
  for (const [name, [format, text]] of Object.entries(deep)) {
    it(`are read, or refused in words, when nested ${DEEP} deep: ${name}`, () => {
      const { documents, problems } = readTree(text, format);
      expect(documents.length + problems.length).toBeGreaterThan(0);
      expect(problems.map((problem) => problem.message).join()).not.toContain('stack');
    });
  }

  it('read a line of two million letters', () => {
    const { documents, problems } = readTree(`{"a": "${'x'.repeat(2_000_000)}", "b": 1}`, 'json');
    expect([documents[0].children.length, problems]).toEqual([2, []]);
  });
});
