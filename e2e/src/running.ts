import { spawn, type ChildProcess } from 'node:child_process';
import { rmSync } from 'node:fs';
import { cp, mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const ROOT = fileURLToPath(new URL('../../', import.meta.url));

/** A port that is free now. */
export async function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const s = createServer();
    s.once('error', reject);
    s.listen(0, '127.0.0.1', () => {
      const a = s.address();
      const port = typeof a === 'object' && a ? a.port : 0;
      s.close(() => resolve(port));
    });
  });
}

/** The application as a person runs it: stand-ins and server as processes of their own, on a data folder of their own. */
export class Running {
  url = '';
  outside = '';
  dataDir = '';
  private standins: ChildProcess | null = null;
  private server: ChildProcess | null = null;
  private env: NodeJS.ProcessEnv = {};
  log = '';

  private static demoFolder: Promise<string> | null = null;

  /**
   * The demo as its first start leaves it, made once, or before us by `seeded.js`: to begin anew is a copy and a start,
   * not a seeding.
   */
  private static async seededDemo(): Promise<string> {
    const made = process.env['LONG_GATE_SEEDED'];
    if (made) return made;
    const kept = await mkdtemp(path.join(tmpdir(), 'long-gate-demo-'));
    process.once('exit', () => rmSync(kept, { recursive: true, force: true }));
    await Running.seed(kept);
    return kept;
  }

  /** Starts the demo for the first time, and puts its data into a folder. */
  static async seed(folder: string): Promise<void> {
    const first = await Running.start({ demo: true, seededHere: true });
    await first.end();
    await cp(first.dataDir, folder, { recursive: true });
    await first.stop();
  }

  /** @param options.seededHere to watch the first start itself, which takes a quarter of a minute. */
  static async start(options: { demo: boolean; seededHere?: boolean; env?: Record<string, string> }): Promise<Running> {
    const r = new Running();
    r.dataDir = await mkdtemp(path.join(tmpdir(), 'long-gate-'));
    if (options.demo && !options.seededHere)
      await cp(await (Running.demoFolder ??= Running.seededDemo()), r.dataDir, { recursive: true });
    const [port, outsidePort] = [await freePort(), await freePort()];
    r.url = `http://127.0.0.1:${port}`;
    r.outside = `http://127.0.0.1:${outsidePort}`;
    r.env = {
      ...process.env,
      LONG_GATE_DATA: r.dataDir,
      LONG_GATE_PORT: String(port),
      LONG_GATE_OUTSIDE_PORT: String(outsidePort),
      LONG_GATE_OUTSIDE_URL: r.outside,
      LONG_GATE_LOG: 'warn',
      LONG_GATE_WITH_PARENT: '1',
      LONG_GATE_DEMO: options.demo ? '1' : '0',
      ...options.env,
    };
    try {
      r.standins = await r.launch('packages/standins/dist/main.js', 'simulated outside at');
      r.server = await r.launch('packages/server/dist/main.js', 'Long Gate at');
    } catch (error) {
      await r.stop();
      throw error;
    }
    return r;
  }

  private launch(file: string, ready: string): Promise<ChildProcess> {
    return new Promise((resolve, reject) => {
      const child = spawn(process.execPath, [path.join(ROOT, file)], {
        env: this.env,
        // Its input closes with us, however we end: nothing is left behind.
        stdio: ['pipe', 'pipe', 'pipe'],
      });
      let said = '';
      const hear = (d: Buffer): void => {
        said += String(d);
        this.log += String(d);
        if (said.includes(ready)) resolve(child);
      };
      child.stdout.on('data', hear);
      child.stderr.on('data', hear);
      child.once('exit', (code) => reject(new Error(`${file} ended with ${code}: ${said}`)));
    });
  }

  /** As a power cut would: no chance to finish anything. */
  async kill(which: 'server' | 'outside' = 'server'): Promise<void> {
    const child = which === 'server' ? this.server : this.standins;
    if (!child) return;
    await new Promise<void>((resolve) => {
      child.once('exit', () => resolve());
      child.kill('SIGKILL');
    });
    if (which === 'server') this.server = null;
    else this.standins = null;
  }

  async startServerAgain(): Promise<void> {
    this.server = await this.launch('packages/server/dist/main.js', 'Long Gate at');
  }

  async startOutsideAgain(): Promise<void> {
    this.standins = await this.launch('packages/standins/dist/main.js', 'simulated outside at');
  }

  /** Ends both as a person would; their data stays. */
  private async end(): Promise<void> {
    for (const child of [this.server, this.standins]) {
      // One that was ended by a signal has no code.
      if (!child || child.exitCode !== null || child.signalCode !== null) continue;
      await new Promise<void>((resolve) => {
        const late = setTimeout(() => child.kill('SIGKILL'), 60_000);
        child.once('exit', () => {
          clearTimeout(late);
          resolve();
        });
        child.kill('SIGTERM');
      });
    }
  }

  async stop(): Promise<void> {
    await this.end();
    await rm(this.dataDir, { recursive: true, force: true });
  }
}

/** Speaks to the API as a signed-in person does. */
export class Person {
  private cookie = '';
  private csrf = '';
  businesses: { id: string; nameLine: string; balance: number; accountState: string; version: number }[] = [];
  constructor(private readonly base: string) {}

  async signIn(role: 'administrator' | 'coordinator' | 'viewer'): Promise<this> {
    await this.ok('POST', '/session', { email: `${role}@quillmere.example`, password: `quillmere-${role}` });
    return this;
  }

  async call(
    method: string,
    at: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<{ status: number; body: Record<string, unknown> & { detail?: string } }> {
    const response = await fetch(`${this.base}/api/v1${at}`, {
      method,
      headers: {
        'content-type': 'application/json',
        cookie: this.cookie,
        'x-csrf-token': this.csrf,
        'idempotency-key': crypto.randomUUID(),
        ...headers,
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const set = response.headers.get('set-cookie');
    if (set) this.cookie = set.split(';')[0] ?? '';
    const text = await response.text();
    let json: Record<string, unknown> = {};
    try {
      json = JSON.parse(text) as Record<string, unknown>;
    } catch {
      json = { text };
    }
    if (typeof json['csrf'] === 'string') {
      this.csrf = json['csrf'];
      this.businesses = json['businesses'] as Person['businesses'];
    }
    return { status: response.status, body: json };
  }

  async ok<T = Record<string, unknown>>(
    method: string,
    at: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<T> {
    const r = await this.call(method, at, body, headers);
    if (r.status >= 300) throw new Error(`${method} ${at}: ${r.status} ${r.body.detail ?? JSON.stringify(r.body)}`);
    return r.body as T;
  }

  /** Moves the scenario clock and waits until everything on the way is worked off. */
  async jump(by: 'hour' | 'day' | 'next', times = 1): Promise<void> {
    for (let i = 0; i < times; i++) {
      await this.ok('POST', '/clock', { by });
      await until(async () => !(await this.ok<{ clock: { moving: boolean } }>('GET', '/session')).clock.moving);
    }
  }
}

/** So long is waited for what is to come about: only what hangs is to fail by it, a slow machine is no fault. */
export const PATIENCE_MS = 240_000;

export async function until(test: () => Promise<boolean> | boolean, ms = PATIENCE_MS): Promise<void> {
  const end = Date.now() + ms;
  for (;;) {
    if (await test()) return;
    if (Date.now() > end) throw new Error(`waited ${ms} ms in vain for ${String(test)}`);
    await new Promise((r) => setTimeout(r, 100));
  }
}
