// Runs the specs of one workspace and writes their counts: node tools/jasmine-suite.mjs GLOB RESULT-FILE [FILTER]
// With GLUE_PART=1/2 it runs one part of its files; the parts are about as long as each other.
import { statSync, writeFileSync } from 'node:fs';
import Jasmine from 'jasmine';

const [glob, resultFile, filter] = process.argv.slice(2);
const [part, parts] = (process.env.GLUE_PART ?? '1/1').split('/').map(Number);
const counts = { passed: 0, failed: 0 };
const runner = new Jasmine({ projectBaseDir: process.cwd() });
runner.exitOnCompletion = false;
runner.addMatchingHelperFiles(['tools/spec-limit.mjs']);
runner.addMatchingSpecFiles([glob]);
if (parts > 1) runner.specFiles = partOf(runner.specFiles);
runner.addReporter({
  specDone: ({ status }) => {
    if (status === 'passed') counts.passed++;
    else if (status === 'failed') counts.failed++;
  },
});
const result = await runner.execute(undefined, filter);
// Errors outside of specs count as a failure of their own.
if (result.overallStatus === 'failed' && counts.failed === 0) counts.failed = 1;
if (resultFile) writeFileSync(resultFile, JSON.stringify(counts));
process.exit(counts.failed > 0 ? 1 : 0);

/** Files are dealt out by size, the largest first: 1 2 2 1 1 2 … */
function partOf(files) {
  const bySize = [...files].sort((a, b) => statSync(b).size - statSync(a).size || (a < b ? -1 : 1));
  const turn = (at) => (Math.floor(at / parts) % 2 === 0 ? at % parts : parts - 1 - (at % parts));
  return bySize.filter((_, at) => turn(at) === part - 1);
}
