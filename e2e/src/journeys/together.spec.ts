import type { Browser } from 'puppeteer-core';
import { launch } from '../browser.js';
import { Person, Running, until } from '../running.js';
import { Screen } from './screen.js';

describe('two people on one draft', () => {
  let running: Running;
  let browser: Browser;
  let maren: Screen;
  let tobiah: Screen;
  let person: Person;

  beforeAll(async () => {
    running = await Running.start({ demo: true });
    browser = await launch();
    person = await new Person(running.url).signIn('administrator');
    const come = async (role: string): Promise<Screen> => {
      const context = await browser.createBrowserContext();
      const s = await Screen.open(context, running.url);
      await s.press(`Sign in as ${role}`);
      await s.see('To decide');
      await s.go('dispatch');
      await s.press('Easter timetable');
      await s.see('everyone in');
      return s;
    };
    maren = await come('administrator');
    tobiah = await come('coordinator');
  });
  afterAll(async () => {
    await browser.close();
    await running.stop();
  });

  const TITLE = 'input[aria-label="Title"]';
  const write = async (s: Screen, title: string): Promise<void> => {
    await s.page.$eval(
      TITLE,
      (e, t) => {
        e.value = t;
        e.dispatchEvent(new Event('input', { bubbles: true }));
        e.dispatchEvent(new Event('change', { bubbles: true }));
      },
      title,
    );
  };
  const title = (s: Screen): Promise<string> => s.page.$eval(TITLE, (e) => e.value);
  /** Waits until the server has this title. */
  const kept = (words: string): Promise<unknown> =>
    until(async () => {
      const { pathname } = new URL(maren.page.url());
      const [, , business, , id] = pathname.split('/');
      const d = await person.ok<{ title: string }>('GET', `/businesses/${business}/dispatches/${id}`);
      return d.title === words;
    });
  const titled = (s: Screen, words: string): Promise<unknown> =>
    s.page.waitForFunction((sel, w) => document.querySelector<HTMLInputElement>(sel)?.value === w, {}, TITLE, words);

  it('see what the other saved while they write nothing themselves', async () => {
    await write(tobiah, 'Easter timetable, corrected');
    await kept('Easter timetable, corrected');
    await titled(maren, 'Easter timetable, corrected');
  });

  it('lose nothing while the server is away, nor by reloading, and choose where both wrote the same', async () => {
    await maren.page.setOfflineMode(true);
    await write(maren, 'Easter boats');
    await maren.see('not saved: the server does not answer; kept in this browser');
    await write(tobiah, 'Easter sailings');
    await kept('Easter sailings');
    await maren.page.setOfflineMode(false);
    await maren.see('Tobiah Fenwether changed the same');
    // The browser asks whether to leave what is not saved.
    let asked = '';
    maren.page.once('dialog', (d) => {
      asked = d.type();
      void d.accept();
    });
    await maren.page.reload({ waitUntil: 'load' });
    expect(asked).toBe('beforeunload');
    await maren.see('Tobiah Fenwether changed the same');
    await maren.see('Easter sailings');
    expect(await title(maren)).toBe('Easter boats');
    await maren.press('Keep yours');
    await maren.gone('changed the same');
    await kept('Easter boats');
    await titled(tobiah, 'Easter boats');
  });

  it('are asked before they leave what could not be saved', async () => {
    await maren.page.setOfflineMode(true);
    await write(maren, 'Easter ferries');
    await maren.see('not saved: the server does not answer');
    await maren.press('Inbox');
    await maren.see('Leave with something unsaved?');
    await maren.press('Stay');
    await maren.gone('Leave with something unsaved?');
    await maren.page.setOfflineMode(false);
    await maren.gone('not saved');
    await maren.press('Inbox');
    await maren.see('Inbox');
    await titled(tobiah, 'Easter ferries');
    expect([...maren.errors, ...tobiah.errors].filter((e) => !e.includes('ERR_INTERNET_DISCONNECTED'))).toEqual([]);
  });
});
