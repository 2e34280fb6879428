// `npm run demo` and `npm start`: prepares what is missing, starts the simulated outside and the server beside it.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { buildWeb, compile, install, root } from './prepare.mjs';

const demo = process.argv[2] === 'demo';
install();
compile();
await buildWeb();

const env = {
  ...process.env,
  LONG_GATE_DATA: process.env.LONG_GATE_DATA ?? path.join(root, 'data', demo ? 'demo' : 'own'),
  LONG_GATE_LOG: process.env.LONG_GATE_LOG ?? 'warn',
  LONG_GATE_WITH_PARENT: '1',
  ...(demo ? { LONG_GATE_DEMO: '1' } : {}),
};
const children = [];
let ending = false;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => end(0));

// With an outside of one's own, no stand-ins are started.
if (!process.env.LONG_GATE_OUTSIDE_URL) await said(start('packages/standins/dist/main.js'), 'simulated outside at');
await said(start('packages/server/dist/main.js'), 'Long Gate at');
if (demo) {
  console.log('\nSign in as');
  for (const role of ['administrator', 'coordinator', 'viewer'])
    console.log(`  ${role.padEnd(14)} ${role}@quillmere.example   quillmere-${role}`);
  console.log('');
}
console.log('Ctrl+C ends it.');

/** Ends what was started, and then this. */
function end(code) {
  if (ending) return;
  ending = true;
  for (const c of children) c.kill('SIGTERM');
  setTimeout(() => process.exit(code), 3000).unref();
  void Promise.all(children.map((c) => (c.exitCode !== null ? null : new Promise((r) => c.once('exit', r))))).then(() =>
    process.exit(code),
  );
}

function start(file) {
  // Its input is a pipe of ours: it closes with us, also when we are killed, and the child ends then.
  const child = spawn(process.execPath, [path.join(root, file)], { env, stdio: ['pipe', 'pipe', 'inherit'] });
  child.stdin.on('error', () => undefined);
  child.stdout.on('data', (d) => process.stdout.write(d));
  child.once('exit', (code) => end(code ?? 1));
  children.push(child);
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
  });
}
