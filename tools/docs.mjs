// Writes the pages of docs/ that come from the code; with --check says whether they are up to date.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root } from './ready.mjs';

const { CHECKS, ERRORS } = await import(pathToFileURL(join(root, 'core/dist/index.js')).href);
const isCheck = process.argv.includes('--check');
const FAMILIES = { broken: 'leads nowhere', twin: 'the same thing again', fragile: 'works until somebody touches it' };

function checksPage() {
  const families = Object.entries(FAMILIES).map(([family, words]) => {
    const checks = CHECKS.filter((check) => check.id.startsWith(`${family}/`));
    if (checks.length === 0) return '';
    const entries = checks.map(
      ({ id, title, severity, why, decides }) =>
        `### ${id}\n\n${title}. Severity: **${severity}**.\n\n${why}\n\n**How it decides.** ${decides}\n`,
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

const { format, resolveConfig } = await import('prettier');
let stale = 0;
for (const [name, text] of [
  ['checks.md', checksPage()],
  ['errors.md', errorsPage()],
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
process.exit(stale > 0 ? 1 : 0);
