// `npm test`: everything, and a last line `N passed, N failed`. Each check that is no spec counts as one.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { browser, buildWeb, install, root, tool } from './prepare.mjs';

let passed = 0;
let failed = 0;
const started = Date.now();

/** One check that passes or fails as a whole. */
function check(name, command, args, options = {}) {
  const at = Date.now();
  const result = spawnSync(command, args, {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    encoding: 'utf8',
    maxBuffer: 64 * 1024 * 1024,
    ...options,
  });
  const ok = result.status === 0;
  console.log(`${ok ? 'ok    ' : 'FAILED'} ${name} (${((Date.now() - at) / 1000).toFixed(0)} s)`);
  if (!ok) console.log(`${result.stdout ?? ''}${result.stderr ?? ''}`.slice(-6000));
  ok ? passed++ : failed++;
  return ok;
}

/** A run of specs, counted by its LONGGATE line. */
function specs(name, command, args, options = {}) {
  const at = Date.now();
  const result = spawnSync(command, args, {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    encoding: 'utf8',
    maxBuffer: 64 * 1024 * 1024,
    ...options,
  });
  const output = `${result.stdout ?? ''}${result.stderr ?? ''}`;
  const line = /LONGGATE (\{.*\})/.exec(output);
  const counts = line ? JSON.parse(line[1]) : { passed: 0, failed: 1 };
  if (counts.passed === 0 && counts.failed === 0) counts.failed = 1;
  passed += counts.passed;
  failed += counts.failed;
  console.log(
    `${counts.failed === 0 ? 'ok    ' : 'FAILED'} ${name}: ${counts.passed} passed, ${counts.failed} failed (${((Date.now() - at) / 1000).toFixed(0)} s)`,
  );
  if (counts.failed > 0) console.log(output.slice(-12000));
}

function finish() {
  console.log(`in ${((Date.now() - started) / 60_000).toFixed(1)} minutes`);
  console.log(`${passed} passed, ${failed} failed`);
  process.exit(failed === 0 ? 0 : 1);
}

install();
const chrome = browser();
check('format', tool('prettier'), ['--check', '--log-level', 'warn', '.']);
if (!check('types', tool('tsc'), ['-b'])) finish();
try {
  buildWeb();
  console.log('ok     web build');
  passed++;
} catch {
  console.log('FAILED web build');
  failed++;
  finish();
}
check('lint, with types and the architecture', tool('eslint'), ['.', '--max-warnings', '0']);
for (const name of ['core', 'contracts', 'gateways', 'standins', 'server'])
  specs(name, process.execPath, ['scripts/jasmine-run.mjs', `packages/${name}`]);
specs('web', tool('ng'), ['test', '--watch=false'], {
  cwd: path.join(root, 'packages/web'),
  env: { ...process.env, CHROME_BIN: chrome, NG_CLI_ANALYTICS: 'false' },
});
specs('journeys', process.execPath, ['scripts/jasmine-run.mjs', 'e2e'], {
  env: { ...process.env, CHROME_BIN: chrome },
});
finish();
