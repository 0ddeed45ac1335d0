// Writes the pages of docs/ that come from the code; with --check says whether they are up to date. Either way it says
// which links of all pages lead nowhere: to no file, or to a file of code that does not have the name.
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { jsonSchema, keysTable } from './joi-schema.mjs';
import { root } from './ready.mjs';

const {
  baselineSchema,
  CHECKS,
  ERRORS,
  linkLine,
  pieceLine,
  PLAY_CHECKS,
  planSchema,
  playEventSchema,
  routesSchema,
  waiversSchema,
} = await import(pathToFileURL(join(root, 'core/dist/index.js')).href);
const load = (path) => import(pathToFileURL(join(root, 'core/dist', path)).href);
const { examplesOf } = await load('reports/examples.js');
const { MEANING } = await load('reading/plan/meanings.js');
const { VERBS } = await load('model/link.js');
const { useGrammars } = await load('testing/project.js');
const { analyseTexts, sampleFiles } = await load('testing/sample.js');
await useGrammars();
const { plan: samplePlan, texts } = sampleFiles();
const sample = analyseTexts(samplePlan, texts);
const isCheck = process.argv.includes('--check');
const FAMILIES = { broken: 'leads nowhere', twin: 'the same thing again', fragile: 'works until somebody touches it' };

function checksPage() {
  const families = Object.entries(FAMILIES).map(([family, words]) => {
    const checks = CHECKS.filter((check) => check.id.startsWith(`${family}/`));
    if (checks.length === 0) return '';
    const entries = checks.map(
      ({ id, title, severity, why, decides }) =>
        `### ${id}\n\n${title}. Severity: **${severity}**.\n\n${why}\n\n**How it decides.** ${decides}\n\n**In the sample:**\n\n${examplesOf(sample, id)}`,
    );
    return `## ${family} – ${words}\n\n${entries.join('\n')}`;
  });
  const intro =
    'Written from the checks themselves by `node tools/docs.mjs`. Severity: **error** will fail in play, **warning** will fail after an ordinary change or an unlucky order, **note** is worth knowing. A plan can switch a check off or weigh it otherwise: `"checks": { "fragile/climb": "off" }`.';
  return `# The checks\n\n${intro}\n\n${families.filter(Boolean).join('\n')}`;
}

function errorsPage() {
  const rows = Object.entries(ERRORS).map(
    ([code, { title, status, exit }]) => `| \`${code}\` | ${title} | ${status} | ${exit} |`,
  );
  return `# Errors\n\nWritten from the table in \`core/src/model/errors.ts\` by \`node tools/docs.mjs\`. The API answers every error as problem details (RFC 9457) with the code as \`code\`; the command line prints the code in brackets.\n\n| code | meaning | HTTP status | exit code |\n| --- | --- | --- | --- |\n${rows.join('\n')}\n`;
}

const plan = planSchema.describe();
/** The description of what a rule by name, or an item of a list, may hold. */
const inner = (of) => of.patterns?.[0].rule ?? of.items?.[0] ?? of;
const files = inner(plan.keys.files).keys;
const pieces = inner(files.pieces).keys;
const TABLES = {
  plan,
  source: pieces.named.matches[0].schema.matches[1].schema,
  target: inner(plan.keys.calls).keys.target,
  files: inner(plan.keys.files),
  embedded: inner(files.embedded),
  pieces: inner(files.pieces),
  values: inner(pieces.values),
  parts: inner(pieces.parts),
  overrides: inner(pieces.overrides),
  references: withoutTarget(inner(files.references)),
  events: inner(files.events),
  connections: inner(files.connections),
  attachments: inner(files.attachments),
  graphs: inner(files.graphs),
  packages: plan.keys.packages,
  scripts: inner(plan.keys.scripts),
  tables: inner(inner(plan.keys.scripts).keys.tables),
  calls: inner(plan.keys.calls),
  house: plan.keys.house,
  places: plan.keys.house.keys.places.items[0],
  exposed: inner(plan.keys.scripts).keys.exposed,
  engine: plan.keys.engine,
  play: plan.keys.play,
  'piece line': pieceLine.describe(),
  'link line': linkLine.describe(),
};

/** Keys that are a target's are told once, for all. */
function withoutTarget(rule) {
  const target = inner(plan.keys.calls).keys.target.keys;
  return {
    ...rule,
    keys: Object.fromEntries(Object.entries(rule.keys).filter(([key]) => key === 'by' || !(key in target))),
  };
}

const dollar = (roles) => roles.map((role) => `\`$${role}\``).join(', ');
/** Lists that the code keeps. */
const LISTS = {
  roles: () =>
    [
      '| `means` | reads | does nothing without one of |',
      '| --- | --- | --- |',
      ...Object.entries(MEANING).map(
        ([name, { roles, needs }]) => `| \`${name}\` | ${dollar(roles) || 'nothing'} | ${needs ? dollar(needs) : ''} |`,
      ),
    ].join('\n'),
  'play checks': () =>
    PLAY_CHECKS.map(
      ({ id, title, severity, why, decides }) => `- **${id}** (${severity}): ${title}. ${why} ${decides}`,
    ).join('\n'),
  verbs: () => VERBS.map((verb) => `\`${verb}\``).join(', '),
};

/** A page written by hand, with its tables of keys and its lists made anew. */
function withTables(name) {
  const page = readFileSync(join(root, 'docs', name), 'utf8');
  return page
    .replace(
      /(<!-- keys of: (.+?) -->\n)[^]*?(<!-- end -->)/g,
      (_, begin, table, end) => `${begin}\n${keysTable(TABLES[table])}\n\n${end}`,
    )
    .replace(
      /(<!-- list of: (.+?) -->\n)[^]*?(<!-- end -->)/g,
      (_, begin, list, end) => `${begin}\n${LISTS[list]()}\n\n${end}`,
    );
}

const schemaText = (described, title) => JSON.stringify(jsonSchema(described, title), null, 2) + '\n';

const { format, resolveConfig } = await import('prettier');
let stale = 0;
for (const { id } of CHECKS)
  if (examplesOf(sample, id) === '') {
    process.stderr.write(`${id}: the sample has no finding to show\n`);
    stale++;
  }
for (const [name, text] of [
  ['checks.md', checksPage()],
  ['errors.md', errorsPage()],
  ['reading-plan.md', withTables('reading-plan.md')],
  ['play.md', withTables('play.md')],
  ['glue-facts.md', withTables('glue-facts.md')],
  ['schemas/glue-trace.schema.json', schemaText(plan, 'The reading plan of Glue Trace')],
  ['schemas/glue-trace.waivers.schema.json', schemaText(waiversSchema.describe(), 'Waivers of Glue Trace')],
  ['schemas/glue-trace.routes.schema.json', schemaText(routesSchema.describe(), 'Routes of Glue Trace')],
  ['schemas/glue-trace.baseline.schema.json', schemaText(baselineSchema.describe(), 'A baseline of Glue Trace')],
  ['schemas/glue-play-event.schema.json', schemaText(playEventSchema.describe(), 'A line of a play log')],
  [
    'schemas/glue-facts.schema.json',
    JSON.stringify(
      {
        $schema: 'https://json-schema.org/draft/2020-12/schema',
        title: 'A line of a glue facts file of Glue Trace',
        oneOf: [pieceLine, linkLine]
          .map((line) => jsonSchema(line.describe(), 'line'))
          .map(({ $schema: _schema, title: _title, ...rest }) => rest),
      },
      null,
      2,
    ) + '\n',
  ],
]) {
  const path = join(root, 'docs', name);
  const page = await format(text, { ...(await resolveConfig(path)), filepath: path });
  let before = '';
  try {
    before = readFileSync(path, 'utf8');
  } catch {
    // A page that is not there yet is out of date.
  }
  if (before === page) continue;
  if (isCheck) {
    process.stderr.write(`docs/${name} is out of date: run node tools/docs.mjs\n`);
    stale++;
  } else writeFileSync(path, page);
}

const pages = ['.', 'docs'].flatMap((folder) =>
  readdirSync(join(root, folder))
    .filter((name) => name.endsWith('.md'))
    .map((name) => join(folder, name)),
);
for (const page of pages)
  for (const [, title, to] of readFileSync(join(root, page), 'utf8').matchAll(/\[([^\]]*)\]\(([^)#\s]+)[^)]*\)/g)) {
    if (/^[a-z]+:/.test(to)) continue;
    const path = join(root, dirname(page), to);
    const name = /^`(\w+)`$/.exec(title)?.[1];
    const isRight = existsSync(path) && (!name || !to.endsWith('.ts') || readFileSync(path, 'utf8').includes(name));
    if (isRight) continue;
    process.stderr.write(`${page}: the link [${title}](${to}) leads nowhere\n`);
    stale++;
  }
process.exit(stale > 0 ? 1 : 0);
