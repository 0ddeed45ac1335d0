/** Reports and the map for other programs, read back by programs that are not ours. */
import { parse as parseDot } from '@ts-graphviz/ast';
import { parse as parseCsv } from 'csv-parse/sync';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { DirectedGraph } from 'graphology';
import graphml from 'graphology-graphml';
import { parse as parseHtml } from 'parse5';
import { CHECK_IDS } from '../checks/registry.js';
import type { Analysis } from '../analyse.js';
import { excerptOf } from '../model/evidence.js';
import { scan, useGrammars } from '../testing/project.js';
import { analyseTexts, sampleFiles } from '../testing/sample.js';
import { viewFinding } from '../trace/finding-view.js';
import { piecesNamed } from '../trace/search.js';
import { toCsv } from './csv.js';
import { toHtml } from './html.js';
import { toJunit } from './junit.js';
import { partOf, toDot, toGraphml } from './map-files.js';
import { toMarkdown } from './markdown.js';
import type { Report } from './report.js';
import { toSarif } from './sarif.js';
import { toText } from './text.js';

function reportOf({ linked, findings, readiness }: Analysis, more: Partial<Report> = {}): Report {
  const views = findings.map((one) => viewFinding(linked.graph, one));
  return { project: 'Flight', at: '', version: '0.0.1', readiness, findings: views, ...more };
}

interface Suites {
  testsuites: {
    '@_failures': string;
    '@_tests': string;
    testsuite: { '@_name': string; testcase: { failure?: object; skipped?: object; '@_name': string }[] }[];
  };
}
const readJunit = (text: string): Suites['testsuites'] => {
  expect(XMLValidator.validate(text)).toBeTrue();
  const parser = new XMLParser({ ignoreAttributes: false, isArray: (name) => /^test(?:suite|case)$/.test(name) });
  return (parser.parse(text) as Suites).testsuites;
};
const readCsv = (text: string): Record<string, string>[] => parseCsv(text, { columns: true });
const readHtml = (text: string): string[] => {
  const mistakes: string[] = [];
  parseHtml(text, { onParseError: ({ code }) => void mistakes.push(code) });
  return mistakes;
};

describe('reports of the sample', () => {
  let analysis: Analysis;
  let report: Report;
  beforeAll(async () => {
    await useGrammars();
    const { plan, texts } = sampleFiles();
    analysis = analyseTexts(plan, texts);
    report = reportOf(analysis, {
      excerpt: (file, range) => excerptOf(file, texts.get(file) ?? '', range),
    });
  });
  const errors = (): number => report.findings.filter(({ severity }) => severity === 'error').length;

  it('hold every finding in full, as a table', () => {
    const rows = readCsv(toCsv(report));
    expect(rows.map((row) => row['finding'])).toEqual(report.findings.map(({ text }) => text));
    expect(rows.map((row) => `${row['file']}:${row['line']}`)).toEqual(
      report.findings.map(({ evidence: [{ file, range }] }) => `${file}:${range.line}`),
    );
  });
  it('as cases, of which those at the threshold fail, with a passed one for each check that found nothing', () => {
    const { testsuite, ...sums } = readJunit(toJunit(report, 'error', CHECK_IDS));
    const cases = testsuite.flatMap(({ testcase }) => testcase);
    expect(testsuite.map((one) => one['@_name']).sort()).toEqual([...CHECK_IDS].sort());
    expect([cases.filter(({ failure }) => failure !== undefined).length, Number(sums['@_failures'])]).toEqual([
      errors(),
      errors(),
    ]);
    expect(Number(sums['@_tests'])).toBe(cases.length);
    const all = readJunit(toJunit(report, 'note', []));
    expect(Number(all['@_failures'])).toBe(report.findings.length);
    expect(Number(readJunit(toJunit(report, 'never', []))['@_failures'])).toBe(0);
  });
  it('as a page that stands alone, with the lines of each place', () => {
    const html = toHtml(report);
    expect(readHtml(html)).toEqual([]);
    expect(html.match(/<article /g)?.length).toBe(report.findings.length);
    // Nothing is asked of any network.
    expect(html).not.toMatch(/\s(?:src|href)=|@import|url\(|https?:/);
    expect(html.match(/class="line marked"/g)!.length).toBeGreaterThan(report.findings.length);
  });
  it('as Markdown, an entry each', () => {
    const text = toMarkdown(report);
    expect(text.match(/^- /gm)?.length).toBe(report.findings.length);
    expect(text).toContain(`## Errors (${errors()})`);
  });
  it('give the map whole, or what lies around a piece', () => {
    const { graph } = analysis.linked;
    const whole = graphml.parse(DirectedGraph, [...toGraphml(graph, partOf(graph))].join(''), {
      addMissingNodes: false,
    });
    expect(whole.order).toBe(graph.pieceCount);
    const key = 'script:scripts/keeper/crane.ts';
    const around = partOf(graph, { pieces: piecesNamed(graph, key), steps: 1 });
    expect(around.pieces.length).toBeGreaterThan(1);
    expect(around.pieces.length).toBeLessThan(40);
    const dot = [...toDot(graph, around)].join('');
    const nodes = JSON.stringify(parseDot(dot)).match(/"type":"Node"/g);
    expect(nodes?.length).toBe(around.pieces.length);
    expect(dot.match(/ -> /g)?.length).toBe(around.links.length);
    expect(partOf(graph, { pieces: piecesNamed(graph, key), steps: 2 }).pieces.length).toBeGreaterThan(
      around.pieces.length,
    );
  });
});

describe('reports', () => {
  beforeAll(useGrammars);
  /** As bad as names can be. */
  const NASTY = '=1+1|"x"<b>&amp;\u0007]]>\\"\ud800';
  const nasty = (more: Partial<Report> = {}): Report =>
    reportOf(
      scan(
        { 'data/a.json': { next: `${NASTY}.json` }, 'data/b.json': { next: 'gone.json' } },
        { files: { data: { match: 'data/*', as: 'data asset', references: { next: { at: '$.next', by: 'path' } } } } },
      ),
      { project: NASTY, ...more },
    );

  it('take every name for what it is, however bad it is', () => {
    const report = nasty();
    const bad = { ...report, findings: report.findings.map((one) => ({ ...one, text: `${NASTY}\n- ${one.text}` })) };
    for (const row of readCsv(toCsv(bad)))
      for (const cell of Object.values(row)) expect(cell).not.toMatch(/^[=+\-@\t\r]/);
    const junit = toJunit(bad, 'error', []);
    expect(readJunit(junit).testsuite.length).toBe(1);
    expect(junit).not.toContain('\u0007');
    const html = toHtml(bad);
    expect([readHtml(html), html.includes('<b>')]).toEqual([[], false]);
    const markdown = toMarkdown(bad);
    expect([markdown.includes('<b>'), markdown.match(/^- /gm)?.length]).toEqual([false, 2]);
    const { linked } = scan({ 'data/a.json': {} }, { name: NASTY });
    linked.graph.texts[0] = NASTY;
    expect(() => parseDot([...toDot(linked.graph, partOf(linked.graph))].join(''))).not.toThrow();
    expect(XMLValidator.validate([...toGraphml(linked.graph, partOf(linked.graph))].join(''))).toBeTrue();
  });
  it('of nothing say so', () => {
    const empty = { ...nasty(), findings: [] };
    expect(toHtml(empty)).toContain('Nothing was found.');
    expect(readCsv(toCsv(empty))).toEqual([]);
    expect(readJunit(toJunit(empty, 'error', ['broken/loop']))['@_tests']).toBe('1');
  });
  it('tell what is new, what is known, what is gone and what is waived', () => {
    const report = nasty();
    const [first, second] = report.findings as [Report['findings'][number], Report['findings'][number]];
    const gone = {
      fingerprint: 'dddddddd',
      check: 'broken/loop',
      severity: 'error',
      file: 'x',
      line: 1,
      text: 'A loop',
    } as const;
    const measured: Report = {
      ...report,
      findings: [first, { ...second, waived: { reason: 'Drawn later.', by: 'Ada', until: '2999-01-01' } }],
      since: { name: 'main', appeared: new Set([second.fingerprint]), gone: [gone] },
    };
    const { runs } = toSarif(measured) as { runs: [{ results: { baselineState: string; suppressions?: object[] }[] }] };
    expect(runs[0].results.map(({ baselineState, suppressions }) => [baselineState, suppressions?.length])).toEqual([
      ['unchanged', 0],
      ['new', 1],
      ['absent', undefined],
    ]);
    const [suite] = readJunit(toJunit(measured, 'error', [])).testsuite;
    expect(suite.testcase.map((one) => [one.failure !== undefined, one.skipped !== undefined])).toEqual([
      [false, false],
      [false, true],
    ]);
    expect(readCsv(toCsv(measured)).map((row) => [row['new'], row['waived']])).toEqual([
      ['known', ''],
      ['new', 'Drawn later., by Ada, until 2999-01-01'],
    ]);
    expect(toMarkdown(measured)).toContain('## Gone since main (1)');
    expect(toHtml(measured)).toContain('Gone since main');
    const text = toText(measured, { withWaived: true });
    expect(text).toContain('waived: Drawn later., by Ada');
    expect(text).not.toContain(first.text);
    expect(toText(measured)).toContain('Since main: nothing new, 1 known before, 1 gone.');
  });
});
