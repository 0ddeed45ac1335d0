/** What is published for others to build on: JSON Schemas, the example exporter, the examples of open standards. */
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { parse } from 'jsonc-parser';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const MAIN = fileURLToPath(new URL('./main.js', import.meta.url));
const read = (path: string): string => readFileSync(join(ROOT, path), 'utf8');
const run = (...args: string[]): string => spawnSync(process.execPath, args, { encoding: 'utf8' }).stdout;

function checks(schema: string): (value: unknown) => string {
  const validate = new Ajv2020({ strict: false }).compile(JSON.parse(read(`docs/schemas/${schema}`)) as object);
  return (value) => (validate(value) ? 'valid' : JSON.stringify(validate.errors?.[0]));
}

describe('the published schemas', () => {
  it('take the plan of the sample, and refuse what the tool refuses', () => {
    const check = checks('glue-trace.schema.json');
    const plan = parse(read('samples/sluicekeeper/glue-trace.json')) as Record<string, unknown>;
    expect(check(plan)).toBe('valid');
    expect(check({ ...plan, scrips: {} })).toContain('additionalProperties');
    expect(check({ ...plan, version: 2 })).not.toBe('valid');
    expect(check({ ...plan, files: { a: { match: '*', as: 'boat' } } })).not.toBe('valid');
  });

  it('take every line that the example exporter writes, and the tool reads them all', () => {
    const folder = mkdtempSync(join(tmpdir(), 'glue-export-'));
    try {
      writeFileSync(join(folder, 'flight.bin'), mapOf([1, 0, 'Tender', 2, 'rope.ts'], [2, 1, 'Cleat', 0, '']));
      writeFileSync(join(folder, 'rope.ts'), "export class Rope { begin() { this.child('Cleat'); } }");
      const facts = run(join(ROOT, 'docs/examples/export-facts.mjs'), join(folder, 'flight.bin'));
      const check = checks('glue-facts.schema.json');
      const lines = facts.trim().split('\n');
      expect(lines.map((line) => check(JSON.parse(line)))).toEqual(lines.map(() => 'valid'));
      writeFileSync(join(folder, 'flight.facts.ndjson'), facts);
      const plan = {
        version: 1,
        name: 'Exported',
        files: { facts: { match: '*.facts.ndjson', as: 'glue facts' }, maps: { match: '*.bin', as: 'media' } },
        scripts: { ts: { match: '*.ts', language: 'typescript' } },
        calls: [{ call: '*.child($name)', means: 'child' }],
      };
      writeFileSync(join(folder, 'glue-trace.json'), JSON.stringify(plan));
      expect(run(MAIN, 'plan', 'check', folder)).toContain('4 files, 2 read, 0 that nothing reads');
      expect(run(MAIN, 'scan', folder)).toContain('Ready to play');
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });
});

/** A map as the example exporter reads it. */
function mapOf(...objects: [number, number, string, number, string][]): Buffer {
  const number = (value: number): Buffer => Buffer.from([value & 255, value >> 8]);
  const text = (value: string): Buffer => Buffer.concat([number(Buffer.byteLength(value)), Buffer.from(value)]);
  const parts = objects.map(([id, holder, name, mooring, script]) =>
    Buffer.concat([number(id), number(holder), text(name), number(mooring), text(script)]),
  );
  return Buffer.concat([number(objects.length), ...parts]);
}

describe('folders of open standards', () => {
  for (const [name, files] of [
    ['x3d', 'lock.x3d'],
    ['gltf', 'lock.gltf'],
  ]) {
    it(`are read without a plan: ${name}`, () => {
      const out = run(MAIN, 'plan', 'check', join(ROOT, 'samples/standards', name!));
      expect(out).toContain(' 0 that nothing reads');
      expect(out).not.toContain('%');
      expect(run(MAIN, 'scan', join(ROOT, 'samples/standards', name!))).toContain('0 errors, 0 warnings');
    });

    it(`are judged without a plan: ${name}`, () => {
      const folder = mkdtempSync(join(tmpdir(), 'glue-standard-'));
      try {
        copyFileSync(join(ROOT, 'samples/standards', name!, files!), join(folder, files!));
        expect(run(MAIN, 'scan', folder)).toContain('broken/missing-file');
      } finally {
        rmSync(folder, { recursive: true, force: true });
      }
    });
  }
});
