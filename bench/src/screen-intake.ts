import { spawn, type ChildProcess } from 'node:child_process';
import { createWriteStream, existsSync } from 'node:fs';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import puppeteer, { type Page } from 'puppeteer-core';
import { atMost, beside, table } from './measure.js';
import { Bare, bareIntake } from './scale/bare.js';
import { number, person, PREFERENCES, seat, tags } from './scale/people.js';

/**
 * `npm run bench -- --intake 1000000`: a CSV of so many rows and twelve columns through the browser, as a person brings
 * one in: chosen, read, compared, handed in, stored; beside a bare prepared insert of the same people.
 */
const ROOT = fileURLToPath(new URL('../../', import.meta.url));
const rows = Number(process.argv[process.argv.indexOf('--intake') + 1] ?? 100_000);
const PORTS = { server: 4390, outside: 4391 };
const base = `http://127.0.0.1:${PORTS.server}`;
const wait = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
const executablePath = [process.env['CHROME_BIN'], '/usr/bin/chromium', '/usr/bin/google-chrome'].find(
  (f) => f && existsSync(f),
);
if (!executablePath) throw new Error('No Chromium found: install it, or name it in CHROME_BIN.');

const dir = await mkdtemp(path.join(tmpdir(), 'long-gate-bench-'));
const children: ChildProcess[] = [];
const browser = await puppeteer.launch({
  executablePath,
  args: ['--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage'],
  headless: true,
  protocolTimeout: 3_600_000,
});
try {
  await start('packages/standins/dist/main.js', 'simulated outside at');
  const server = await start('packages/server/dist/main.js', 'Long Gate at');
  const file = path.join(dir, 'people.csv');
  await writePeople(file);
  const page = await browser.newPage();
  const at = await signIn(page);
  const most = { server: 0, page: 0 };
  const sampling = setInterval(() => void sample(server.pid ?? 0, most), 500);
  const others = smallRequests(await cookieOf(page), at);
  const began = performance.now();
  const longest = await bringIn(page, at, file, most);
  const took = performance.now() - began;
  clearInterval(sampling);
  atMost(rows, 'intake through the browser: another’s small request meanwhile, 95 of 100', await others.end(), 100);
  atMost(rows, 'intake through the browser: longest task of the page', longest, 100);
  atMost(rows, 'intake through the browser: memory of the page', most.page, 500, 'MB');
  atMost(rows, 'intake through the browser: memory of the server', most.server, 600, 'MB');
  const bare = await Bare.open(path.join(dir, 'long-gate.sqlite'));
  beside(rows, 'intake through the browser: read, handed in, stored', took, await bareIntake(bare, dir, rows), 3);
  await bare.close();
  console.log(`\n${table()}`);
} finally {
  await browser.close();
  for (const c of children) c.kill('SIGTERM');
  await wait(1500);
  await rm(dir, { recursive: true, force: true });
}

async function start(file: string, ready: string): Promise<ChildProcess> {
  const child = spawn(process.execPath, [path.join(ROOT, file)], {
    env: {
      ...process.env,
      LONG_GATE_DATA: dir,
      LONG_GATE_PORT: String(PORTS.server),
      LONG_GATE_OUTSIDE_PORT: String(PORTS.outside),
      LONG_GATE_OUTSIDE_URL: `http://127.0.0.1:${PORTS.outside}`,
      LONG_GATE_LOG: 'warn',
      LONG_GATE_WITH_PARENT: '1',
      LONG_GATE_DEMO: '1',
    },
    stdio: ['pipe', 'pipe', 'inherit'],
  });
  children.push(child);
  let said = '';
  await new Promise<void>((resolve, reject) => {
    child.stdout.on('data', (d: Buffer) => {
      said += String(d);
      if (said.includes(ready)) resolve();
    });
    child.once('exit', (code) => reject(new Error(`${file} ended with ${code}`)));
  });
  return child;
}

/** Twelve columns, as a business that keeps its people well would hand them over. */
async function writePeople(file: string): Promise<void> {
  const out = createWriteStream(file);
  out.write('Phone,First name,Last name,E-mail,State,Street,City,Postal code,Language,Preference,Place,Tags\n');
  for (let i = 0; i < rows; i++) {
    const p = person(i);
    const cells = [number(i), p.firstName, p.lastName, p.email, 'NJ', `${(i % 900) + 1} Quay Road`, 'Saltmarsh'];
    const more = ['07030', '', PREFERENCES[i % PREFERENCES.length] ?? '', seat(i), tags(i).join('; ')];
    if (!out.write(`${[...cells, ...more].map((c) => `"${c}"`).join(',')}\n`)) await once(out, 'drain');
  }
  out.end();
  await once(out, 'finish');
}

async function signIn(page: Page): Promise<string> {
  await page.setViewport({ width: 1280, height: 800 });
  await page.goto(`${base}/sign-in`, { waitUntil: 'networkidle2' });
  await press(page, 'Sign in as administrator');
  await page.waitForFunction(() => location.pathname.startsWith('/b/'));
  const at = page.url().split('/').slice(0, 5).join('/');
  for (const name of ['Preference', 'Place'])
    await page.evaluate(
      async (b, field) => {
        const { csrf } = (await (await fetch('/api/v1/session')).json()) as { csrf: string };
        const answer = await fetch(`/api/v1/businesses/${b}/contact-fields`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'x-csrf-token': csrf, 'idempotency-key': crypto.randomUUID() },
          body: JSON.stringify({ name: field, kind: 'text', choices: [], outcome: false }),
        });
        if (!answer.ok) throw new Error(await answer.text());
      },
      at.split('/').pop() ?? '',
      name,
    );
  return at;
}

/** @returns the longest task of the page meanwhile, in milliseconds. */
async function bringIn(page: Page, at: string, file: string, most: { server: number; page: number }): Promise<number> {
  await page.goto(`${at}/contacts/intake`, { waitUntil: 'networkidle2' });
  await page.evaluate(() => {
    const seen: { most: number; stage: string; tasks: Record<string, number> } = { most: 0, stage: 'read', tasks: {} };
    Object.assign(globalThis, { seen });
    new PerformanceObserver((list) => {
      for (const e of list.getEntries()) {
        seen.most = Math.max(seen.most, e.duration);
        seen.tasks[seen.stage] = Math.max(seen.tasks[seen.stage] ?? 0, e.duration);
      }
    }).observe({ type: 'longtask' });
  });
  const field = await page.waitForSelector('input[type=file]');
  await (field as unknown as { uploadFile: (f: string) => Promise<void> }).uploadFile(file);
  const until = async (test: () => boolean, what: string): Promise<void> => {
    await page.waitForFunction(test, { timeout: 3_600_000, polling: 500 });
    const stage = what;
    const tasks = await page.evaluate((s) => {
      const { seen } = globalThis as unknown as { seen: { stage: string; tasks: Record<string, number> } };
      seen.stage = `after ${s}`;
      return JSON.stringify(seen.tasks);
    }, stage);
    console.log(`the page has taken ${Math.round(most.page)} MB, the server ${Math.round(most.server)}`);
    console.log(`${what} after ${Math.round((performance.now() - from) / 1000)} s; longest tasks ${tasks}`);
  };
  const from = performance.now();
  await until(
    () => /will be stored/.test(document.body.innerText) && !document.querySelector('mat-progress-bar'),
    'read and compared',
  );
  await page.type('#attestation', 'Made up for measuring.');
  await press(page, 'Store ');
  await until(() => document.querySelector('#paste') !== null, 'handed in');
  for (;;) {
    await wait(1000);
    const state = await page.evaluate(
      async (b) => {
        const answer = await fetch(`/api/v1/businesses/${b}/intakes`);
        return ((await answer.json()) as { items: { state: string }[] }).items[0]?.state;
      },
      at.split('/').pop() ?? '',
    );
    if (state === 'stored') break;
    if (state === 'cancelled') throw new Error('The intake was cancelled.');
  }
  return page.evaluate(() => (globalThis as unknown as { seen: { most: number } }).seen.most);
}

function press(page: Page, words: string): Promise<void> {
  return page.evaluate((w) => {
    const button = Array.from(document.querySelectorAll('button')).find((b) =>
      b.textContent.trim().startsWith(w.trim()),
    );
    if (!button) throw new Error(`There is no button “${w}”.`);
    button.click();
  }, words);
}

async function cookieOf(page: Page): Promise<string> {
  return (await page.browserContext().cookies()).map((c) => `${c.name}=${c.value}`).join('; ');
}

/** Somebody else’s small request, twenty times a second. */
function smallRequests(cookie: string, at: string): { end: () => Promise<number> } {
  const times: number[] = [];
  let running = true;
  const loop = (async () => {
    while (running) {
      const began = performance.now();
      await (
        await fetch(`${base}/api/v1/businesses/${at.split('/').pop() ?? ''}/lists`, { headers: { cookie } })
      ).text();
      times.push(performance.now() - began);
      await wait(50);
    }
  })();
  return {
    end: async () => {
      running = false;
      await loop;
      times.sort((a, b) => a - b);
      return times[Math.floor(times.length * 0.95)] ?? 0;
    },
  };
}

/** Memory that is a process’s own, in MB: what it maps of files is the system’s, which takes it back when it wants. */
async function ownMemory(pid: number): Promise<number> {
  const status = await readFile(`/proc/${pid}/status`, 'utf8').catch(() => '');
  return Number(/RssAnon:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024;
}

/** Keeps the most that the server, and the largest of the browser’s pages, have taken. */
async function sample(server: number, most: { server: number; page: number }): Promise<void> {
  most.server = Math.max(most.server, await ownMemory(server));
  for (const pid of (await readdir('/proc')).filter((x) => /^\d+$/.test(x))) {
    const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
    if (command.includes('--type=renderer')) most.page = Math.max(most.page, await ownMemory(Number(pid)));
  }
}
