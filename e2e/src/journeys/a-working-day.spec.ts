import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { until, type Person } from '../running.js';
import { Desk } from './desk.js';
import type { Screen } from './screen.js';

const WORDS =
  'Text me offers and news, about four a month. I agree that Saltmarsh Ferries may send me automated promotional texts at this number. Agreeing is not a condition of any purchase. Message and data rates may apply. Reply HELP for help, STOP to end. Privacy and terms: saltmarsh.example.';

describe('a working day on screen', () => {
  let desk: Desk;
  let s: Screen;
  let person: Person;
  let business = '';
  let dir = '';

  beforeAll(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'forms-'));
    desk = await Desk.open();
    ({ screen: s, person } = desk);
    business = desk.business('Saltmarsh Ferries');
  });
  afterAll(async () => {
    await desk.close();
    await rm(dir, { recursive: true, force: true });
  });

  const titles = async (): Promise<string[]> =>
    (await person.ok<{ items: { title: string }[] }>('GET', `/businesses/${business}/dispatches`)).items.map(
      (d) => d.title,
    );

  it('has what waits for an answer with its time, and apart from it what was handled by itself', async () => {
    await s.go('inbox');
    await s.see('h left');
    expect(await s.sees('opt-out')).toBeFalse();
    await s.press('handled by itself');
    await s.see('opt-out');
    await s.press('waiting for an answer');
    const waiting = Number(/waiting for an answer (\d+)/.exec(await s.text('.facets'))?.[1]);
    // The one with the most time left is no wish to stop that somebody has to read first.
    const threads = `/businesses/${business}/threads?standing=waiting`;
    const last = (await person.ok<{ items: { name: string }[] }>('GET', threads)).items.at(-1)?.name ?? '';
    await s.press(last);
    await s.press('Needs no answer');
    await s.see(`waiting for an answer ${waiting - 1}`);
    await s.press('Waits for an answer after all');
    await s.see(`waiting for an answer ${waiting}`);
  });

  it('opens a count to its people, and files the form that makes proof of their claim', async () => {
    await s.go('dispatch');
    await s.press('Early-summer fares');
    await s.see('pass now');
    const before = /([\d,]+) pass now/.exec(await s.text('main'))?.[1];
    await s.page.evaluate(() =>
      Array.from(document.querySelectorAll('g.stop'))
        .find((g) => g.getAttribute('aria-label')?.startsWith('Post 6'))
        ?.dispatchEvent(new MouseEvent('click', { bubbles: true })),
    );
    await s.see('imported claim without proof. What lifts it: file the form, or invite to the page.');
    await s.page.evaluate(() => {
      const claim = Array.from(document.querySelectorAll('.remedy')).find((r) =>
        r.textContent.includes('without proof'),
      );
      claim?.querySelector<HTMLAnchorElement>('a')?.click();
    });
    await s.see('The words they were shown');
    const file = path.join(dir, 'counter-list.pdf');
    await writeFile(file, '%PDF-1.4 the counter list of January');
    const field = (await s.page.waitForSelector('input[type=file]')) as ElementHandle<HTMLInputElement>;
    await field.uploadFile(file);
    await s.see('“counter-list.pdf”');
    await s.fill('signedOn', '20 Jan 2027');
    await s.fill('disclosure', 'Text me.');
    await s.see('It does not say how to stop.');
    await s.fill('disclosure', WORDS);
    await s.gone('It does not say how to stop.');
    await s.page.evaluate(() => {
      for (const box of Array.from(document.querySelectorAll<HTMLInputElement>('fieldset input[type=checkbox]')))
        box.click();
    });
    await s.press('File it for');
    // The page that files it speaks of a SHA-256 too: what is filed stands at an address of its own.
    await s.page.waitForFunction(() => /\/consent\/forms\?.*open=/.test(location.href), { polling: 100 });
    await s.see('SHA-256');
    await s.see('counter-list.pdf');
    await s.gone('not all yet');
    await s.go('dispatch');
    await s.press('Early-summer fares');
    await s.see('pass now');
    const passing = (): Promise<string | undefined> => s.text('main').then((t) => /([\d,]+) pass now/.exec(t)?.[1]);
    const number = (words: string | undefined): number => Number(words?.replaceAll(',', ''));
    await until(async () => number(await passing()) > number(before));
    expect(number(await passing())).toBeGreaterThan(number(before));
  });

  it('stores a dispatch at its first word, and goes on writing after signing in again in place', async () => {
    const known = await titles();
    await s.go('dispatch/new');
    await s.page.waitForSelector('lg-text-editor [contenteditable]');
    await new Promise((r) => setTimeout(r, 1200));
    expect(await titles())
      .withContext('nothing was written')
      .toEqual(known);
    await s.page.type('lg-text-editor [contenteditable]', 'The late boat');
    await s.page.waitForFunction(() => !location.pathname.endsWith('/new'));
    await s.see('saved');
    expect((await titles()).length).toBe(known.length + 1);
    // The session ends while somebody writes.
    const cookies = await s.page.browserContext().cookies();
    await s.page.browserContext().deleteCookie(...cookies);
    await s.page.type('lg-text-editor [contenteditable]', ' leaves at ten.');
    await s.see('Your session has ended');
    await s.fill('password-again', 'quillmere-administrator');
    await s.press('Sign in');
    await s.gone('Your session has ended');
    const id = s.page.url().split('/').at(-1) ?? '';
    const stored = async (): Promise<string> =>
      (await person.ok<{ text: string }>('GET', `/businesses/${business}/dispatches/${id}`)).text;
    await until(async () => (await stored()).endsWith('ten.'));
    expect(await stored()).toBe('The late boat leaves at ten.');
  });

  it('never showed an error in the browser', () => {
    expect(s.errors).toEqual([]);
  });
});
