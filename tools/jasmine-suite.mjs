// Runs the specs of one workspace and writes their counts: node tools/jasmine-suite.mjs GLOB RESULT-FILE [FILTER]
import { writeFileSync } from 'node:fs';
import Jasmine from 'jasmine';

const [glob, resultFile, filter] = process.argv.slice(2);
const counts = { passed: 0, failed: 0 };
const runner = new Jasmine({ projectBaseDir: process.cwd() });
runner.exitOnCompletion = false;
runner.addMatchingHelperFiles(['tools/spec-limit.mjs']);
runner.addMatchingSpecFiles([glob]);
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
