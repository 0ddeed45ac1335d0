// Measures scans of the synthetic project as ratios to a floor taken in the same run: npm run bench -- [S M L | learn | play]
// The floor reads the same files and parses them with the same parsers, on one thread, and does nothing with them.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ensureBuilt, ensureInstalled, root } from './ready.mjs';
import { generate, MANY_FINDINGS, numbers, SIZES } from '../samples/synthetic/generate.mjs';

const load = (path) => import(pathToFileURL(join(root, path)).href);
const [task, folder] = process.argv.slice(2);

/** Seeds of the dialects that are given a habit that they lack. */
const HABIT_SEEDS = Array.from({ length: 12 }, (_, at) => 3001 + at);
/** Seeds of the dialects that learning is measured on. */
const DIALECTS = Array.from({ length: 60 }, (_, at) => at + 1001);

/** Missing references, each time twice as many. */
const MISSING = [2000, 4000, 8000];

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

  /** The search for twins alone, on facts that nothing is kept of. */
  async twins() {
    const { openSession } = await load('server/dist/index.js');
    const { findTwins } = await load('core/dist/index.js');
    const session = openSession({ folder });
    const { analysis } = await session.scan();
    const facts = JSON.parse(JSON.stringify(analysis.linked.facts.filter(({ script }) => script)));
    const before = process.memoryUsage().heapUsed;
    const { milliseconds } = await timed(() => findTwins(facts));
    return { milliseconds, more: (process.memoryUsage().heapUsed - before) / 1e6 };
  },
};

/** Planted copies of known kinds among unrelated code in five languages: how many are found, and how much else. */
TASKS.planted = async () => {
  const { plantTwins } = await load('core/dist/testing/planted.js');
  const { measureTwins } = await load('core/dist/testing/measure-twins.js');
  const { factsOf, planOf, useGrammars } = await load('core/dist/testing/project.js');
  await useGrammars();
  const endings = { typescript: 'ts', javascript: 'js', lua: 'lua', csharp: 'cs', python: 'py' };
  const rules = Object.entries(endings).map(([language, ending]) => [
    language,
    { match: `scripts/*.${ending}`, language },
  ]);
  const plan = planOf({ scripts: Object.fromEntries(rules) });
  const planted = plantTwins(11, 60, 8);
  const { facts } = factsOf(planted.files, plan);
  const functions = facts.reduce((sum, { script }) => sum + script.functions.length, 0);
  return { functions, scores: measureTwins(facts, planted) };
};

/** Linking and checking projects in which every reference, or every look-up, leads nowhere. */
TASKS.missing = async () => {
  const { carrier, factsOf, planOf, scene, script, useGrammars } = await load('core/dist/testing/project.js');
  const { analyse } = await load('core/dist/index.js');
  await useGrammars();
  const many = (count, make) => Array.from({ length: count }, (_, at) => make(at));
  const references = { all: { at: '$.rows[*]', by: 'path' } };
  /** What there is twice as much of each time, and a project with so many. */
  const projects = {
    'files that moved': (count) => ({
      'data/all.json': { rows: many(count, (at) => `data/old/rope-${at}.json`) },
      ...Object.fromEntries(many(count, (at) => [`data/new/rope-${at}.json`, { length: at }])),
    }),
    'look-ups': (count) => ({
      'scripts/a.ts': script('A', many(count, (at) => `this.child('Lost ${at}').go();`).join('\n')),
      'scenes/a.json': scene({ ...carrier('A', 'a.ts'), objects: many(count, (at) => ({ name: `Node ${at}` })) }),
    }),
  };
  const plan = planOf({ files: { ...planOf().files, data: { match: 'data/**', as: 'data asset', references } } });
  const times = {};
  for (const [what, project] of Object.entries(projects)) {
    times[what] = [];
    for (const count of MISSING) {
      const { facts, others } = factsOf(project(count), plan);
      const runs = [];
      for (let at = 0; at < 3; at++) runs.push((await timed(() => analyse(facts, others, plan))).milliseconds);
      times[what].push(runs.sort((a, b) => a - b)[1]);
    }
  }
  return { times };
};

/** Asks a running server as the interface does; milliseconds at the 95th percentile, by question. */
TASKS.queries = async () => {
  const { createServer } = await load('server/dist/index.js');
  const data = mkdtempSync(join(tmpdir(), 'glue-bench-data-'));
  const app = await createServer({
    storePath: join(data, 'glue.db'),
    folders: [{ folder }],
    startFolder: folder,
    version: '0',
    logLevel: 'silent',
  });
  const ask = async (path) => {
    const response = await app.inject({ url: `/api/projects/1${path}`, headers: { host: '127.0.0.1' } });
    if (response.statusCode !== 200) throw new Error(`${path}: ${response.body}`);
    return response.json();
  };
  while ((await ask('')).running) await new Promise((resolve) => setTimeout(resolve, 200));
  const random = numbers(7);
  const pick = (list) => list[random(list.length)];
  const words = ['part', 'node 3', 'group', 'clock', 'event.7', 'id-4', 'scenes/s1 leaf', 'p3.svg', 'type part12'];
  const hits = (
    await Promise.all(words.map((word) => ask(`/pieces?limit=100&text=${encodeURIComponent(word)}`)))
  ).flat();
  const key = () => encodeURIComponent(pick(hits).key);
  const scripts = hits.filter((hit) => hit.kind === 'type' || hit.kind === 'script');
  const { rows } = await ask('/findings?limit=50');
  const { total } = await ask('/findings');
  const { families } = await ask('/families');
  const questions = {
    'trace page': () => `/trace?piece=${key()}`,
    'trace of a type': () => `/trace?piece=${encodeURIComponent(pick(scripts).key)}`,
    'values in force': () => `/values?piece=${key()}`,
    chains: () => `/chains?from=${key()}&to=${key()}`,
    neighbourhood: () => `/neighbourhood?piece=${key()}&most=40`,
    search: () => `/pieces?text=${encodeURIComponent(pick(words).slice(0, 2 + random(12)))}`,
    coupling: () => `/coupling?by=${pick(['folder', 'scene'])}`,
    'findings page': () => `/findings?limit=100&offset=${random(Math.max(1, total - 100))}`,
    'findings filtered': () => `/findings?severity=error&text=${pick(['child', 'clock', 'scenes', 'part'])}`,
    finding: () => `/findings/${pick(rows).fingerprint}`,
    families: () => '/families',
    'a family': () => `/family?piece=${encodeURIComponent(pick(families).key)}`,
    twins: () => `/twins?limit=200${pick(['', '&order=saves', '&text=part1'])}`,
  };
  const measured = {};
  for (const [name, question] of Object.entries(questions)) {
    await ask(question());
    const times = [];
    for (let n = 0; n < 100; n++) {
      const path = question();
      times.push((await timed(() => ask(path))).milliseconds);
    }
    times.sort((a, b) => a - b);
    measured[name] = { middle: times[50], high: times[95], highest: times[99] };
  }
  await app.close();
  rmSync(data, { recursive: true, force: true });
  return { measured, findings: total };
};

/** The first screen of Findings with tens of thousands of them, and scrolling through it, in a real browser. */
TASKS.screen = async () => {
  const { createServer, listen } = await load('server/dist/index.js');
  const { chromium } = await import('playwright-core');
  const data = mkdtempSync(join(tmpdir(), 'glue-bench-data-'));
  const app = await createServer({
    storePath: join(data, 'glue.db'),
    folders: [{ folder }],
    startFolder: folder,
    webFolder: join(root, 'web/dist/browser'),
    version: '0',
    logLevel: 'silent',
  });
  const address = await listen(app, 0);
  const ask = async (path) => (await fetch(`${address}/api/projects/1${path}`)).json();
  while ((await ask('')).running) await new Promise((resolve) => setTimeout(resolve, 200));
  const { total } = await ask('/findings?limit=1');
  const browser = await chromium.launch({
    executablePath: process.env.CHROME_BIN ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(() => location.protocol === 'http:' && localStorage.setItem('glue-visited', 'yes'));
  const drawn = [];
  for (let n = 0; n < 5; n++) {
    const started = performance.now();
    await page.goto(`${address}/p/1/findings`);
    await page.locator('.row[role=option]').nth(10).waitFor();
    drawn.push(performance.now() - started);
  }
  await page.evaluate(() => {
    window.longTasks = [];
    new PerformanceObserver((list) => window.longTasks.push(...list.getEntries().map((one) => one.duration))).observe({
      type: 'longtask',
    });
  });
  await page.mouse.move(400, 500);
  for (let n = 0; n < 120; n++) {
    await page.mouse.wheel(0, 400);
    await page.waitForTimeout(30);
  }
  const rows = await page.locator('.row[role=option]').last().getAttribute('aria-posinset');
  const longTasks = await page.evaluate(() => window.longTasks);
  await browser.close();
  await app.close();
  rmSync(data, { recursive: true, force: true });
  return {
    findings: total,
    drawn: drawn.sort((a, b) => a - b)[2],
    slowest: Math.max(...drawn),
    scrolledTo: Number(rows),
    longest: Math.max(0, ...longTasks),
  };
};

/** Events a second that a game sends, for so many seconds, while somebody looks at them in a real browser. */
const [EVENTS, SECONDS] = [5000, 60];

TASKS.playing = async () => {
  const { createServer, listen } = await load('server/dist/index.js');
  const { chromium } = await import('playwright-core');
  const data = mkdtempSync(join(tmpdir(), 'glue-bench-data-'));
  const app = await createServer({
    storePath: join(data, 'glue.db'),
    folders: [{ folder }],
    startFolder: folder,
    webFolder: join(root, 'web/dist/browser'),
    version: '0',
    logLevel: 'silent',
  });
  const address = await listen(app, 0);
  const ask = async (path) => (await fetch(`${address}/api/projects/1${path}`)).json();
  while ((await ask('')).running) await new Promise((resolve) => setTimeout(resolve, 200));
  const { token, path } = await ask('/play');
  let sent = 0;
  const send = async (count) => {
    const events = Array.from({ length: count }, () => {
      sent++;
      const own = {
        type: `kind.${sent % 40}`,
        source: `Sender ${sent % 200}`,
        data: { height: sent % 7, name: 'Tender' },
      };
      return { specversion: '1.0', id: String(sent), time: new Date().toISOString(), frame: sent >> 6, ...own };
    });
    await fetch(address + path, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/cloudevents-batch+json' },
      body: JSON.stringify(events),
    });
  };
  await send(500);
  const browser = await chromium.launch({
    executablePath: process.env.CHROME_BIN ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(() => location.protocol === 'http:' && localStorage.setItem('glue-visited', 'yes'));
  await page.goto(`${address}/p/1/play`);
  await page.locator('.row').nth(10).waitFor();
  await page.waitForTimeout(2000);
  await page.evaluate(() => {
    window.longTasks = [];
    new PerformanceObserver((list) => window.longTasks.push(...list.getEntries().map((one) => one.duration))).observe({
      type: 'longtask',
    });
  });
  const started = performance.now();
  let slowest = 0;
  for (let tenth = 0; tenth < SECONDS * 10; tenth++) {
    const early = started + tenth * 100 - performance.now();
    if (early > 0) await new Promise((resolve) => setTimeout(resolve, early));
    const before = performance.now();
    await send(EVENTS / 10);
    slowest = Math.max(slowest, performance.now() - before);
  }
  const milliseconds = performance.now() - started;
  const longTasks = await page.evaluate(() => window.longTasks);
  const [session] = (await ask('/play')).sessions;
  const search = performance.now();
  await ask(`/play/sessions/${session.id}/events?text=nothing`);
  const searched = performance.now() - search;
  await browser.close();
  await app.close();
  rmSync(data, { recursive: true, force: true });
  return {
    ...{ sent, kept: session.events, dropped: session.dropped, aSecond: (sent - 500) / (milliseconds / 1000) },
    ...{ slowest, searched, longTasks: longTasks.length, longest: Math.max(0, ...longTasks) },
  };
};

/** Learning plans of made-up dialects: what of their links is found and right, and how sure the rules are. */
TASKS.dialects = async () => {
  const { dialectOf } = await load('core/dist/testing/dialects/dialect.js');
  const { measureLearning } = await load('core/dist/testing/measure-learning.js');
  const { useGrammars } = await load('core/dist/testing/project.js');
  await useGrammars();
  const shares = {};
  const tenths = Array.from({ length: 11 }, () => ({ rules: 0, right: 0, links: 0, rightLinks: 0, sure: 0 }));
  for (const seed of DIALECTS) {
    const { files, plan, broken } = dialectOf(seed, 1 + (seed % 3));
    const all = Object.entries(files).map(([path, text]) => ({ path, text }));
    const measured = measureLearning(all, JSON.stringify(plan), broken);
    for (const what of ['data', 'scripts', 'right', 'broken', 'errors']) {
      shares[what] ??= { of: 0, found: 0 };
      shares[what].of += measured[what].of;
      shares[what].found += measured[what].found;
    }
    for (const { evidence, share } of measured.rules) {
      const tenth = tenths[evidence.sure >= 0.95 ? 10 : Math.floor(evidence.sure * 10)];
      tenth.rules++;
      tenth.sure += evidence.sure;
      if (share.found >= share.of / 2) tenth.right++;
      tenth.links += share.of;
      tenth.rightLinks += share.found;
    }
  }
  return { shares, tenths };
};

/** What some teams do and the plain dialects do not: each habit in dialects of other seeds. */
TASKS.habits = async () => {
  const { dialectOf, withHabit } = await load('core/dist/testing/dialects/dialect.js');
  const { HABITS } = await load('core/dist/testing/dialects/habits.js');
  const { measureLearning } = await load('core/dist/testing/measure-learning.js');
  const { useGrammars } = await load('core/dist/testing/project.js');
  await useGrammars();
  const habits = {};
  for (const name of Object.keys(HABITS)) {
    const sum = (habits[name] = { found: 0, of: 0, right: 0, told: 0 });
    for (const seed of HABIT_SEEDS) {
      const { files, plan, broken, added } = withHabit(dialectOf(seed), name);
      const all = Object.entries(files).map(([path, text]) => ({ path, text }));
      const { data, scripts, right } = measureLearning(all, JSON.stringify(plan), broken, (file) => added.has(file));
      sum.found += data.found + scripts.found;
      sum.of += data.of + scripts.of;
      sum.right += right.found;
      sum.told += right.of;
    }
  }
  return { habits };
};

/** The sample without its plan, and once the first questions are answered as its own plan would have it. */
TASKS.sampled = async () => {
  const { measureLearning } = await load('core/dist/testing/measure-learning.js');
  const { sampleFiles, analyseTexts } = await load('core/dist/testing/sample.js');
  const { useGrammars } = await load('core/dist/testing/project.js');
  await useGrammars();
  const { plan, texts } = sampleFiles();
  const own = texts.get('glue-trace.json');
  const files = [...texts].filter(([path]) => path !== 'glue-trace.json').map(([path, text]) => ({ path, text }));
  const places = ({ evidence }) => evidence.map(({ file, range }) => `${file}:${range.line}`);
  const family = ({ check }) => check.split('/')[0];
  const planted = analyseTexts(plan, texts).findings;
  const after = [0, 10].map((answers) => {
    const { data, scripts, right, analysis } = measureLearning(files, own, [], undefined, answers);
    const told = new Set(analysis.findings.flatMap((one) => places(one).map((place) => `${family(one)} ${place}`)));
    const found = (name) => {
      const all = planted.filter((one) => family(one) === name);
      return { of: all.length, found: all.filter((one) => told.has(`${name} ${places(one)[0]}`)).length };
    };
    const links = { of: data.of + scripts.of, found: data.found + scripts.found };
    return { answers, links, right, broken: found('broken'), fragile: found('fragile') };
  });
  return { after };
};

/** Learning a plan from a large folder that has none. */
TASKS.learning = async () => {
  const { learnFolder } = await load('server/dist/index.js');
  const { milliseconds, result } = await timed(() => learnFolder(folder));
  return { milliseconds, rules: result.rules.length };
};

async function timed(run) {
  const started = performance.now();
  const result = await run();
  return { result, milliseconds: performance.now() - started };
}

if (task in TASKS) {
  const { result: _result, ...measured } = await TASKS[task]();
  process.stdout.write(JSON.stringify({ ...measured, peak: process.resourceUsage().maxRSS / 1024 }));
} else if (task === 'play') {
  ensureInstalled();
  ensureBuilt();
  const told = child('playing', join(root, 'samples/sluicekeeper'));
  process.stdout.write(
    [
      `play: ${told.sent} events sent, ${told.kept} kept, ${told.dropped} given up, ${Math.round(told.aSecond)} a second`,
      `  slowest answer to 500 of them ${Math.round(told.slowest)} ms; a stretch of 50,000 searched in ${Math.round(told.searched)} ms`,
      `  in the browser meanwhile: ${told.longTasks} tasks over 50 ms, the longest ${Math.round(told.longest)} ms`,
      '',
    ].join('\n'),
  );
} else if (task === 'learn') {
  ensureInstalled();
  ensureBuilt();
  measureLearning();
} else {
  ensureInstalled();
  ensureBuilt();
  const names = process.argv.slice(2).filter((name) => name in SIZES);
  const all = {};
  for (const name of names.length > 0 ? names : Object.keys(SIZES)) all[name] = measure(name);
  const made = mkdtempSync(join(tmpdir(), 'glue-bench-many-'));
  generate(made, MANY_FINDINGS);
  const { functions, scores } = child('planted', '');
  process.stdout.write(`planted copies among ${functions} functions, recall and precision:\n`);
  for (const { kind, planted, found, told, right } of scores)
    process.stdout.write(
      `  ${kind.padEnd(10)} ${((100 * found) / planted).toFixed(1).padStart(6)} % ${((100 * right) / told).toFixed(1).padStart(6)} %\n`,
    );
  const { times } = child('missing', '');
  process.stdout.write(`what leads nowhere, ${MISSING.join(', ')} times, and how much longer twice as many take:\n`);
  for (const [what, all] of Object.entries(times))
    process.stdout.write(
      `  ${what.padEnd(18)} ${all.map((time, at) => seconds(time) + (at > 0 ? ` (${(time / all[at - 1]).toFixed(2)} ×)` : '')).join(', ')}\n`,
    );
  const { findings, drawn, slowest, scrolledTo, longest } = child('screen', made);
  rmSync(made, { recursive: true, force: true });
  process.stdout.write(
    `Findings with ${findings} of them: first screen after ${Math.round(drawn)} ms (slowest ${Math.round(slowest)} ms); scrolling to row ${scrolledTo}, longest task ${Math.round(longest)} ms\n`,
  );
  const [last, before] = Object.keys(all).reverse();
  if (before) {
    const sizes = all[last].bytes / all[before].bytes;
    process.stdout.write(
      `${last}/${before}: time ${(all[last].scan.milliseconds / all[before].scan.milliseconds).toFixed(2)} × for ${sizes.toFixed(2)} × the bytes\n`,
    );
  }
}

/** Learning: the made-up dialects, and time and memory on size L. */
function measureLearning() {
  const { shares, tenths } = child('dialects', '');
  const percent = (found, of) => (of === 0 ? '–' : `${((100 * found) / of).toFixed(1)} %`);
  const { data, scripts, right, broken, errors } = shares;
  process.stdout.write(
    [
      `learning ${DIALECTS.length} made-up dialects, with no help:`,
      `  links in data      ${percent(data.found, data.of)} of ${data.of} found`,
      `  links in scripts   ${percent(scripts.found, scripts.of)} of ${scripts.of} found`,
      `  of all links told  ${percent(right.found, right.of)} of ${right.of} right`,
      `  broken references  ${percent(broken.found, broken.of)} of ${broken.of} found`,
      `  of all errors told ${percent(errors.found, errors.of)} of ${errors.of} right`,
      '  sure               rules  right      links  right',
      ...tenths.flatMap(({ rules, right: good, links, rightLinks, sure }, at) =>
        rules === 0
          ? []
          : [
              `  ${at === 10 ? 'from 0.95' : `from ${(at / 10).toFixed(1)} `} (${(sure / rules).toFixed(3)}) ${String(rules).padStart(5)} ${percent(good, rules).padStart(7)} ${String(links).padStart(9)} ${percent(rightLinks, links).padStart(7)}`,
            ],
      ),
      '',
    ].join('\n'),
  );
  const { habits } = child('habits', '');
  const { after } = child('sampled', '');
  const share = (one) => percent(one.found, one.of);
  process.stdout.write(
    [
      `  habits that they lack, over ${HABIT_SEEDS.length} dialects each: links found, and right of those told`,
      ...Object.entries(habits).map(
        ([name, { found, of, right, told }]) =>
          `  ${name.padEnd(28)} ${percent(found, of).padStart(8)} of ${String(of).padStart(5)} ${percent(right, told).padStart(8)}`,
      ),
      '  the sample without its plan: of what its own plan gives',
      ...after.map(
        ({ answers, links, right, broken, fragile }) =>
          `  after ${answers} answers: links ${share(links)}, right ${share(right)}, broken ${share(broken)} of ${broken.of}, fragile ${share(fragile)} of ${fragile.of}`,
      ),
      '',
    ].join('\n'),
  );
  const made = mkdtempSync(join(tmpdir(), 'glue-bench-learn-'));
  try {
    generate(made, SIZES.L);
    const scan = child('scan', made);
    rmSync(join(made, 'glue-trace.json'));
    const learn = child('learning', made);
    process.stdout.write(
      `  on size L: ${seconds(learn.milliseconds)} = ${(learn.milliseconds / scan.milliseconds).toFixed(3)} × its full scan (${seconds(scan.milliseconds)}), peak ${Math.round(learn.peak)} MB, ${learn.rules} rules\n`,
    );
  } finally {
    rmSync(made, { recursive: true, force: true });
  }
}

function measure(name) {
  const made = mkdtempSync(join(tmpdir(), `glue-bench-${name}-`));
  try {
    const written = generate(made, SIZES[name]);
    const floor = child('floor', made);
    const scan = child('scan', made);
    const twins = child('twins', made);
    const ratio = (value, to) => (value / to).toFixed(3);
    process.stdout.write(
      [
        `${name}: ${SIZES[name].scripts} scripts (${mega(written.scripts)}), ${SIZES[name].files} files (${mega(written.files)}), ${scan.objects} pieces, ${scan.links} links`,
        `  full scan          ${seconds(scan.milliseconds)} = ${ratio(scan.milliseconds, floor.milliseconds)} × floor (${seconds(floor.milliseconds)}), peak ${Math.round(scan.peak)} MB`,
        `  one script edited  ${seconds(scan.script)} = ${ratio(scan.script, scan.milliseconds)} × full scan`,
        `  one scene edited   ${seconds(scan.scene)} = ${ratio(scan.scene, scan.milliseconds)} × full scan`,
        `  search for twins   ${seconds(twins.milliseconds)} = ${ratio(twins.milliseconds, scan.milliseconds)} × full scan, ${Math.round(twins.more)} MB more`,
        '',
      ].join('\n'),
    );
    const { measured, findings } = child('queries', made);
    process.stdout.write(
      `  with ${findings} findings, milliseconds at the middle, the 95th percentile and the highest:\n`,
    );
    for (const [question, { middle, high, highest }] of Object.entries(measured))
      process.stdout.write(
        `    ${question.padEnd(18)} ${[middle, high, highest].map((time) => time.toFixed(1).padStart(7)).join('')}\n`,
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
