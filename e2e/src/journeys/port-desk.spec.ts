import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Browser, ElementHandle } from 'puppeteer-core';
import { Person, Running, until } from '../running.js';
import { Desk } from './desk.js';
import { Screen } from './screen.js';

interface Port {
  id: string;
  state: string;
  numbers: { e164: string; numberId: string | null }[];
  completedAt: number | null;
}

describe('the port desk on screen', () => {
  let desk: Desk;
  let running: Running;
  let browser: Browser;
  let s: Screen;
  let person: Person;
  let folder: string;

  beforeAll(async () => {
    folder = await mkdtemp(path.join(tmpdir(), 'papers-'));
    desk = await Desk.open();
    ({ screen: s, person, running, browser } = desk);
  });
  afterAll(async () => {
    await desk.close();
    await rm(folder, { recursive: true, force: true });
  });

  const business = (name: string): string => person.businesses.find((b) => b.nameLine === name)?.id ?? '';
  const ports = async (id: string): Promise<Port[]> =>
    (await person.ok<{ items: Port[] }>('GET', `/businesses/${id}/ports`)).items;
  const portOf = async (id: string, e164: string): Promise<Port> => {
    const port = (await ports(id)).find((p) => p.numbers.some((n) => n.e164 === e164));
    if (!port) throw new Error(`no port of ${e164}`);
    return port;
  };
  const open = async (id: string, at: string): Promise<void> => {
    await s.page.goto(`${running.url}/b/${id}/${at}`, { waitUntil: 'load' });
  };
  const jumpUntil = async (test: () => Promise<boolean>, by: 'hour' | 'day', most: number): Promise<void> => {
    for (let i = 0; i < most && !(await test()); i++) await person.jump(by);
    await until(test);
  };

  it('finds a name the old carrier writes otherwise before anything is submitted', async () => {
    const id = business('Northbank Seeds');
    await open(id, 'numbers/ports');
    await s.press('+1 609-555-0110 and 1 more');
    await s.see('Put the request together.');
    await s.press('Ask for the record');
    await s.see('will be rejected');
    await s.see('Leading zeros count: write them as in the record.');
    await s.see('A trading name (dba) stands here; the record is under the legal name.');
    await s.see('The record has a suite or unit that is missing here.');
    expect(await s.sees('Submit: ')).toBeTrue();
    await s.fill('holderName', 'Northbank Seed Library');
    await s.fill('accountNumber', '0040712');
    await s.fill('unit', 'Suite 2');
    await s.gone('Leading zeros count: write them');
    await s.gone('A trading name (dba) stands here');
    await s.see('1 more on this account would stay');
  });

  it('has the holder sign by a link, takes the bill, refuses what is none, and submits', async () => {
    const makeLink = async (): Promise<string> => {
      await s.press('Make a signing link');
      return (await (await s.page.waitForSelector('input[aria-label="Signing link"]'))?.evaluate((e) => e.value)) ?? '';
    };
    // What the holder would sign is what they saw: a change ends the link, and both sides are told.
    const early = await makeLink();
    await s.fill('unit', 'Suite 3');
    await s.see('The link that was out has ended');
    const holder = await Screen.open(browser, early, 390);
    await holder.see('What the letter says was changed after this link was made');
    await s.fill('unit', 'Suite 2');
    await s.gone('is missing here');
    await holder.page.goto(await makeLink(), { waitUntil: 'load' });
    await holder.see('Letter of authorisation');
    await holder.see('+1 609-555-0111');
    await holder.press('Sign the letter');
    await holder.see('Write your full name.');
    await holder.see('Tick that you may decide about this account.');
    await holder.fill('name', 'Bram Oakenshaw');
    await holder.tap('input[type=checkbox]');
    await holder.press('Sign the letter');
    await holder.see('Thank you, it is signed');
    await holder.page.close();
    await s.see('Signed by Bram Oakenshaw');

    const today = new Date((await person.ok<{ clock: { now: number } }>('GET', '/session')).clock.now);
    await s.fill('billDated', new Date(today.getTime() - 5 * 86_400_000).toISOString().slice(0, 10));
    const file = path.join(folder, 'bill.pdf');
    await writeFile(file, 'PK not a PDF');
    const inputs = await s.page.$$('input[type=file]');
    const bill = inputs.at(-1) as ElementHandle<HTMLInputElement>;
    await bill.uploadFile(file);
    await s.see('is no PDF, PNG or JPEG');
    await writeFile(file, '%PDF-1.4 a bill of Harth Telephone');
    await bill.uploadFile(file);
    await s.see('bill.pdf is kept.');
    for (const box of await s.page.$$('.check input')) {
      const ticked = await box.evaluate((e) => e.checked);
      const words = await box.evaluate((e) => e.closest('.check')?.textContent ?? '');
      if (!ticked && !words.includes('Other lines')) await box.evaluate((e) => e.click());
    }
    await s.press('Submit…');
    await s.see('It can be cancelled until two business days before the FOC date');
    await s.press('Submit for 2.60');
    await s.see('Keep the old service running until the numbers have landed.');
    const id = business('Northbank Seeds');
    await jumpUntil(async () => (await portOf(id, '+16095550110')).state === 'accepted', 'day', 6);
    await s.see('FOC date');
    await s.see('Prepare the landing.');
  });

  it('shows in the calendar file what was accepted', async () => {
    const id = business('Northbank Seeds');
    const file = String((await person.call('GET', `/businesses/${id}/ports.ics`)).body['text']);
    expect(file).toContain('BEGIN:VCALENDAR');
    expect(file).toContain('SUMMARY:FOC date: +1 609-555-0110');
    const feed = (await person.ok<{ calendarPath: string }>('GET', `/businesses/${id}/ports`)).calendarPath;
    expect(await (await fetch(running.url + feed)).text()).toContain('SUMMARY:FOC date: +1 609-555-0110');
  });

  it('mends what the old carrier rejected, lands the number, and sends from it the same day', async () => {
    const id = business('Saltmarsh Ferries');
    const port = await portOf(id, '+12015550152');
    await open(id, 'today');
    await s.see('The port of +1 201-555-0152 was rejected');
    await open(id, `numbers/ports/${port.id}`);
    await s.see('The PIN does not match.');
    await s.press('Resubmit…');
    await s.see('Nothing was changed since Tessary Wireless rejected it');
    await s.press('Mend it first');
    await s.fill('pin', '7144');
    await s.see('Changed since the last submission');
    await s.press('Resubmit…');
    await s.press('Submit');
    await s.see('Wait for the losing carrier.');
    await jumpUntil(async () => (await portOf(id, '+12015550152')).state === 'accepted', 'hour', 80);
    await jumpUntil(async () => (await portOf(id, '+12015550152')).state === 'done', 'hour', 100);
    await s.see('Test the numbers.');
    const landed = await portOf(id, '+12015550152');
    const number = async (): Promise<{ clearance: string; source: string }> =>
      person.ok('GET', `/businesses/${id}/numbers/${landed.numbers[0]?.numberId ?? ''}`);
    await jumpUntil(async () => (await number()).clearance === 'cleared', 'hour', 4);
    // A passenger writes to it, and the desk answers.
    await fetch(`${running.outside}/handset/phones/${encodeURIComponent('+12125550177')}/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: '+12015550152', text: 'Is the pilot on board?' }),
    });
    const answer = async (): Promise<boolean> =>
      (
        await person.call('POST', `/businesses/${id}/threads/${encodeURIComponent('+12125550177')}/answers`, {
          text: 'Saltmarsh Ferries: yes, she is.',
        })
      ).status < 300;
    await until(answer);
    const sent = async (): Promise<{ sender: string; text: string }[]> =>
      ((await (await fetch(`${running.outside}/network/texts`)).json()) as { sender: string; text: string }[]).filter(
        (t) => t.sender === '+12015550152',
      );
    await until(async () => (await sent()).length > 0);
    const now = (await person.ok<{ clock: { now: number } }>('GET', '/session')).clock.now;
    const day = (at: number): string => new Intl.DateTimeFormat('en-CA', { timeZone: 'America/New_York' }).format(at);
    expect(day(now))
      .withContext('sent on the day it landed')
      .toBe(day(landed.completedAt ?? 0));
    await open(id, `numbers?open=${landed.numbers[0]?.numberId ?? ''}`);
    await s.see('Pilot house');
    expect(s.errors).toEqual([]);
  });
});
