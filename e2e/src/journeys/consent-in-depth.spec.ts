import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { ElementHandle } from 'puppeteer-core';
import { until, type Person } from '../running.js';
import { Desk } from './desk.js';
import { Screen } from './screen.js';

interface Request {
  id: string;
  who: string;
  packs: { id: string; state: string }[];
}

describe('consent in depth', () => {
  let desk: Desk;
  let s: Screen;
  let person: Person;
  const at = (rest: string): string => `/businesses/${desk.business('Saltmarsh Ferries')}/${rest}`;

  beforeAll(async () => {
    desk = await Desk.open();
    ({ screen: s, person } = desk);
  });
  afterAll(async () => {
    expect(s.errors).toEqual([]);
    await desk.close();
  });

  it('answers a carrier with a pack that is checked without us, and that fails with a byte changed', async () => {
    await s.go('consent/evidence');
    await s.press('Tessary Wireless');
    await s.see('Hand it over.');
    const { items, fingerprint } = await person.ok<{ items: Request[]; fingerprint: string }>(
      'GET',
      at('evidence-requests?limit=10'),
    );
    await s.see(fingerprint);
    const request = items.find((x) => x.who === 'Tessary Wireless');
    const href = await s.page.$eval('lg-docket a[download]', (a) => (a as HTMLAnchorElement).href);
    const bytes = Buffer.from(
      await s.page.evaluate(async (url) => Array.from(new Uint8Array(await (await fetch(url)).arrayBuffer())), href),
    );
    const file = path.join(desk.running.dataDir, 'evidence-pack.zip');
    await writeFile(file, bytes);

    const page = await desk.browser.newPage();
    await page.setOfflineMode(true);
    await page.goto(
      `file://${fileURLToPath(new URL('../../../packages/web/dist/checker/check.html', import.meta.url))}`,
    );
    const check = async (from: string): Promise<string> => {
      const input = await page.waitForSelector('input[type=file]');
      await (input as ElementHandle<HTMLInputElement>).uploadFile(from);
      await page.waitForSelector('#found h2');
      const text = await page.$eval('#found', (e) => (e as HTMLElement).innerText);
      await page.$eval('#found', (e) => e.replaceChildren());
      return text;
    };
    const holds = await check(file);
    expect(holds).toContain('It holds.');
    expect(holds).toContain(fingerprint);
    const events = bytes.indexOf('"kind":"granted"');
    bytes.write('revoked', events + '"kind":"'.length);
    await writeFile(`${file}.changed`, bytes);
    expect(await check(`${file}.changed`)).toContain('It does not hold.');
    await page.close();

    await s.fill('answer', 'Put into their portal; the fingerprint told by telephone.');
    await s.press('Note it as answered');
    await s.see('Answered.');
    const open = await person.ok<{ items: Request[] }>('GET', at('evidence-requests?limit=10&state=open'));
    expect(open.items.map((x) => x.id)).not.toContain(request?.id ?? '');
    await s.go('today');
    await s.see('To decide');
    expect(await s.sees('Tessary Wireless asks for proof')).toBeFalse();
  });

  it('makes a pack for our own file from a contact, and says before what is proven', async () => {
    const { items } = await person.ok<{ items: { number: { e164: string } }[] }>(
      'GET',
      at('contacts?promotional=revoked&limit=1'),
    );
    const e164 = items[0]?.number.e164 ?? '';
    await s.go(`consent/evidence/ask?e164=${encodeURIComponent(e164)}`);
    await s.see('0 for offers.');
    await s.press('Make the pack');
    await s.see('Save the archive');
    await until(async () => {
      const { items: all } = await person.ok<{ items: Request[] }>('GET', at('evidence-requests?limit=10'));
      return all.some((x) => x.who === '' && x.packs[0]?.state === 'ready');
    });
  });
});
