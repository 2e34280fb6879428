// `npm test`: everything, and a last line `N passed, N failed`. Each check that is no spec counts as one.
import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { postgresServer } from './postgres.mjs';
import { browser, install, root, tool } from './prepare.mjs';

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

/** The spec files below a folder, as jasmine-run is told them, with their sizes. */
const specFiles = (folder) =>
  readdirSync(path.join(root, folder), { recursive: true })
    .filter((f) => f.endsWith('.spec.ts'))
    .map((f) => ({ name: f.slice(0, -'.spec.ts'.length), size: statSync(path.join(root, folder, f)).size }));

/** The server's specs in shares of about one size: one process with all of them would go on long after everything else. */
function shares(folder, count) {
  const made = Array.from({ length: count }, () => ({ files: [], size: 0 }));
  for (const f of specFiles(folder).sort((a, b) => b.size - a.size)) {
    const least = made.reduce((a, b) => (b.size < a.size ? b : a));
    least.files.push(f.name);
    least.size += f.size;
  }
  return made.map((s) => s.files.join(' '));
}

/** What is cut off at moments of all kinds needs no browser, and takes a while. Files of `e2e/src/service`. */
const POWER_CUTS = ['service/numbers-crash', 'service/random-kills'];
const SERVICE = specFiles('e2e/src')
  .map((f) => f.name)
  .filter((f) => f.startsWith('service/') && !POWER_CUTS.includes(f));

install();
const chrome = browser();
// The demo's past is written once, for all that begin with it.
const seeded = mkdtempSync(path.join(tmpdir(), 'long-gate-seeded-'));
process.once('exit', () => rmSync(seeded, { recursive: true, force: true }));
const withChrome = { CHROME_BIN: chrome, NG_CLI_ANALYTICS: 'false', LONG_GATE_SEEDED: seeded };
if (!(await check('types', tool('tsc'), ['-b']))) finish();

/** `after`: what must have gone well before. */
const build = { run: () => check('web build', process.execPath, ['scripts/build.mjs']) };
const past = { run: () => check('the demo’s past', process.execPath, ['e2e/dist/seeded.js', seeded]), after: build };
const node = (name) => ({ run: () => specs(name, ...jasmine(`packages/${name}`)) });
// What takes longest first, so that all ends at about the same time; beside the build what does without it.
const tasks = [
  build,
  past,
  { run: () => specs('journeys', ...jasmine('e2e', { ...withChrome, LONG_GATE_SPECS: 'journeys/*' })), after: past },
  {
    run: () =>
      specs('web', tool('ng'), ['test', '--watch=false'], {
        cwd: path.join(root, 'packages/web'),
        env: { ...process.env, ...withChrome },
      }),
    // Two builds at once would write into one cache.
    after: build,
  },
  ...shares('packages/server/src', 3).map((files, i) => ({
    run: () => specs(`server, share ${i + 1} of 3`, ...jasmine('packages/server', { LONG_GATE_SPECS: files })),
    // It hands out what is built beside the application: the checker of packs, the pages that stand by themselves.
    after: build,
  })),
  {
    run: () => specs('service', ...jasmine('e2e', { ...withChrome, LONG_GATE_SPECS: SERVICE.join(' ') })),
    after: past,
  },
  { run: () => check('lint, with types and the architecture', tool('eslint'), ['.', '--max-warnings', '0']) },
  {
    run: () => specs('power cuts', ...jasmine('e2e', { ...withChrome, LONG_GATE_SPECS: POWER_CUTS.join(' ') })),
    after: past,
  },
  { run: onPostgres, after: build },
  { run: () => check('format', tool('prettier'), ['--check', '--log-level', 'warn', '.']) },
  node('core'),
  node('standins'),
  node('contracts'),
  node('gateways'),
  { run: () => check('harms still fit the code', process.execPath, ['scripts/harms.mjs', '--check']) },
];

/** What is under way. */
const under = new Set();

/** Does one task after the other, the first each time whose turn it can be, until none is left. */
async function work() {
  for (;;) {
    const at = tasks.findIndex((t) => !t.after || t.after.ended !== undefined);
    const task = at < 0 ? undefined : tasks.splice(at, 1)[0];
    if (task) {
      // Where what it needs failed, that has been counted.
      const going = task.after?.ended === false ? Promise.resolve(false) : Promise.resolve(task.run());
      under.add(going);
      task.ended = (await going) !== false;
      under.delete(going);
    } else if (tasks.length > 0) await Promise.race(under);
    else return;
  }
}

// Three at a time: a machine has two cores at least, and journeys mostly wait.
await Promise.all([work(), work(), work()]);
finish();
