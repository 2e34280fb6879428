import { spawn, type ChildProcess } from 'node:child_process';
import { mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { freePort, until } from '../running.js';

const ROOT = fileURLToPath(new URL('../../../', import.meta.url));
const SERVER = 'packages/server/dist/main.js';
const STANDINS = 'packages/standins/dist/main.js';

describe('the start', () => {
  let dir = '';
  let children: ChildProcess[] = [];
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'start-'));
    children = [];
  });
  afterEach(async () => {
    for (const c of children) if (c.exitCode === null) c.kill('SIGKILL');
    await rm(dir, { recursive: true, force: true });
  });

  async function start(file: string, env: Record<string, string> = {}) {
    const [port, outside] = [await freePort(), await freePort()];
    const child = spawn(process.execPath, [path.join(ROOT, file)], {
      env: {
        ...process.env,
        LONG_GATE_DATA: path.join(dir, 'data'),
        LONG_GATE_PORT: String(port),
        LONG_GATE_OUTSIDE_PORT: String(outside),
        LONG_GATE_LOG: 'warn',
        ...env,
      },
      stdio: ['pipe', 'pipe', 'pipe'],
    });
    children.push(child);
    let said = '';
    for (const out of [child.stdout, child.stderr]) out.on('data', (d: Buffer) => (said += String(d)));
    const code = new Promise<number | null>((resolve) => child.once('exit', (c) => resolve(c)));
    return { child, code, said: () => said.trim(), port, outside };
  }
  const answers = (port: number): Promise<boolean> =>
    fetch(`http://127.0.0.1:${port}/`, { signal: AbortSignal.timeout(60_000) }).then(
      () => true,
      () => false,
    );

  it('says in one sentence what is wrong, and leaves nothing running or made', async () => {
    const taken = await new Promise<Server>((resolve) => {
      const s = createServer().listen(0, '127.0.0.1', () => resolve(s));
    });
    const address = taken.address();
    const port = String(typeof address === 'object' && address ? address.port : 0);
    await writeFile(path.join(dir, 'file'), 'x');
    await mkdir(path.join(dir, 'other'));
    await writeFile(path.join(dir, 'other', 'letter.txt'), 'x');
    await mkdir(path.join(dir, 'broken'));
    await writeFile(
      path.join(dir, 'broken', 'long-gate.sqlite'),
      'this is no database, and long enough to be looked at '.repeat(40),
    );
    const at = (name: string) => ({ LONG_GATE_DATA: path.join(dir, name) });
    for (const [env, words] of [
      [{ LONG_GATE_PORT: port }, /^Port \d+ is taken\. Set LONG_GATE_PORT to a free one\.$/],
      [at('file'), /^The data folder .* is a file, or lies in one\. Set LONG_GATE_DATA to a folder\.$/],
      [at('other'), /^The data folder .* holds other things \(“letter\.txt”\)\./],
      [at('broken'), /^The file long-gate\.sqlite in .* is damaged or no database\./],
      [{ LONG_GATE_KEY: 'abc' }, /^LONG_GATE_KEY must be 64 hexadecimal digits/],
      [{ LONG_GATE_PROXIES: 'two' }, /^LONG_GATE_PROXIES must be the number/],
      [{ LONG_GATE_HOST: '192.0.2.1' }, /^This machine has no address 192\.0\.2\.1\./],
      [{ LONG_GATE_DATABASE: 'other://x' }, /^LONG_GATE_DATABASE must be the address of a PostgreSQL database/],
      [{ LONG_GATE_DATABASE: 'postgres://127.0.0.1:1/x' }, /^The database of LONG_GATE_DATABASE cannot be reached/],
      [{ LONG_GATE_DATABASE: 'postgres://nowhere.invalid/x' }, /^The database of LONG_GATE_DATABASE cannot be reached/],
    ] as [Record<string, string>, RegExp][]) {
      const s = await start(SERVER, env);
      expect(await s.code)
        .withContext(s.said())
        .toBe(1);
      expect(s.said()).toMatch(words);
      expect(s.said().split('\n').length).withContext(s.said()).toBe(1);
    }
    expect(await readdir(path.join(dir, 'other'))).toEqual(['letter.txt']);
    taken.close();
  });

  it('lets one server work on a data folder', async () => {
    const one = await start(SERVER);
    await until(() => one.said().includes('Long Gate at'));
    const two = await start(SERVER);
    expect(await two.code).toBe(1);
    expect(two.said()).toMatch(/Another Long Gate works on the data folder/);
    one.child.kill('SIGKILL');
    await one.code;
    const three = await start(SERVER);
    await until(() => three.said().includes('Long Gate at'));
  });

  it('ends the outside and the server when whoever started them is gone, however they went', async () => {
    for (const signal of ['SIGKILL', 'SIGTERM'] as const) {
      const [port, outside] = [await freePort(), await freePort()];
      const s = await start('scripts/run.mjs', {
        LONG_GATE_PORT: String(port),
        LONG_GATE_OUTSIDE_PORT: String(outside),
      });
      await until(() => s.said().includes('Ctrl+C ends it.'));
      expect([await answers(port), await answers(outside)]).toEqual([true, true]);
      s.child.kill(signal);
      await s.code;
      await until(async () => !(await answers(port)) && !(await answers(outside)));
    }
  });

  it('leaves no outside behind when the server cannot start', async () => {
    const taken = await new Promise<Server>((resolve) => {
      const s = createServer().listen(0, '127.0.0.1', () => resolve(s));
    });
    const address = taken.address();
    const outside = await freePort();
    const s = await start('scripts/run.mjs', {
      LONG_GATE_PORT: String(typeof address === 'object' && address ? address.port : 0),
      LONG_GATE_OUTSIDE_PORT: String(outside),
    });
    expect(await s.code).toBe(1);
    expect(s.said()).toMatch(/Port \d+ is taken/);
    await until(async () => !(await answers(outside)));
    taken.close();
  });

  it('ends the outside with its parent also when it was started alone', async () => {
    const s = await start(STANDINS, { LONG_GATE_WITH_PARENT: '1' });
    await until(() => s.said().includes('simulated outside at'));
    s.child.stdin?.destroy();
    expect(await s.code).toBe(0);
  });
});
