// `npm run harms`: puts each fault of harms/list.mjs into a copy, runs the specs named for it, and reports survivors.
// `npm run harms -- --check` only looks whether every fault still applies and docs/harms.md is as the list says (in
// `npm test`); `-- --write` runs them and writes docs/harms.md; `-- <words>` runs those whose harm holds the words.
import { spawn } from 'node:child_process';
import { cpSync, mkdirSync, readFileSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { HARMS } from '../harms/list.mjs';
import { postgresServer } from './postgres.mjs';
import { compile, install, root } from './prepare.mjs';

const PACKAGES = ['core', 'contracts', 'gateways', 'standins', 'server'];
/** Two at a time, one for each core. */
const SIDE_BY_SIDE = 2;
const DOC = path.join(root, 'docs/harms.md');
const flags = process.argv.slice(2);
const words = flags.filter((a) => !a.startsWith('--')).join(' ');
const chosen = HARMS.filter((h) => h.harm.includes(words));

/** The source with its fault, or why it cannot be put in. */
function faulty(h) {
  const source = readFileSync(path.join(root, 'packages', h.file), 'utf8');
  let text = source;
  for (const { find, put } of [h, ...(h.also ? [h.also] : [])]) {
    const places = text.split(find).length - 1;
    if (places !== 1) return { why: `${places} places fit in ${h.file}` };
    text = text.replace(find, () => put);
  }
  return { text };
}

function documentOf(reds) {
  const lines = [
    '# Harms',
    '',
    'Ways in which this product could harm somebody. For each there is the smallest fault that would do it (`harms/list.mjs`), and specs that go red for it: `npm run harms` puts every fault into a copy, runs them, and fails where one survives. Faults that no longer fit the code fail `npm test`, and are cut anew.',
  ];
  for (const h of HARMS) {
    if (h.title)
      lines.push(
        '',
        `## ${h.title}`,
        '',
        '| harm | the fault is put into | specs that go red |',
        '| --- | --- | --- |',
      );
    lines.push(`| ${h.harm} | \`${h.file}\` | ${reds.get(h.harm) ?? ''} |`);
  }
  return `${lines.join('\n')}\n`;
}

/** The rows of a Markdown table, without the padding a formatter gives them. */
const rowsOf = (text) =>
  text
    .split('\n')
    .filter((l) => l.startsWith('|') && !/^\|[\s|:-]+$/.test(l))
    .map((l) => l.split('|').map((c) => c.trim()));

const misfits = HARMS.flatMap((h) => {
  const { why } = faulty(h);
  return why ? [`“${h.harm}” no longer fits the code: ${why}. Cut it anew in harms/list.mjs.`] : [];
});
if (HARMS.length < 60) misfits.push(`Only ${HARMS.length} harms are listed; at least 60 are wanted.`);
if (new Set(HARMS.map((h) => h.harm)).size !== HARMS.length) misfits.push('A harm is listed twice.');
if (flags.includes('--check')) {
  const kept = rowsOf(readFileSync(DOC, 'utf8')).filter((r) => r[1] !== 'harm');
  const said = kept.map((r) => `${r[1]} ${r[2]}`).join('\n');
  if (said !== HARMS.map((h) => `${h.harm} \`${h.file}\``).join('\n'))
    misfits.push('docs/harms.md is not what the list says; run “npm run harms -- --write”.');
  for (const r of kept) if (r[3] === '') misfits.push(`docs/harms.md names no spec for “${r[1]}”.`);
}
if (misfits.length > 0) {
  console.log(misfits.join('\n'));
  process.exit(1);
}
if (flags.includes('--check')) {
  console.log(`${HARMS.length} harms fit the code.`);
  process.exit(0);
}

install();
compile();
(await import('./bare-pages.mjs')).buildBarePages(root);
// Faults that only PostgreSQL would show are tried where a server of it is at hand.
const server = chosen.some((h) => h.on) ? await postgresServer() : null;

/** A copy of what is compiled, in which packages find each other and all others where they are. */
function copyOf(n) {
  const dir = path.join(root, '.harms', String(n));
  rmSync(dir, { recursive: true, force: true });
  for (const p of PACKAGES) {
    for (const part of ['dist', 'package.json', 'pages', 'replies'])
      try {
        cpSync(path.join(root, 'packages', p, part), path.join(dir, 'packages', p, part), { recursive: true });
      } catch (error) {
        if (error.code !== 'ENOENT') throw error;
      }
  }
  // The page that checks evidence packs, which goes into each, and the scripts of pages without a sign-in.
  for (const built of ['packages/web/dist/checker', 'packages/web/dist/open-pages'])
    cpSync(path.join(root, built), path.join(dir, built), { recursive: true });
  mkdirSync(path.join(dir, 'node_modules/@long-gate'), { recursive: true });
  for (const name of readdirSync(path.join(root, 'node_modules')))
    if (name !== '@long-gate') symlinkSync(path.join(root, 'node_modules', name), path.join(dir, 'node_modules', name));
  for (const p of PACKAGES) symlinkSync(path.join(dir, 'packages', p), path.join(dir, 'node_modules/@long-gate', p));
  mkdirSync(path.join(dir, 'docs'));
  cpSync(path.join(root, 'docs/access.md'), path.join(dir, 'docs/access.md'));
  cpSync(path.join(root, 'scripts'), path.join(dir, 'scripts'), { recursive: true });
  writeFileSync(path.join(dir, 'package.json'), '{"type":"module"}');
  return dir;
}

/** Runs spec files of a package in a copy: how many failed, and the names of those. */
function run(dir, { file, specs, on }) {
  const [, named, which] = /^(?:(\w+):)?(.*)$/.exec(specs);
  const pkg = named ?? file.split('/')[0];
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['scripts/jasmine-run.mjs', `packages/${pkg}`], {
      cwd: dir,
      env: {
        ...process.env,
        LONG_GATE_SPECS: which,
        LONG_GATE_STOP_AT_FAILURE: '1',
        LONG_GATE_SPECS_ON: on ? server.address : '',
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    for (const out of [child.stdout, child.stderr]) out.on('data', (d) => (said += String(d)));
    // A fault may also make something go round in circles.
    const hung = setTimeout(() => child.kill('SIGKILL'), 120_000);
    child.on('exit', () => {
      clearTimeout(hung);
      const counts = JSON.parse(/LONGGATE (\{.*\})/.exec(said)?.[1] ?? '{"passed":0,"failed":0}');
      resolve({ ...counts, names: [...said.matchAll(/^FAILED (.*)$/gm)].map((m) => m[1]), said });
    });
  });
}

const options = { module: ts.ModuleKind.ESNext, target: ts.ScriptTarget.ES2023 };
const survivors = [];
const broken = [];
const reds = new Map();
const queue = chosen.filter((h) => !h.on || server);
if (queue.length < chosen.length)
  console.log(`left out, as no PostgreSQL server is here: ${chosen.length - queue.length}`);
const total = queue.length;
const started = Date.now();
const fine = new Map();

async function worker(n) {
  const dir = copyOf(n);
  for (let h = queue.shift(); h; h = queue.shift()) {
    // The specs are green without the fault; each set is tried once.
    const key = `${h.file.split('/')[0]} ${h.specs}`;
    if (!fine.has(key)) fine.set(key, run(dir, h));
    const sound = await fine.get(key);
    if (sound.failed > 0 || sound.passed === 0) {
      broken.push(`“${h.harm}”: its specs are not green without it\n${sound.said.slice(-600)}`);
      continue;
    }
    const js = path.join(dir, 'packages', h.file.replace('/src/', '/dist/').replace(/\.ts$/, '.js'));
    const whole = readFileSync(js, 'utf8');
    writeFileSync(js, ts.transpileModule(faulty(h).text, { compilerOptions: options }).outputText);
    const result = await run(dir, h);
    writeFileSync(js, whole);
    if (result.names.length > 0) {
      reds.set(h.harm, result.names[0]);
      if (words) console.log(`red    ${h.harm}: ${result.names[0]}`);
    } else if (result.passed > 0) {
      survivors.push(h);
      console.log(`SURVIVES ${h.harm} (${h.specs})`);
    } else broken.push(`“${h.harm}”: nothing ran\n${result.said.slice(-600)}`);
  }
}
await Promise.all(Array.from({ length: Math.min(SIDE_BY_SIDE, total) }, (_, n) => worker(n)));
rmSync(path.join(root, '.harms'), { recursive: true, force: true });
await server?.stop();
for (const b of broken) console.log(`BROKEN ${b}`);
if (flags.includes('--write') && !words) {
  writeFileSync(DOC, documentOf(reds));
  spawn(path.join(root, 'node_modules/.bin/prettier'), ['--write', '--log-level', 'warn', DOC], { stdio: 'inherit' });
}
console.log(
  `${total} faults, ${reds.size} noticed, ${survivors.length} survive, ${broken.length} could not be tried, in ${((Date.now() - started) / 60_000).toFixed(1)} minutes`,
);
process.exitCode = survivors.length + broken.length > 0 ? 1 : 0;
