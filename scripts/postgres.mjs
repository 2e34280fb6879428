// `npm run postgres`: the server's specs on a PostgreSQL server, a throwaway one where Debian's package is there. Specs
// can be named: `npm run postgres -- areas/contacts/* platform/*`.
import { spawn, spawnSync } from 'node:child_process';
import { chownSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const DEBIAN = '/usr/lib/postgresql';

/** The folder of the newest server installed here, or null. */
function binaries() {
  const versions = existsSync(DEBIAN) ? readdirSync(DEBIAN).sort((a, b) => Number(b) - Number(a)) : [];
  return versions.map((v) => path.join(DEBIAN, v, 'bin')).find((dir) => existsSync(path.join(dir, 'initdb'))) ?? null;
}

/** The server refuses to run as root; then it runs as the user its package made. */
function runner() {
  if (process.getuid?.() !== 0) return {};
  const id = (flag) => Number(spawnSync('id', [flag, 'postgres'], { encoding: 'utf8' }).stdout);
  const [uid, gid] = [id('-u'), id('-g')];
  return uid > 0 ? { uid, gid } : null;
}

const freePort = () =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });

/**
 * A PostgreSQL server for specs: the one that is named in LONG_GATE_SPECS_ON, or one made for them in a folder of its
 * own; null where there is none.
 */
export async function postgresServer() {
  const named = process.env.LONG_GATE_SPECS_ON;
  if (named) return { address: named, stop: () => undefined };
  const bin = binaries();
  const as = runner();
  if (!bin || !as) return null;
  const dir = mkdtempSync(path.join(tmpdir(), 'postgres-'));
  if (as.uid) chownSync(dir, as.uid, as.gid);
  const data = path.join(dir, 'data');
  const made = spawnSync(
    path.join(bin, 'initdb'),
    ['-D', data, '-U', 'specs', '-A', 'trust', '-E', 'UTF8', '--locale=C'],
    {
      ...as,
      cwd: dir,
      encoding: 'utf8',
    },
  );
  if (made.status !== 0) {
    rmSync(dir, { recursive: true, force: true });
    throw new Error(`PostgreSQL could not be set up: ${made.stderr}`);
  }
  const port = await freePort();
  // Nothing of it has to survive anything, and nobody else may come in.
  const settings = {
    listen_addresses: '127.0.0.1',
    port,
    unix_socket_directories: dir,
    fsync: 'off',
    max_connections: 200,
  };
  const server = spawn(
    path.join(bin, 'postgres'),
    ['-D', data, ...Object.entries(settings).flatMap(([name, value]) => ['-c', `${name}=${value}`])],
    { ...as, cwd: dir, stdio: ['ignore', 'ignore', 'pipe'] },
  );
  // However we end, it ends.
  process.once('exit', () => server.kill('SIGQUIT'));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.once(signal, () => process.exit(1));
  const stop = () =>
    new Promise((resolve) => {
      const end = () => {
        rmSync(dir, { recursive: true, force: true });
        resolve();
      };
      if (server.exitCode !== null) return end();
      server.once('exit', end);
      server.kill('SIGQUIT');
    });
  await new Promise((resolve, reject) => {
    let said = '';
    server.stderr.on('data', (d) => {
      said += String(d);
      if (said.includes('ready to accept connections')) resolve();
    });
    server.once('exit', () => reject(new Error(`PostgreSQL did not start: ${said.slice(-500)}`)));
  });
  return { address: `postgres://specs@127.0.0.1:${port}/postgres`, stop };
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const { compile, install, root } = await import('./prepare.mjs');
  const server = await postgresServer();
  if (!server) {
    console.error(
      'No PostgreSQL server is here: install Debian’s package postgresql, or name one in LONG_GATE_SPECS_ON.',
    );
    process.exit(1);
  }
  install();
  compile();
  const named = process.argv.slice(2).join(' ');
  const child = spawn(process.execPath, ['scripts/jasmine-run.mjs', 'packages/server'], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, LONG_GATE_SPECS_ON: server.address, ...(named ? { LONG_GATE_SPECS: named } : {}) },
  });
  child.once('exit', async (code) => {
    await server.stop();
    process.exit(code ?? 1);
  });
}
