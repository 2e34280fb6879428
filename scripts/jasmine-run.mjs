// Runs the compiled specs of one package and prints a last line `LONGGATE {"passed":…,"failed":…}` for scripts/test.mjs.
import Jasmine from 'jasmine';
import path from 'node:path';

const pkg = path.resolve(process.argv[2] ?? '.');
const filter = process.argv[3];
const runner = new Jasmine({ projectBaseDir: pkg });
runner.clearReporters();
// All specs, or those files alone that are named.
const only = process.env.LONG_GATE_SPECS?.split(' ') ?? ['**/*'];
runner.loadConfig({
  spec_dir: 'dist',
  spec_files: only.map((f) => `${f.replace(/\/$/, '/*')}.spec.js`),
  random: false,
  jsLoader: 'import',
});
runner.exitOnCompletion = false;
// While one works on a journey, the first failure is enough.
if (process.env.LONG_GATE_STOP_AT_FAILURE) runner.env.configure({ stopOnSpecFailure: true });
// Only what hangs is to fail by it: a slow machine is no fault.
runner.jasmine.DEFAULT_TIMEOUT_INTERVAL = 1_200_000;
let passed = 0;
let failed = 0;
/** Seconds by suite, with what comes before and after its specs, and by spec. */
const took = [];
runner.addReporter({
  suiteDone(suite) {
    if (suite.duration !== null) took.push([suite.duration / 1000, suite.fullName]);
  },
  specDone(result) {
    if (result.duration !== null) took.push([result.duration / 1000, `… ${result.fullName}`]);
    if (result.status === 'passed') passed++;
    else if (result.status === 'failed') {
      failed++;
      console.log(`FAILED ${result.fullName}`);
      for (const f of result.failedExpectations.slice(0, 3))
        console.log(`  ${f.message}\n  ${(f.stack ?? '').split('\n').slice(0, 4).join('\n  ')}`);
    }
  },
});
const result = await runner.execute(undefined, filter);
// Where the time goes, for whoever has to make it less.
if (process.env.LONG_GATE_TIMES)
  for (const [seconds, name] of took.sort(([a], [b]) => b - a).slice(0, 40))
    console.log(`${seconds.toFixed(0)} s ${name}`);
console.log(
  `LONGGATE ${JSON.stringify({ passed, failed: failed + (result.overallStatus === 'passed' || failed > 0 ? 0 : 1) })}`,
);
process.exit(result.overallStatus === 'passed' ? 0 : 1);
