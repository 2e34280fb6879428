import type { Browser } from 'puppeteer-core';
import { generateSync } from 'otplib';
import { launch } from '../browser.js';
import { Running, until } from '../running.js';
import { Screen } from './screen.js';

describe('people, from an invitation to a second factor', () => {
  let running: Running;
  let browser: Browser;
  beforeAll(async () => {
    running = await Running.start({ demo: false });
    browser = await launch();
  });
  afterAll(async () => {
    await browser.close();
    await running.stop();
  });

  const errors: string[] = [];
  /** The link to a page in the newest mail of that kind to an address, on this machine's address; waits for it. */
  async function mailedTo(email: string, page: 'invited' | 'new-password'): Promise<string> {
    let found: string | undefined;
    await until(async () => {
      const list = (await (await fetch(`${running.outside}/mail/messages?to=${email}`)).json()) as { text: string }[];
      found = list
        .map((m) => /http:\/\/localhost:\d+(\/\S+)/.exec(m.text)?.[1])
        .find((l) => l?.startsWith(`/${page}/`));
      return found !== undefined;
    });
    return running.url + (found ?? '');
  }
  /** A browser of its own, with cookies of its own. */
  async function visitor(url: string): Promise<Screen> {
    const context = await browser.createBrowserContext();
    return Screen.open(context, url);
  }

  it('come in by a link, do what their role lets them, and get back in when they forgot', async () => {
    const admin = await visitor(running.url);
    await admin.fill('name', 'Wren Holloway');
    await admin.fill('email', 'wren@heron.example');
    await admin.fill('password', 'rye and barley');
    await admin.fill('business.legalName', 'Heron Lane Bakery LLC');
    await admin.fill('business.nameLine', 'Heron Lane');
    await admin.press('Set up');
    await admin.see('Open the account');
    const base = admin.page.url().replace(/\/today.*/, '');

    await admin.page.goto(`${base}/settings/people`);
    await admin.see('Invite somebody');
    await admin.fill('invite-email', 'odette@heron.example');
    await admin.press('Invite');
    await admin.see('link good until');

    const odette = await visitor(await mailedTo('odette@heron.example', 'invited'));
    await odette.see('You are invited as coordinator');
    await odette.fill('name', 'Odette Farrow');
    await odette.fill('password', 'short');
    await odette.press('Accept and sign in');
    await odette.see('at least 10 characters.');
    await odette.fill('password', 'millet and oats');
    await odette.press('Accept and sign in');
    await odette.see('Open the account');
    await odette.page.goto(`${base}/settings/people`);
    await odette.see('Odette Farrow');
    expect(await odette.sees('Invite somebody')).toBeFalse();
    expect(await odette.sees('Take the role away')).toBeFalse();
    await admin.see('Odette Farrow');
    expect(await admin.sees('link good until')).toBeFalse();

    const again = await visitor(`${running.url}/sign-in`);
    await again.press('Forgot your password?');
    await again.see('A new password');
    await again.fill('email', 'odette@heron.example');
    await again.press('Send the link');
    await again.see('Look into your mail');
    await again.page.goto(await mailedTo('odette@heron.example', 'new-password'));
    await again.see('For odette@heron.example.');
    await again.fill('password', 'spelt and rye bread');
    await again.press('Set it');
    await again.see('Every session of yours has ended');
    await odette.page.reload();
    await odette.see('Sign in');
    await odette.fill('email', 'odette@heron.example');
    await odette.fill('password', 'spelt and rye bread');
    await odette.press('Sign in');
    await odette.see('Odette Farrow');
    errors.push(...admin.errors, ...odette.errors, ...again.errors);
    await odette.page.close();

    // The administrator sets up a second factor, and the business wants it.
    await admin.page.goto(`${base}/settings/you`);
    await admin.fill('factor-password', 'rye and barley');
    await admin.press('Set it up');
    await admin.see('Read this with an authenticator');
    const secret = await admin.page.evaluate(() => document.querySelector('lg-own-factor .mono')?.textContent ?? '');
    await admin.fill('factor-code', generateSync({ secret: secret.replace(/\s/g, '') }));
    await admin.press('Confirm');
    await admin.see('Write these recovery codes down');
    const code = await admin.page.evaluate(() => document.querySelector('.codes li')?.textContent ?? '');
    await admin.press('I have them');
    await admin.see('10 recovery codes are left');
    await admin.page.goto(`${base}/settings/people`);
    await admin.press('Want it of administrators');
    await admin.see('Leave it to each');

    const elsewhere = await visitor(`${running.url}/sign-in`);
    await elsewhere.fill('email', 'wren@heron.example');
    await elsewhere.fill('password', 'rye and barley');
    await elsewhere.press('Sign in');
    await elsewhere.see('Code of your authenticator');
    await elsewhere.fill('code', code);
    await elsewhere.press('Sign in');
    await elsewhere.see('Open the account');

    // Where they are signed in can be seen, and ended.
    await admin.page.goto(`${base}/settings/you`);
    await admin.see('A browser on');
    await admin.press('End all others');
    await admin.gone('A browser on');
    await elsewhere.page.reload();
    await elsewhere.see('Sign in');
    errors.push(...admin.errors, ...elsewhere.errors);
    expect(errors).toEqual([]);
  });
});
