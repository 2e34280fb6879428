// `npm test`: everything, and a last line `N passed, N failed`. Each check that is no spec counts as one.
import { spawn } from 'node:child_process';
import { readdirSync } from 'node:fs';
import path from 'node:path';
import { postgresServer } from './postgres.mjs';
import { browser, buildWeb, install, root, tool } from './prepare.mjs';

let passed = 0;
let failed = 0;
const started = Date.now();

/** Runs a command to its end: its code, and all that it said. */
function runToEnd(command, args, options = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    let said = '';
    for (const out of [child.stdout, child.stderr]) out.on('data', (d) => (said += String(d)));
    child.once('error', (error) => resolve({ code: 1, said: String(error) }));
    child.once('close', (code) => resolve({ code, said }));
  });
}

const seconds = (since) => `${((Date.now() - since) / 1000).toFixed(0)} s`;

/** One check that passes or fails as a whole. */
async function check(name, command, args, options) {
  const at = Date.now();
  const { code, said } = await runToEnd(command, args, options);
  const ok = code === 0;
  console.log(`${ok ? 'ok    ' : 'FAILED'} ${name} (${seconds(at)})`);
  if (!ok) console.log(said.slice(-6000));
  ok ? passed++ : failed++;
  return ok;
}

/** A run of specs, counted by its LONGGATE line. */
async function specs(name, command, args, options) {
  const at = Date.now();
  const { said } = await runToEnd(command, args, options);
  const line = /LONGGATE (\{.*\})/.exec(said);
  const counts = line ? JSON.parse(line[1]) : { passed: 0, failed: 1 };
  if (counts.passed === 0 && counts.failed === 0) counts.failed = 1;
  passed += counts.passed;
  failed += counts.failed;
  const word = counts.failed === 0 ? 'ok    ' : 'FAILED';
  console.log(`${word} ${name}: ${counts.passed} passed, ${counts.failed} failed (${seconds(at)})`);
  if (counts.failed > 0 || process.env.LONG_GATE_TIMES) console.log(said.slice(-12000));
}

function finish() {
  console.log(`in ${((Date.now() - started) / 60_000).toFixed(1)} minutes`);
  console.log(`${passed} passed, ${failed} failed`);
  process.exit(failed === 0 ? 0 : 1);
}

const jasmine = (where, env = {}) => [
  process.execPath,
  ['scripts/jasmine-run.mjs', where],
  { env: { ...process.env, ...env } },
];

/** The specs of the stores once more, on PostgreSQL, where a server of it is at hand. `npm run postgres` runs them all. */
async function onPostgres() {
  const server = await postgresServer();
  if (!server) {
    console.log('left out: specs on PostgreSQL, of which no server is here (Debian’s package postgresql has one)');
    return;
  }
  const stores = ['platform/*', 'platform/dialects/*', 'migrations/*', 'areas/*', 'areas/numbers/*'].join(' ');
  await specs(
    'server, its stores on PostgreSQL',
    ...jasmine('packages/server', { LONG_GATE_SPECS: stores, LONG_GATE_SPECS_ON: server.address }),
  );
  await server.stop();
}

/** What is cut off at moments of all kinds needs no browser, and takes a while. Files of `e2e/src/service`. */
const POWER_CUTS = ['service/numbers-crash', 'service/random-kills'];
const SERVICE = readdirSync(path.join(root, 'e2e/src/service'))
  .filter((f) => f.endsWith('.spec.ts'))
  .map((f) => `service/${f.slice(0, -'.spec.ts'.length)}`)
  .filter((f) => !POWER_CUTS.includes(f));

install();
const chrome = browser();
const withChrome = { CHROME_BIN: chrome, NG_CLI_ANALYTICS: 'false' };
if (!(await check('types', tool('tsc'), ['-b']))) finish();
try {
  await buildWeb();
  console.log('ok     web build');
  passed++;
} catch {
  console.log('FAILED web build');
  failed++;
  finish();
}

// Side by side, as a machine has two cores at least and journeys mostly wait, in three rows that take about as long:
// the journeys; the interface’s specs, what only reads the sources, and the application as a service; and what needs no
// browser, with what is cut off.
await Promise.all([
  specs('journeys', ...jasmine('e2e', { ...withChrome, LONG_GATE_SPECS: 'journeys/*' })),
  (async () => {
    await specs('web', tool('ng'), ['test', '--watch=false'], {
      cwd: path.join(root, 'packages/web'),
      env: { ...process.env, ...withChrome },
    });
    await check('format', tool('prettier'), ['--check', '--log-level', 'warn', '.']);
    await check('lint, with types and the architecture', tool('eslint'), ['.', '--max-warnings', '0']);
    await check('harms still fit the code', process.execPath, ['scripts/harms.mjs', '--check']);
    await specs('service', ...jasmine('e2e', { ...withChrome, LONG_GATE_SPECS: SERVICE.join(' ') }));
  })(),
  (async () => {
    for (const name of ['core', 'contracts', 'gateways', 'standins', 'server'])
      await specs(name, ...jasmine(`packages/${name}`));
    await onPostgres();
    await specs('power cuts', ...jasmine('e2e', { LONG_GATE_SPECS: POWER_CUTS.join(' ') }));
  })(),
]);
finish();
