// Measures scans of the synthetic project as ratios to a floor taken in the same run: npm run bench -- [S M L]
// The floor reads the same files and parses them with the same parsers, on one thread, and does nothing with them.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ensureBuilt, ensureInstalled, root } from './ready.mjs';
import { generate, SIZES } from '../samples/synthetic/generate.mjs';

const load = (path) => import(pathToFileURL(join(root, path)).href);
const [task, folder] = process.argv.slice(2);

/** What one measured process does; it prints its milliseconds and peak memory. */
const TASKS = {
  async floor() {
    const { discover } = await load('server/dist/files/discover.js');
    const { readText } = await load('server/dist/files/read-text.js');
    const { readTree, ruleFor, readsText, formatOf, readPlan, prepareGrammars } = await load('core/dist/index.js');
    const { parseOnly } = await load('core/dist/reading/scripts/grammar.js');
    const plan = readPlan(readFileSync(join(folder, 'glue-trace.json'), 'utf8'));
    const require = createRequire(join(root, 'server/package.json'));
    await prepareGrammars(new Set(Object.values(plan.scripts).map((rule) => rule.language)), async (path) =>
      readFileSync(require.resolve(path)),
    );
    return timed(() => {
      for (const { path, size } of discover(folder, []).files) {
        const rule = ruleFor(plan, path);
        if (!rule || !readsText(rule, path)) continue;
        const { text } = readText(join(folder, path), size);
        if (rule.of === 'scripts') parseOnly(text, rule.rule.language);
        else readTree(text, formatOf(path));
      }
    });
  },
  async scan() {
    const { openSession } = await load('server/dist/index.js');
    const session = openSession({ folder });
    const full = await timed(() => session.scan());
    const { graph } = full.result.analysis.linked;
    const counts = { objects: graph.pieceCount, links: graph.linkCount };
    const edit = async (path, change) => {
      const at = join(folder, path);
      writeFileSync(at, change(readFileSync(at, 'utf8')));
      const { milliseconds, result } = await timed(() => session.scan());
      if (
        result.reused !==
        full.result.files.filter((file) => file.status === 'read' || file.status === 'partly').length - 1
      )
        throw new Error(`not only ${path} was read again`);
      return milliseconds;
    };
    // Lines move, and a look-up or a slot asks for something else. What other files build on stays.
    const scriptEdits = [1, 2, 3].map(
      (n) => () =>
        edit('scripts/part0.ts', (text) => `// edit ${n}\n${text.replace(/child\('Node \d'\)/, `child('Node ${n}')`)}`),
    );
    const scene = 'scenes/' + readdirSync(join(folder, 'scenes'))[0];
    const sceneEdits = [1, 2, 3].map(
      (n) => () => edit(scene, (text) => `\n${text.replace(/"picture": "[^"]*"/, `"picture": "pictures/p${n}.svg"`)}`),
    );
    const middle = async (edits) => {
      const times = [];
      for (const one of edits) times.push(await one());
      return times.sort((a, b) => a - b)[1];
    };
    const script = await middle(scriptEdits);
    const sceneTime = await middle(sceneEdits);
    return { milliseconds: full.milliseconds, script, scene: sceneTime, ...counts };
  },
};

async function timed(run) {
  const started = performance.now();
  const result = await run();
  return { result, milliseconds: performance.now() - started };
}

if (task in TASKS) {
  const { result: _result, ...measured } = await TASKS[task]();
  process.stdout.write(JSON.stringify({ ...measured, peak: process.resourceUsage().maxRSS / 1024 }));
} else {
  ensureInstalled();
  ensureBuilt({ web: false });
  const names = process.argv.slice(2).filter((name) => name in SIZES);
  const all = {};
  for (const name of names.length > 0 ? names : Object.keys(SIZES)) all[name] = measure(name);
  const [last, before] = Object.keys(all).reverse();
  if (before) {
    const sizes = all[last].bytes / all[before].bytes;
    process.stdout.write(
      `${last}/${before}: time ${(all[last].scan.milliseconds / all[before].scan.milliseconds).toFixed(2)} × for ${sizes.toFixed(2)} × the bytes\n`,
    );
  }
}

function measure(name) {
  const made = mkdtempSync(join(tmpdir(), `glue-bench-${name}-`));
  try {
    const written = generate(made, SIZES[name]);
    const floor = child('floor', made);
    const scan = child('scan', made);
    const ratio = (value, to) => (value / to).toFixed(3);
    process.stdout.write(
      [
        `${name}: ${SIZES[name].scripts} scripts (${mega(written.scripts)}), ${SIZES[name].files} files (${mega(written.files)}), ${scan.objects} pieces, ${scan.links} links`,
        `  full scan          ${seconds(scan.milliseconds)} = ${ratio(scan.milliseconds, floor.milliseconds)} × floor (${seconds(floor.milliseconds)}), peak ${Math.round(scan.peak)} MB`,
        `  one script edited  ${seconds(scan.script)} = ${ratio(scan.script, scan.milliseconds)} × full scan`,
        `  one scene edited   ${seconds(scan.scene)} = ${ratio(scan.scene, scan.milliseconds)} × full scan`,
        '',
      ].join('\n'),
    );
    return { floor, scan, bytes: written.scripts + written.files };
  } finally {
    rmSync(made, { recursive: true, force: true });
  }
}

function child(name, made) {
  const { stdout, stderr, status } = spawnSync(
    process.execPath,
    ['--max-old-space-size=8192', process.argv[1], name, made],
    { encoding: 'utf8', maxBuffer: 1 << 26 },
  );
  if (status !== 0) throw new Error(`${name} failed: ${stderr}`);
  return JSON.parse(stdout);
}

function mega(bytes) {
  return `${(bytes / 1e6).toFixed(1)} MB`;
}

function seconds(milliseconds) {
  return `${(milliseconds / 1000).toFixed(2)} s`;
}
