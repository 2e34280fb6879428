import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import type { Browser, Page } from 'puppeteer-core';
import { Person, Running } from '../running.js';
import { Desk } from './desk.js';
import { beyondTheEdge } from './edge.js';
import { Screen } from './screen.js';

const axe = await readFile(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const VIEWS = [
  'today',
  'numbers',
  'numbers/acquire?where=201',
  'numbers/acquire?where=551',
  'numbers/need',
  'numbers/ports',
  'numbers/hosted',
  'numbers/senders',
  'numbers/countries?open=GB',
  'numbers/route?number=%2B12015550152',
  'registration/brand',
  'registration/dossiers',
  'registration/campaigns/new',
  'contacts',
  'contacts/intake',
  'contacts/unreached',
  'contacts/duplicates',
  'contacts/fields',
  'settings/lookups',
  'consent',
  'consent/coverage',
  'consent/coverage?open=all&of=promotional&why=consent-none',
  'consent/sources?open=keyword%7C&of=agreed',
  'consent/pages',
  'consent/pages/write?open=new',
  'consent/keywords',
  'consent/invitations',
  'consent/text-links',
  'consent/claims',
  'consent/expiry',
  'consent/forms',
  'consent/forms/file?e164=%2B19145550130',
  'consent/replies',
  'consent/suppression',
  'consent/suppression/bring',
  'consent/sources/opt-outs',
  'consent/sources/opt-outs/bring',
  'consent/suppression/relationships',
  'consent/suppression/relationships/record',
  'consent/evidence',
  'consent/evidence/ask?e164=%2B12015550103',
  'consent/as-of?e164=%2B19145550130&at=2027-03-03T10:12&words=Fares+from+%2417&purpose=promotional',
  'dispatch',
  'dispatch/calendar',
  'watch',
  'inbox',
  'settings/business',
  'settings/money',
  'settings/people',
  'settings/rules',
  'settings/audit',
  'settings/you',
  'settings/connections',
  'settings/new-business',
];
/** Where nobody is signed in yet, with links that lead nowhere any more where one is wanted. */
const OUTSIDE = [
  'sign-in',
  'forgot-password',
  'set-up',
  'invited/gone',
  'new-password/gone',
  'unlock/gone',
  'sign/gone',
  'join/gone',
  'my-texts/gone',
  'better-number/gone',
  'nowhere',
];
/** What is seen by its colour; the other rules say the same in light as in dark. */
const OF_COLOUR = ['color-contrast', 'link-in-text-block'];

describe('the demo on screen', () => {
  let desk: Desk;
  let running: Running;
  let browser: Browser;
  let s: Screen;

  beforeAll(async () => {
    desk = await Desk.open();
    ({ screen: s, running, browser } = desk);
  });
  afterAll(async () => {
    await desk.close();
  });

  /**
   * What the page as it stands violates of the rules of WCAG and of good practice: light and dark, wide and narrow; and
   * what stands where it is not seen.
   */
  async function violations(page = s.page): Promise<string[]> {
    await page
      .evaluate((code) => {
        if (!('axe' in window)) new Function(code)();
      }, axe)
      .catch(() => page.evaluate(axe));
    const found: string[] = [];
    for (const width of [390, 1280]) {
      await page.setViewport({ width, height: 800 });
      for (const theme of ['dark', 'light']) {
        await page.evaluate((t) => (document.documentElement.dataset['theme'] = t), theme);
        // What has to leave where there is no room leaves once the browser has measured.
        await new Promise((r) => setTimeout(r, 120));
        if (theme === 'light') found.push(...(await beyondTheEdge(page)).map((v) => `${width} px: ${v}`));
        found.push(
          ...(await here(page, theme === 'light' ? OF_COLOUR : null)).map((v) => `${theme}, ${width} px: ${v}`),
        );
      }
    }
    return found;
  }
  const here = (page: Page, only: readonly string[] | null): Promise<string[]> =>
    page.evaluate(async (rules) => {
      const result = await (
        window as unknown as {
          axe: { run(o: object): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
        }
      ).axe.run({ resultTypes: ['violations'], ...(rules ? { runOnly: rules } : {}) });
      return result.violations.map(
        (v) =>
          `${v.id}: ${v.nodes
            .map((n) => n.html.slice(0, 140))
            .slice(0, 3)
            .join(' | ')}`,
      );
    }, only);

  for (const view of VIEWS) {
    it(`violates no rule of accessibility at ${view}`, async () => {
      await s.page.setBypassCSP(true);
      await s.go(view);
      await s.page.waitForSelector('lg-page-title h1');
      await new Promise((r) => setTimeout(r, 900));
      expect(await violations()).toEqual([]);
    });
  }

  it('violates none where nobody is signed in, on no page at all, and where a link leads nowhere any more', async () => {
    const stranger = await browser.createBrowserContext();
    const page = await stranger.newPage();
    await page.setBypassCSP(true);
    for (const at of OUTSIDE) {
      await page.goto(`${running.url}/${at}`, { waitUntil: 'networkidle2' });
      await page.waitForSelector('h1');
      expect(await violations(page))
        .withContext(at)
        .toEqual([]);
    }
    await stranger.close();
  });

  it('violates none while contacts are chosen, while columns are, and in the finder', async () => {
    await s.go('contacts');
    await s.press('Choose…');
    await s.page.waitForSelector('lg-selection-bar');
    await s.tap('tr[data-row] mat-checkbox input');
    const onto = '[aria-label="List or tag for the chosen contacts"]';
    await s.page.waitForSelector(onto);
    await s.page.type(onto, 'New');
    expect(await violations()).toEqual([]);
    await s.press('choose no more');
    await s.press('Columns…');
    await s.page.waitForSelector('mat-dialog-container');
    expect(await violations()).toEqual([]);
    await s.page.keyboard.press('Escape');
    await s.page.keyboard.down('Control');
    await s.page.keyboard.press('k');
    await s.page.keyboard.up('Control');
    await s.page.waitForSelector('lg-finder input');
    await s.page.keyboard.type('ferry');
    expect(await violations()).toEqual([]);
    await s.page.keyboard.press('Escape');
  });

  it('has none in a docket, in a dialog and on the opt-in page either', async () => {
    await s.go('numbers');
    await s.page.waitForSelector('table.ledger tbody button');
    await s.press('+1 551-555-0160');
    await s.see('Tie it to a campaign.');
    expect(await violations()).toEqual([]);
    await s.page.keyboard.press('?');
    await s.see('find a place, an object or an action');
    expect(await violations()).toEqual([]);
    await s.page.goto(`${running.url}/join/saltmarsh`);
    await s.see('Texts from Saltmarsh Ferries');
    expect(await violations()).toEqual([]);
    await s.page.goto(running.url);
    await s.see('To decide');
  });

  it('has none where one writes, reads results, mends a campaign or talks either', async () => {
    for (const [view, words, then] of [
      ['numbers/ports', '+1 201-555-0152', 'The PIN does not match.'],
      ['dispatch', 'Early-summer fares', 'in the audience'],
      ['dispatch', 'Partner: pier raffle', 'Receipts may still come in'],
      ['registration/brand', 'Winter pier events', 'Agreement is made a condition.'],
      ['inbox?show=all', 'Fergus Aldersey', 'Send answer'],
      ['contacts?q=Fergus', 'Fergus Aldersey', 'They asked us to stop'],
    ] as const) {
      await s.go(view);
      await s.press(words);
      await s.see(then);
      // The words may stand on the page one comes from: the next one has drawn its heading.
      await new Promise((r) => setTimeout(r, 600));
      await s.page.waitForSelector('h1');
      expect(await violations())
        .withContext(words)
        .toEqual([]);
    }
  });

  it('is worked by keys alone', async () => {
    await s.page.keyboard.down('Alt');
    await s.page.keyboard.press('Digit2');
    await s.page.keyboard.up('Alt');
    await s.page.waitForSelector('lg-inventory table.ledger tbody tr.go');
    await s.page.keyboard.press('ArrowDown');
    await s.see('For colleagues');
    await s.page.keyboard.press('Escape');
    await s.gone('For colleagues');
    await s.page.keyboard.press('/');
    await s.page.keyboard.type('harbour');
    await s.gone('Sailing alerts');
    await s.page.keyboard.press('Escape');
    await s.page.keyboard.down('Control');
    await s.page.keyboard.press('k');
    await s.page.keyboard.up('Control');
    await s.page.waitForSelector('lg-finder input');
    await s.page.keyboard.type('early-summer');
    await s.see('Early-summer fares');
    await s.page.keyboard.press('Enter');
    await s.see('in the audience');
  });

  it('opens every count of the gate preview to the people in it', async () => {
    const posts = await s.page.$$eval('lg-gate-drawing g[role=button][aria-label^="Post"]', (gs) =>
      gs.map((g) => g.getAttribute('aria-label') ?? ''),
    );
    expect(posts.length).toBeGreaterThan(3);
    for (const label of posts) {
      const count = Number(/: (\d+) /.exec(label)?.[1]);
      await s.page.evaluate(
        (l) =>
          Array.from(document.querySelectorAll('lg-gate-drawing g'))
            .find((g) => g.getAttribute('aria-label') === l)
            ?.dispatchEvent(new MouseEvent('click', { bubbles: true })),
        label,
      );
      // As many as the drawing says; of a long list those on screen are drawn.
      await s.page.waitForFunction(
        (n) => {
          const behind = document.querySelector('lg-people-behind');
          const head = behind?.querySelector('h2')?.textContent ?? '';
          const rows = behind?.querySelectorAll('tbody tr td.mono').length ?? 0;
          return head.includes(`: ${n.toLocaleString('en-US')} `) && rows >= Math.min(n, 3);
        },
        {},
        count,
      );
    }
  });

  it('puts all contacts that match on a tag, those included that are not on screen', async () => {
    await s.go('contacts?textable=yes');
    await s.see(' match');
    const count = /([\d,]+) match/.exec(await s.text('lg-table .foot'))?.[1] ?? '';
    expect(Number(count.replace(',', ''))).toBeGreaterThan(500);
    await s.press('Choose…');
    await s.press(`choose all ${count} that match`);
    await s.page.type('[aria-label="List or tag for the chosen contacts"]', 'Textable now');
    await s.press('Put on a new tag “Textable now”');
    await s.press('Put them on');
    await s.see(`${count} contacts are being put on “Textable now”.`);
    await s.tap('mat-select[aria-label="Tag"]');
    await s.page.waitForFunction(
      (words) =>
        Array.from(document.querySelectorAll('mat-option')).some((x) =>
          x.textContent.replace(/\s+/g, ' ').includes(words),
        ),
      { polling: 200 },
      `Textable now ${count}`,
    );
    await s.page.keyboard.press('Escape');
  });

  it('gives a coordinator no way to settings they may not change, and a viewer none to write', async () => {
    const viewer = await browser.createBrowserContext();
    const v = await Screen.open(viewer, running.url);
    await v.press('Sign in as viewer');
    await v.see('To decide');
    await v.go('dispatch');
    await v.see('Spring fares');
    expect(await v.sees('Write a dispatch')).toBe(false);
    await v.go('numbers');
    await v.see('Sailing alerts');
    expect(await v.page.$$eval('.do.main', (all) => all.length))
      .withContext('nothing to buy')
      .toBe(0);
    await viewer.close();
  });

  it('follows what the other side does without a reload', async () => {
    await s.go('inbox');
    await s.see('waiting for an answer 3');
    await fetch(`${running.outside}/handset/phones/%2B12125550177/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: '+15515550188', text: 'Is my umbrella there?' }),
    });
    await s.see('Is my umbrella there?');
    await s.see('waiting for an answer 4');
    await s.see('4 waiting');
  });

  it('says what is wrong with a bad file and never freezes', async () => {
    await s.go('contacts/intake');
    const give = async (name: string, bytes: string): Promise<void> => {
      await s.page.waitForSelector('input[type=file]');
      await s.page.evaluate(
        (n, make) => {
          const content = (new Function(`return ${make}`) as () => BlobPart)();
          const data = new DataTransfer();
          data.items.add(new File([content], n));
          const input = document.querySelector<HTMLInputElement>('input[type=file]');
          if (input) {
            input.files = data.files;
            input.dispatchEvent(new Event('change'));
          }
        },
        name,
        bytes,
      );
    };
    await s.page.setBypassCSP(true);
    await s.page.reload();
    await give('empty.csv', `''`);
    await s.see('The file is empty.');
    await give(
      'picture.csv',
      `(() => { const b = new Uint8Array(50 * 1024 * 1024); for (let i = 0; i < b.length; i += 7) b[i] = i % 251; return b; })()`,
    );
    await s.see('it holds binary data');
    await give(
      'utf16.csv',
      `(() => { const t = '\\uFEFFPhone,First name\\n201-555-0171,Zoë\\n'; const a = new Uint16Array(t.length); for (let i = 0; i < t.length; i++) a[i] = t.charCodeAt(i); return a.buffer; })()`,
    );
    await s.see('1 rows, UTF-16');
    await s.press('Start over');
    await give(
      'old.csv',
      `new Uint8Array([80,104,111,110,101,44,78,97,109,101,10,50,48,49,53,53,53,48,49,55,49,44,90,111,235,10])`,
    );
    await s.see('Windows-1252');
    await s.see('Zoë');
    await s.press('Start over');
    // Hundreds of thousands of rows of rubbish: the page goes on answering while the worker reads.
    await give('rubbish.csv', `Array.from({ length: 300000 }, (_, i) => 'x' + i + ',rubbish').join('\\n')`);
    // How long the page drew nothing at most, until all is read.
    const { longest, all } = await s.page.evaluate(async (words) => {
      const begun = performance.now();
      let [last, longest] = [begun, 0];
      while (!document.body.innerText.includes(words)) {
        await new Promise((r) => requestAnimationFrame(r));
        const now = performance.now();
        longest = Math.max(longest, now - last);
        last = now;
      }
      return { longest, all: last - begun };
    }, '300,000 rows');
    // Where the page itself read them, it would draw nothing until it had; a slow machine draws late, but draws.
    expect(longest)
      .withContext(`longest wait for a frame of ${all} ms`)
      .toBeLessThan(Math.max(2000, all / 2));
    // No column holds a phone number, and that is said.
    await s.see('No column is the phone number').catch(() => s.see('refused'));
  });

  it('never showed an error in the browser', () => {
    expect(s.errors).toEqual([]);
  });

  it('lets nobody in whose session is over', async () => {
    const person = new Person(running.url);
    expect((await person.call('GET', `/businesses/x/numbers`)).status).toBe(401);
  });
});
