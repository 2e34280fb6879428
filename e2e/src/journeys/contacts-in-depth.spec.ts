import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { until, type Person } from '../running.js';
import { Desk } from './desk.js';
import { Screen } from './screen.js';

const MESSY = `Full name;Mobile;Other phone;E-mail;Opt-in;Opt-in date;Vehicle;Tags
"Fenwick, Ada";(201) 555-0181;;ada.fenwick@post.example;yes;25/04/2026;CAR;season pass
Bo Eide;212.555.0189;;bo@post;no;;van;
"Marsh
Cora";2.01555E+09;;cora@post.example;;;;
Dun;call him;;;;;;
Farrow Eide;2125550188;12;;maybe;;boat;x, y
Farrow Eide;+1 212 555 0188;;;;;;
`;
interface Contact {
  id: string;
  firstName: string;
  email: string;
  further: number;
  number: { e164: string; textable: string; consent: Record<string, string> };
  numbers: { e164: string; preferred: boolean }[];
  merged: { id: string } | null;
  version: number;
}

describe('contacts in depth', () => {
  let desk: Desk;
  let s: Screen;
  let person: Person;
  const at = (rest: string): string => `/businesses/${desk.business('Saltmarsh Ferries')}/${rest}`;
  const found = async (q: string): Promise<Contact[]> =>
    (await person.ok<{ items: Contact[] }>('GET', at(`contacts?q=${encodeURIComponent(q)}`))).items;
  const detail = (id: string): Promise<Contact> => person.ok<Contact>('GET', at(`contacts/${id}`));

  beforeAll(async () => {
    desk = await Desk.open();
    ({ screen: s, person } = desk);
  });
  afterAll(async () => {
    expect(s.errors).toEqual([]);
    await desk.close();
  });

  it('makes clean contacts of a messy list: what is wrong is said, mended in place, and honoured where it is a no', async () => {
    await s.go('contacts/intake');
    const file = path.join(desk.running.dataDir, 'messy.csv');
    await writeFile(file, MESSY);
    await s.see('Paste lines');
    const input = await s.page.waitForSelector('input[type=file]');
    await (input as ElementHandle<HTMLInputElement>).uploadFile(file);
    await s.see('6 rows = 0 ok + 2 to look at + 1 known already + 1 repeated + 2 refused. 3 will be stored');
    await s.see('Vehicle is left out: none of its choices');
    await s.page.evaluate(() => {
      const row = Array.from(document.querySelectorAll('tr')).find((r) => r.textContent.includes('no digits'));
      row?.querySelector<HTMLElement>('[aria-expanded]')?.click();
    });
    await s.press('Mend…');
    await s.fill('row-phone', '212-555-0187');
    await s.press('Take it so');
    await s.see('1 refused. 4 will be stored');
    await s.fill('list', 'May passengers');
    await s.fill('attestation', 'Booking desk, everybody who crossed in May; Cora Lindqvist');
    await s.press('Store 4 contacts');
    await s.see('3 stored + 1 known already + 1 repeats + 1 refused + 0 dropped = 6 rows');
    const [bo] = await found('2125550189');
    expect([bo?.firstName, bo?.email, bo?.number.consent['promotional']]).toEqual(['Bo', '', 'revoked']);
    expect((await found('2125550187'))[0]?.firstName).toBe('Dun');
  });

  it('takes that back as a whole, and keeps the no', async () => {
    await s.press('Take it back');
    await s.see('taken back');
    await until(async () => (await found('212555018')).length === 0);
    const ledger = await person.ok<{ items: { kind: string }[] }>('GET', at('ledger?e164=%2B12125550189&limit=10'));
    expect(ledger.items.map((e) => e.kind)).toContain('revoked');
  });

  it('merges two who are one, having shown what comes of it, and parts them again', async () => {
    const [pair] = (await person.ok<{ items: { contacts: { id: string }[] }[] }>('GET', at('contact-duplicates')))
      .items;
    const [one, other] = pair?.contacts ?? [];
    await s.go(`contacts/duplicates?open=${one?.id ?? ''}`);
    await s.press('Merge…');
    await s.see('One contact of two');
    await s.press('Merge them');
    await s.see('was merged into it');
    expect((await detail(one?.id ?? '')).numbers.length).toBeGreaterThan(1);
    await s.press('Take it back');
    await s.see('They are two contacts again');
    await until(async () => (await person.call('GET', at(`contacts/${other?.id ?? ''}`))).status === 200);
    expect((await detail(one?.id ?? '')).merged).toBeNull();
  });

  it('makes a landline textable: an e-mail, a page on a phone, a lookup, and a YES from the handset', async () => {
    const unreached = (
      await person.ok<{ items: { contactId: string; e164: string; email: string; name: string }[] }>(
        'GET',
        at('unreached/numbers?cause=not-textable&limit=100'),
      )
    ).items.find((n) => n.email !== '');
    if (!unreached) throw new Error('nobody without texts has an e-mail');
    await s.go('contacts/unreached');
    await s.press('Choose…');
    // The boxes come with the next drawing of the table.
    await s.page.waitForFunction(
      (name) => {
        const row = Array.from(document.querySelectorAll('tr[data-row]')).find((r) => r.textContent.includes(name));
        const box = row?.querySelector<HTMLElement>('input[type=checkbox]');
        box?.click();
        return !!box;
      },
      { polling: 150 },
      unreached.name,
    );
    await s.press('Ask for another number…');
    await s.see('1 person gets');
    await s.press('Send 1 e-mail');
    await s.see('Asked for a better number');
    let link = '';
    await until(async () => {
      const mails = (await (await fetch(`${desk.running.outside}/mail/messages?to=${unreached.email}`)).json()) as {
        text: string;
      }[];
      link = /\/better-number\/[\w-]+/.exec(mails.map((m) => m.text).join('\n'))?.[0] ?? '';
      return link !== '';
    });
    const phone = await Screen.open(desk.browser, desk.running.url);
    await phone.page.setViewport({ width: 390, height: 780 });
    /** Which number of ours asked this phone for its YES; empty where nothing came. */
    const askedBy = async (number: string): Promise<string> => {
      const at = `${desk.running.outside}/handset/phones/${encodeURIComponent(number)}`;
      const { texts } = (await (await fetch(at)).json()) as { texts: { text: string; peer: string }[] };
      return texts.find((t) => t.text.includes('YES'))?.peer ?? '';
    };
    // Some lines are no mobiles, which the page says; to some a carrier is slow.
    let [given, from] = ['', ''];
    for (let i = 0; i < 60 && from === ''; i++) {
      given = `+1${i % 2 === 0 ? 413 : 774}5550${100 + i}`;
      if ((await found(given.slice(2))).some((c) => c.id !== unreached.contactId)) continue;
      await phone.page.goto(`${desk.running.url}${link}`, { waitUntil: 'load' });
      await phone.see('Our texts do not reach the number');
      await phone.tap('input[type=checkbox]');
      await phone.fill('phone', given);
      await Promise.all([phone.page.waitForNavigation(), phone.page.click('form button')]);
      if (!(await phone.sees('Look at your phone'))) continue;
      const end = Date.now() + 5000;
      while (from === '' && Date.now() < end) from = await askedBy(given);
    }
    expect(from).not.toBe('');
    expect((await detail(unreached.contactId)).number.e164).toBe(unreached.e164);
    await fetch(`${desk.running.outside}/handset/phones/${encodeURIComponent(given)}/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: from, text: 'YES' }),
    });
    await until(async () => (await detail(unreached.contactId)).number.e164 === given);
    expect((await detail(unreached.contactId)).number.textable).toBe('yes');
    await s.see('confirmed: texts go to it');
    await phone.page.close();
  });
});
