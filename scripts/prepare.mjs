// Installs and builds what is missing, so that a fresh clone needs nothing but Node.js. Shared by the other scripts.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import zlib from 'node:zlib';
import { fileURLToPath } from 'node:url';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const stamps = path.join(root, '.stamps');

export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (result.status !== 0) throw new Error(`${command} ${args.join(' ')} failed`);
}

const stampOf = (name) => (existsSync(path.join(stamps, name)) ? readFileSync(path.join(stamps, name), 'utf8') : '');
function stamp(name, value) {
  mkdirSync(stamps, { recursive: true });
  writeFileSync(path.join(stamps, name), value);
}

/** Installs the packages of the lock file when they are not there, or the lock file has changed. */
export function install() {
  const lock = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(path.join(root, 'node_modules')) && stampOf('install') === lock) return;
  console.log('Installing packages…');
  run('npm', ['ci', '--no-audit', '--no-fund']);
  stamp('install', lock);
}

function newest(dir) {
  let latest = 0;
  for (const entry of readdirSync(dir, { withFileTypes: true })) {
    if (['node_modules', 'dist', '.angular'].includes(entry.name)) continue;
    const full = path.join(dir, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(full) : statSync(full).mtimeMs);
  }
  return latest;
}

export const tool = (name) => path.join(root, 'node_modules', '.bin', name);

/** Compiles the packages, incrementally. */
export function compile() {
  run(tool('tsc'), ['-b']);
}

/** Builds what runs without the application; and the web application, when its sources, or those it stands on, changed. */
export async function buildWeb() {
  buildInterface();
  // Loaded here, since packages may have been installed a moment ago.
  (await import('./bare-pages.mjs')).buildBarePages(root);
}

function buildInterface() {
  const mark = String(
    Math.max(...['packages/web', 'packages/core/src', 'packages/contracts/src'].map((d) => newest(path.join(root, d)))),
  );
  if (existsSync(path.join(root, 'packages/web/dist/browser/index.html')) && stampOf('web') === mark) return;
  console.log('Building the web application…');
  run(tool('ng'), ['build'], {
    cwd: path.join(root, 'packages/web'),
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
  });
  pack(path.join(root, 'packages/web/dist/browser'));
  stamp('web', mark);
}

/** Packs what is sent often once and well, instead of each time and quickly: the server sends what it finds packed. */
function pack(dir) {
  for (const name of readdirSync(dir)) {
    if (!/\.(?:js|css|svg)$/.test(name)) continue;
    const bytes = readFileSync(path.join(dir, name));
    if (bytes.length < 1024) continue;
    const params = { [zlib.constants.BROTLI_PARAM_QUALITY]: 11, [zlib.constants.BROTLI_PARAM_SIZE_HINT]: bytes.length };
    writeFileSync(path.join(dir, `${name}.br`), zlib.brotliCompressSync(bytes, { params }));
  }
}

/** The browser for tests and screenshots: Debian's Chromium, installed when it is absent and we may. */
export function browser() {
  const found = [
    process.env.CHROME_BIN,
    '/usr/bin/chromium',
    '/usr/bin/chromium-browser',
    '/usr/bin/google-chrome',
  ].find((f) => f && existsSync(f));
  if (found) return found;
  console.log('Installing Chromium…');
  run('apt-get', ['update', '-qq']);
  run('apt-get', ['install', '-y', '-qq', 'chromium']);
  return '/usr/bin/chromium';
}

/** Compiles and runs one command of ours on the data of `npm start`, or with `--demo` on those of `npm run demo`; ends with its code. */
export function command(file, args) {
  install();
  compile();
  const data = path.join(root, 'data', args.includes('--demo') ? 'demo' : 'own');
  const { status } = spawnSync(process.execPath, [path.join(root, file), ...args.filter((a) => a !== '--demo')], {
    cwd: process.cwd(),
    stdio: 'inherit',
    env: { ...process.env, LONG_GATE_DATA: process.env.LONG_GATE_DATA ?? data },
  });
  process.exit(status ?? 1);
}
