// Lists the packages that are shipped, by their licences: npm run licences. With --check it says which have one that is
// not allowed, and whether docs/licences.md is up to date; without, it writes that page.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './ready.mjs';

/** Licences under which a studio may ship the tool inside its own, without giving anything of its own away. */
const ALLOWED = new Set(['MIT', 'ISC', '0BSD', 'BSD-2-Clause', 'BSD-3-Clause', 'Apache-2.0', 'BlueOak-1.0.0']);
/** Packages that are taken all the same, each with the reason. */
const DECIDED = {
  elkjs:
    'EPL-2.0 chosen of its two. It is used as it is, as a package of its own: what the licence asks for its source holds for changes of elkjs itself, and there are none. Its source is at https://github.com/kieler/elkjs; whoever ships the built interface passes that on with this page.',
};

const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
const shipped = Object.entries(packages)
  .filter(([path, one]) => path.includes('node_modules/') && !one.dev && !one.link)
  .map(([path, { version, license = 'none' }]) => ({ name: path.split('node_modules/').at(-1), version, license }))
  .sort((a, b) => (a.name < b.name ? -1 : 1));

/** Whether one of the licences to choose from is allowed. */
const isAllowed = ({ license }) =>
  license
    .replace(/[()]/g, '')
    .split(' OR ')
    .some((one) => ALLOWED.has(one));
const strange = shipped.filter((one) => !isAllowed(one) && !(one.name in DECIDED));

const cells = (row) => `| ${row.join(' | ')} |`;
const page = `# Licences of what is shipped

Written by \`npm run licences\` from the lock file: the packages that the server, the command line and the built interface
hold. Allowed are ${[...ALLOWED].join(', ')}; others are decided one by one.

${Object.entries(DECIDED)
  .map(([name, why]) => `- **${name}**: ${why}`)
  .join('\n')}

${[cells(['package', 'version', 'licence']), cells(['---', '---', '---']), ...shipped.map((one) => cells([one.name, one.version, one.license]))].join('\n')}
`;
const file = join(root, 'docs', 'licences.md');
const { format, resolveConfig } = await import('prettier');
const text = await format(page, { ...(await resolveConfig(file)), filepath: file });

const faults = strange.map(
  ({ name, version, license }) => `${name} ${version} has the licence ${license}, which nobody has decided on.`,
);
if (process.argv.includes('--check')) {
  if (readFileSync(file, 'utf8') !== text) faults.push('docs/licences.md is out of date: run npm run licences.');
} else writeFileSync(file, text);
for (const fault of faults) process.stderr.write(`${fault}\n`);
process.stdout.write(`${shipped.length} packages are shipped, ${strange.length} with a licence that is not allowed.\n`);
process.exit(faults.length > 0 ? 1 : 0);
