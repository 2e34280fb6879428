import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { launch } from './browser.js';

/** One picture of each main view, from the running demo: `npm run screenshots` (address from LONG_GATE_URL). */
const base = process.env['LONG_GATE_URL'] ?? 'http://localhost:4300';
const out = process.argv[2] ?? 'docs/screenshots';
const only = process.argv[3]?.split(',');

interface Shot {
  name: string;
  /** Below the business's address; begins with a slash for one outside of it. */
  at: string;
  prepare?: (page: import('puppeteer-core').Page) => Promise<void>;
  width?: number;
  /** The business shown; the first where none is named. */
  of?: string;
}

const wait = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
const click = async (page: import('puppeteer-core').Page, text: string): Promise<void> => {
  const handle = await page.waitForSelector(
    `::-p-xpath(//*[self::a or self::button][contains(normalize-space(.), ${JSON.stringify(text)})])`,
    { timeout: 8000 },
  );
  await handle?.evaluate((el) => (el as HTMLElement).click());
};

/** The gate preview of the draft, opened at the sixth post. */
async function openPost6(page: import('puppeteer-core').Page): Promise<void> {
  await click(page, 'Early-summer fares');
  await wait(2500);
  await page.evaluate(() => {
    const post = Array.from(document.querySelectorAll('g.stop')).find((g) =>
      g.getAttribute('aria-label')?.startsWith('Post 6'),
    );
    post?.dispatchEvent(new MouseEvent('click', { bubbles: true }));
  });
}

const SHOTS: Shot[] = [
  { name: 'today', at: 'today' },
  { name: 'numbers', at: 'numbers', prepare: (page) => click(page, '551-555-0160') },
  { name: 'acquire', at: 'numbers/acquire?where=201' },
  { name: 'port-desk', at: 'numbers/ports' },
  {
    name: 'registration',
    at: 'registration/brand',
    prepare: async (page) => {
      await click(page, 'Winter pier events');
      const field = await page.waitForSelector('#description');
      await field?.click({ count: 3 });
      await page.keyboard.type(
        'Saltmarsh Ferries sends people who joined its pier list news of concerts and markets, once or twice a month.',
      );
      await wait(1500);
    },
  },
  {
    name: 'contacts',
    at: 'contacts',
    prepare: async (page) => {
      await wait(800);
      // One who has a second number, where one is among the first.
      await page.evaluate(() => {
        const rows = Array.from(document.querySelectorAll('cdk-virtual-scroll-viewport tr[data-row]'));
        const row = rows.find((r) => /\d{4} \+\d/.test(r.textContent)) ?? rows[0];
        row?.querySelector('button')?.click();
      });
    },
  },
  { name: 'unreached', at: 'contacts/unreached' },
  {
    name: 'intake',
    at: 'contacts/intake',
    prepare: async (page) => {
      await page.type(
        '#paste',
        'Full name;Mobile;E-mail;Opt-in;Opt-in date;Vehicle\n"Eide, Wren";(212) 555-0171;wren@post.example;yes;25/04/2026;car\nPim Tolland;201.555.0172 ext 4;;no;;\nOswin Marsh;+1 609 555 0133;oswin@post.example;yes;26/04/2026;boat\nJuno;2.01556E+09;;;;\nBram;911;;;;\nIlse Quill;"212-555-0173; 212-555-0174";;;;van\nWren again;2125550171;;;;',
      );
      await click(page, 'Read the lines');
    },
  },
  {
    name: 'consent',
    at: 'consent',
    prepare: async (page) => {
      await click(page, 'Verify the chain');
      await wait(1500);
      await page.click('cdk-virtual-scroll-viewport button');
    },
  },
  {
    name: 'suppression',
    at: 'consent/suppression',
    prepare: (page) => page.click('lg-table table tbody tr:last-child'),
  },
  {
    name: 'coverage',
    at: 'consent/coverage',
    prepare: (page) => click(page, 'All contacts'),
  },
  {
    name: 'page-editor',
    at: 'consent/pages',
    prepare: async (page) => {
      await click(page, 'Texts from Saltmarsh');
      await click(page, 'Write it');
      await wait(1500);
    },
  },
  { name: 'opt-in-page', at: '/join/saltmarsh', width: 390 },
  { name: 'dispatch', at: 'dispatch', prepare: openPost6 },
  { name: 'results', at: 'dispatch', prepare: (page) => click(page, 'Partner: pier raffle') },
  { name: 'watch', at: 'watch' },
  {
    name: 'inbox',
    at: 'inbox',
    prepare: async (page) => {
      await wait(700);
      await page.click('table.ledger tr.go button');
    },
  },
  { name: 'money', at: 'settings/money' },
  { name: 'evidence', at: 'consent/evidence', prepare: (page) => click(page, 'Tessary Wireless') },
];

const browser = await launch();
try {
  await mkdir(out, { recursive: true });
  const page = await browser.newPage();
  page.on('pageerror', (e) => console.log('page error:', String(e)));
  page.on('console', (m) => {
    if (m.type() === 'error') console.log('console:', m.text());
  });
  await page.setViewport({ width: 1280, height: 800 });
  await page.goto(`${base}/sign-in`, { waitUntil: 'networkidle2' });
  await click(page, 'Sign in as administrator');
  await page.waitForFunction(() => location.pathname.startsWith('/b/'));
  const first = page.url().split('/').slice(0, 5).join('/');
  const ids = await page.evaluate(async () => {
    const session = (await (await fetch('/api/v1/session')).json()) as {
      businesses: { id: string; nameLine: string }[];
    };
    return Object.fromEntries(session.businesses.map((b) => [b.nameLine, b.id]));
  });
  for (const shot of SHOTS) {
    if (only && !only.includes(shot.name)) continue;
    await page.setViewport({ width: shot.width ?? 1280, height: 800 });
    await page.goto(
      shot.at.startsWith('/')
        ? `${base}${shot.at}`
        : `${shot.of ? `${base}/b/${ids[shot.of] ?? ''}` : first}/${shot.at}`,
      { waitUntil: 'load' },
    );
    await wait(1500);
    await shot.prepare?.(page);
    await wait(1300);
    await page.screenshot({ path: path.join(out, `${shot.name}.png`) });
    console.log(shot.name);
  }
} finally {
  await browser.close();
}
