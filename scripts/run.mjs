// `npm run demo` and `npm start`: prepares what is missing, starts the simulated outside and the server beside it.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { buildWeb, compile, install, root } from './prepare.mjs';

const demo = process.argv[2] === 'demo';
install();
compile();
buildWeb();

const env = {
  ...process.env,
  LONG_GATE_DATA: process.env.LONG_GATE_DATA ?? path.join(root, 'data', demo ? 'demo' : 'own'),
  LONG_GATE_LOG: process.env.LONG_GATE_LOG ?? 'warn',
  ...(demo ? { LONG_GATE_DEMO: '1' } : {}),
};
// With an outside of one's own, no stand-ins are started.
const standins = process.env.LONG_GATE_OUTSIDE_URL ? null : start('packages/standins/dist/main.js');
if (standins) await said(standins, 'simulated outside at');
const server = start('packages/server/dist/main.js');
await said(server, 'Long Gate at');
if (demo) {
  console.log('\nSign in as');
  for (const role of ['administrator', 'coordinator', 'viewer'])
    console.log(`  ${role.padEnd(14)} ${role}@quillmere.example   quillmere-${role}`);
  console.log('');
}
console.log('Ctrl+C ends it.');

const children = [server, standins].filter(Boolean);
let ending = false;
function end(code) {
  if (ending) return;
  ending = true;
  for (const c of children) c.kill('SIGTERM');
  setTimeout(() => process.exit(code), 3000).unref();
  void Promise.all(children.map((c) => (c.exitCode !== null ? null : new Promise((r) => c.once('exit', r))))).then(() =>
    process.exit(code),
  );
}
process.on('SIGINT', () => end(0));
process.on('SIGTERM', () => end(0));
for (const c of children) c.once('exit', (code) => end(code ?? 1));

function start(file) {
  const child = spawn(process.execPath, [path.join(root, file)], { env, stdio: ['ignore', 'pipe', 'inherit'] });
  child.stdout.on('data', (d) => process.stdout.write(d));
  return child;
}

function said(child, words) {
  return new Promise((resolve) => {
    const listen = (d) => {
      if (!String(d).includes(words)) return;
      child.stdout.off('data', listen);
      resolve();
    };
    child.stdout.on('data', listen);
    child.once('exit', (code) => process.exit(code ?? 1));
  });
}
