import puppeteer, { type CDPSession, type Page } from 'puppeteer-core';
import { existsSync } from 'node:fs';
import { atMost, report, table } from './measure.js';
import { number, person } from './scale/people.js';

/**
 * What the interface weighs and how smoothly it goes, in headless Chromium against the application that runs at
 * LONG_GATE_URL (the demo's address where it is not set). `--bring 100000` brings so many contacts in first.
 */
const base = process.env['LONG_GATE_URL'] ?? 'http://localhost:4300';
const bring = process.argv.indexOf('--bring');
const CHUNK = 2000;
/** Each area’s page, beside Today. */
const PAGES = 'numbers registration/brand contacts consent dispatch inbox watch settings/business settings/you'.split(
  ' ',
);
const wait = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

const executablePath = [process.env['CHROME_BIN'], '/usr/bin/chromium', '/usr/bin/google-chrome'].find(
  (f) => f && existsSync(f),
);
if (!executablePath) throw new Error('No Chromium found: install it, or name it in CHROME_BIN.');
const browser = await puppeteer.launch({
  executablePath,
  args: ['--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage'],
  headless: true,
});
try {
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  await page.goto(`${base}/sign-in`, { waitUntil: 'networkidle2' });
  await page.evaluate(() =>
    Array.from(document.querySelectorAll('button'))
      .find((b) => b.textContent.includes('Sign in as administrator'))
      ?.click(),
  );
  await page.waitForFunction(() => location.pathname.startsWith('/b/'));
  const at = page.url().split('/').slice(0, 5).join('/');
  if (bring > 0) await bringIn(page, at, Number(process.argv[bring + 1]));
  const contacts = await page.evaluate(async (b) => {
    const id = b.split('/').pop() ?? '';
    const answer = (await (await fetch(`/api/v1/businesses/${id}/contact-facets`)).json()) as { total?: number };
    return answer.total ?? 0;
  }, at);
  await weight(page, at, contacts);
  await scrolling(page, at, contacts);
  await heap(page, at, contacts);
  console.log(`\n${table()}`);
} finally {
  await browser.close();
}

/** Hands contacts in as the interface does, row by row checked by the server, and waits until they are stored. */
async function bringIn(page: Page, at: string, count: number): Promise<void> {
  const id = at.split('/').pop() ?? '';
  const call = (method: string, path: string, body?: unknown): Promise<{ id?: string; items?: { state: string }[] }> =>
    page.evaluate(
      async (m, p, b) => {
        const csrf = ((await (await fetch('/api/v1/session')).json()) as { csrf: string }).csrf;
        const answer = await fetch(`/api/v1${p}`, {
          method: m,
          headers: {
            'content-type': 'application/json',
            'x-csrf-token': csrf,
            'idempotency-key': crypto.randomUUID(),
          },
          ...(b === null ? {} : { body: b }),
        });
        if (!answer.ok) throw new Error(`${p}: ${answer.status} ${await answer.text()}`);
        return (await answer.json()) as { id?: string; items?: { state: string }[] };
      },
      method,
      path,
      body === undefined ? null : JSON.stringify(body),
    );
  const intakes = `/businesses/${id}/intakes`;
  const made = await call('POST', intakes, {
    fileName: 'measured.csv',
    total: count,
    listName: '',
    consentClaim: '',
    attestation: 'Made up for measuring.',
  });
  for (let from = 0; from < count; from += CHUNK) {
    const rows = Array.from({ length: Math.min(CHUNK, count - from) }, (_, i) => {
      const { firstName, lastName, email } = person(from + i);
      return { row: from + i + 1, phone: number(from + i), firstName, lastName, email, stateCode: '', keep: true };
    });
    await call('POST', `${intakes}/${made.id ?? ''}/rows`, { rows });
  }
  await call('POST', `${intakes}/${made.id ?? ''}/store`);
  for (;;) {
    await wait(2000);
    const { items } = await call('GET', intakes);
    if (items?.[0]?.state === 'stored') return;
    if (items?.[0]?.state === 'cancelled') throw new Error('The intake was cancelled.');
  }
}

/** What comes over the wire for the frame, packed, of an empty cache: what all of its pages load. */
async function weight(page: Page, at: string, contacts: number): Promise<void> {
  const cdp = await page.createCDPSession();
  await cdp.send('Network.enable');
  await cdp.send('Network.setCacheDisabled', { cacheDisabled: true });
  const urls = new Map<string, string>();
  const loaded = new Map<string, number>();
  cdp.on('Network.responseReceived', ({ requestId, response, type }) => {
    if (type === 'Script' || type === 'Stylesheet') urls.set(requestId, response.url);
  });
  // What is packed, without the heads of the answers.
  cdp.on('Network.dataReceived', ({ requestId, encodedDataLength }) => {
    const url = urls.get(requestId);
    if (url) loaded.set(url, (loaded.get(url) ?? 0) + encodedDataLength);
  });
  const load = async (place: string): Promise<Map<string, number>> => {
    loaded.clear();
    await page.goto(`${at}/${place}`, { waitUntil: 'networkidle2' });
    return new Map(loaded);
  };
  const today = await load('today');
  const others: Map<string, number>[] = [];
  for (const place of PAGES) others.push(await load(place));
  const sum = (of: Iterable<[string, number]>): number => [...of].reduce((n, [, bytes]) => n + bytes, 0) / 1000;
  atMost(contacts, 'frame, first load', sum([...today].filter(([url]) => others.every((o) => o.has(url)))), 250, 'kB');
  console.log(`frame and Today ${Math.round(sum(today))} kB`);
  await cdp.send('Network.setCacheDisabled', { cacheDisabled: false });
  await cdp.detach();
}

/**
 * The longest task while the list of contacts is scrolled as far as a hand does in ten seconds; and the processor time
 * of the one that took most of it, since a task is longer where somebody else has the processor meanwhile.
 */
async function scrolling(page: Page, at: string, contacts: number): Promise<void> {
  await page.goto(`${at}/contacts`, { waitUntil: 'networkidle2' });
  await page.waitForSelector('cdk-virtual-scroll-viewport tr[data-row]');
  await wait(1000);
  await page.tracing.start({ categories: ['toplevel'] });
  const longest = await page.evaluate(async () => {
    let most = 0;
    const seen = new PerformanceObserver((list) => {
      for (const e of list.getEntries()) most = Math.max(most, e.duration);
    });
    seen.observe({ type: 'longtask' });
    const viewport = document.querySelector<HTMLElement>('cdk-virtual-scroll-viewport');
    const end = performance.now() + 10_000;
    while (viewport && performance.now() < end) {
      viewport.scrollTop += 240;
      await new Promise((r) => requestAnimationFrame(r));
      await new Promise((r) => setTimeout(r, 12));
    }
    seen.disconnect();
    return { most, rows: document.querySelectorAll('tr[data-row]').length, at: viewport?.scrollTop ?? 0 };
  });
  const trace = await page.tracing.stop();
  atMost(contacts, 'longest task while scrolling', longest.most, 50);
  atMost(contacts, 'most processor time of one', trace ? mostOfMainThread(trace) : NaN, 50);
  atMost(contacts, 'rows drawn at once', longest.rows, 80, 'rows');
  console.log(`scrolled to ${longest.at.toLocaleString('en-US')} px`);
}

/** Of the tasks of a page's main thread, the most processor time one took, in ms. */
function mostOfMainThread(trace: Uint8Array): number {
  const { traceEvents: events } = JSON.parse(Buffer.from(trace).toString('utf8')) as {
    traceEvents: { name: string; pid: number; tid: number; tdur?: number; args?: { name?: string } }[];
  };
  const main = new Set(
    events.filter((e) => e.name === 'thread_name' && e.args?.name === 'CrRendererMain').map((e) => `${e.pid} ${e.tid}`),
  );
  const took = events
    .filter((e) => e.name.endsWith('RunTask') && main.has(`${e.pid} ${e.tid}`))
    .map((e) => (e.tdur ?? 0) / 1000);
  return took.reduce((a, b) => Math.max(a, b), 0);
}

/** What is held on to between the 10th and the 50th change of page. */
async function heap(page: Page, at: string, contacts: number): Promise<void> {
  await page.goto(`${at}/today`, { waitUntil: 'networkidle2' });
  const cdp = await page.createCDPSession();
  const used = async (): Promise<number> => {
    await cdp.send('HeapProfiler.collectGarbage');
    await wait(300);
    await cdp.send('HeapProfiler.collectGarbage');
    return (await page.metrics()).JSHeapUsedSize ?? 0;
  };
  let tenth = 0;
  let code = 0;
  for (let i = 1; i <= 50; i++) {
    await page.keyboard.down('Alt');
    await page.keyboard.press(`Digit${(i % 9) + 1}` as 'Digit1');
    await page.keyboard.up('Alt');
    await page.waitForNetworkIdle({ idleTime: 150, timeout: 5000 }).catch(() => undefined);
    // The tenth and the fiftieth are of the same page only where nine divides their distance: go home for both.
    if (i === 10 || i === 50) {
      await page.keyboard.down('Alt');
      await page.keyboard.press('Digit1');
      await page.keyboard.up('Alt');
      await wait(800);
      if (i === 10) [tenth, code] = [await used(), await compiled(cdp)];
    }
  }
  atMost(contacts, 'heap gained from the 10th to the 50th change of page', ((await used()) - tenth) / 1e6, 2, 'MB');
  report({
    contacts,
    name: 'of it what the engine made of code that is often run',
    ours: ((await compiled(cdp)) - code) / 1e6,
    unit: 'MB',
  });
}

/** How much of the heap is code as the engine keeps it: it grows as functions become warm, whatever the pages hold. */
async function compiled(cdp: CDPSession): Promise<number> {
  let text = '';
  const hear = ({ chunk }: { chunk: string }): void => void (text += chunk);
  cdp.on('HeapProfiler.addHeapSnapshotChunk', hear);
  await cdp.send('HeapProfiler.takeHeapSnapshot', { reportProgress: false });
  cdp.off('HeapProfiler.addHeapSnapshotChunk', hear);
  const { snapshot, nodes } = JSON.parse(text) as {
    snapshot: { meta: { node_fields: string[]; node_types: [string[]] } };
    nodes: number[];
  };
  const { node_fields: fields, node_types: types } = snapshot.meta;
  const [type, size] = [fields.indexOf('type'), fields.indexOf('self_size')];
  let sum = 0;
  for (let i = 0; i < nodes.length; i += fields.length)
    if (types[0][nodes[i + type] ?? 0] === 'code') sum += nodes[i + size] ?? 0;
  return sum;
}
