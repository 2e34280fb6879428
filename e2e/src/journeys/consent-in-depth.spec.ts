import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { ElementHandle } from 'puppeteer-core';
import { until, type Person } from '../running.js';
import { Desk } from './desk.js';
import { Handset } from './handset.js';
import { Screen } from './screen.js';

interface Request {
  id: string;
  who: string;
  packs: { id: string; state: string }[];
}

interface Mail {
  n: number;
  text: string;
  oneClick: boolean;
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
    const href = await s.page.$eval('lg-docket a[download]', (a) => a.href);
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

  it('answers whether a text would have passed on a day, and why it would not now', async () => {
    // Somebody who got an offer, left some days later and stayed out.
    const { items } = await person.ok<{ items: { e164: string; happenedAt: number }[] }>(
      'GET',
      at('ledger?kind=revoked&how=keyword&limit=100'),
    );
    interface Answer {
      texts: { id: string; at: number; purpose: string; state: string }[];
      asked: { then: { result: string }; now: { reason: string | null } } | null;
    }
    const ask = (e164: string, more = ''): Promise<Answer> =>
      person.ok<Answer>('GET', at(`as-of?e164=${encodeURIComponent(e164)}${more}`));
    let found: { e164: string; text: string } | undefined;
    for (const { e164, happenedAt } of items) {
      const { texts } = await ask(e164);
      const text = texts.find((t) => t.purpose === 'promotional' && t.state === 'delivered' && t.at < happenedAt);
      const asked = text && (await ask(e164, `&text=${text.id}`)).asked;
      if (text && asked?.then.result === 'pass' && asked.now.reason === 'opted-out') {
        found = { e164, text: text.id };
        break;
      }
    }
    if (!found) throw new Error('Nobody left after an offer.');
    await s.go('consent/as-of');
    await s.fill('e164', found.e164);
    await s.press('Ask the gate');
    await s.see('Choose one of the texts to this number');
    await s.page.select('#text', found.text);
    await s.press('Ask the gate');
    await s.see('It would have passed.');
    await s.see('That is what follows from the record too.');
    await s.see('It would be stopped at not opted out or suppressed: opted out.');
    const stood = (what: string): Promise<string> =>
      s.page.$$eval('tr', (rows, w) => rows.find((r) => r.textContent.includes(w))?.textContent ?? '', what);
    expect(await stood('Consent, offers')).toMatch(/granted since.*revoked since/);
    // The question stands in the address: whoever gets the link sees the same.
    await s.page.reload();
    await s.see('It would have passed.');
  });

  it('brings in a registry of 200,000 numbers in the place of one too old, and the gate reads it at once', async () => {
    await s.go('today');
    await s.see('“National do-not-call list” is 37 days old');
    // Somebody whom nothing kept off offers but that they never agreed to them.
    const contacts = await person.ok<{
      items: { number: { e164: string }; verdicts: Record<string, { why: string }> }[];
    }>('GET', at('contacts?promotional=none&textable=yes&limit=200'));
    const free = contacts.items.find((c) => c.verdicts['promotional']?.why.startsWith('never agreed'));
    const e164 = free?.number.e164 ?? '';
    expect(e164).toMatch(/^\+1\d{10}$/);
    const lines = Array.from({ length: 200_000 }, (_, i) => `${[201, 303, 406, 801][i % 4]},${2_200_000 + (i >> 2)}`);
    lines[123_456] = `${e164.slice(2, 5)},${e164.slice(5)}`;
    lines[150_000] = 'call the office, ext. 9';
    const file = path.join(desk.running.dataDir, 'registry.txt');
    await writeFile(file, `${lines.join('\r\n')}\r\n`);
    await s.press('“National do-not-call list” is 37 days old');
    await s.press('Bring in a newer file');
    await s.fill('source', 'downloaded again');
    await s.fill('datedOn', '11 Mar 2027');
    const input = await s.page.waitForSelector('input[type=file]');
    await (input as ElementHandle<HTMLInputElement>).uploadFile(file);
    await s.see('registry.txt');
    await s.press('Bring it in');
    await s.see('numbers are kept off.', 90_000);
    await s.see('11 Mar 2027, 1 day ago');
    await s.see('line 150,001');
    const after = await person.ok<{ items: { verdicts: Record<string, { why: string }> }[] }>(
      'GET',
      at(`contacts?q=${e164.slice(2)}&limit=5`),
    );
    expect(after.items[0]?.verdicts['promotional']?.why).toBe('on a do-not-call list');
    await s.go('today');
    await s.see('To decide');
    expect(await s.sees('days old')).toBeFalse();
  });

  it('joins by a word in its three states, each with its answer and one code for good', async () => {
    await s.go('consent/keywords');
    await s.press('FARES, FERRY');
    await s.see('83 left');
    await s.fill('tried', 'STOP fares');
    await s.see('It is a wish to stop');
    await s.fill('words', 'FARES, FERRY, STOP');
    await s.press('Save');
    await s.see('“STOP” is reserved');
    await s.fill('words', 'FARES, FERRY, QUAY');
    await s.press('Save');
    await s.see('FARES, FERRY, QUAY');
    const [ours, mobile] = ['+12015550117', '+16465550177'];
    // A mobile nobody here knows yet.
    const phone = new Handset(desk.running.outside, mobile);
    // What was handed over: now and then the network loses a text.
    const answer = async (words: string): Promise<string> => {
      let last = '';
      await until(async () => {
        const { body } = await person.call('GET', at(`threads/${encodeURIComponent(mobile)}`));
        const messages = (body['messages'] ?? []) as { direction: string; text: string }[];
        last = messages.filter((m) => m.direction === 'out').at(-1)?.text ?? '';
        return last.includes(words);
      });
      return last;
    };
    await phone.write(desk.browser, ours, 'quay!');
    expect(await answer('reply YES')).toContain('two to four times a month');
    await phone.write(desk.browser, ours, 'yes');
    const joined = await answer('you are in for offers');
    const code = /QUAY-\w+/.exec(joined)?.[0] ?? 'none';
    expect(code).toMatch(/^QUAY-/);
    await phone.write(desk.browser, ours, 'FERRY');
    expect(await answer('on the fare list already')).toContain(code);
    await phone.write(desk.browser, ours, 'STOP');
    await answer('no more texts');
    await person.jump('day');
    await phone.write(desk.browser, ours, 'Fares');
    await answer('reply YES');
    await phone.write(desk.browser, ours, 'YES');
    expect(await answer('welcome back')).toContain(code);
    await s.go('consent/keywords');
    await s.press('FARES, FERRY, QUAY');
    await s.see('68 given, 82 left');
    await s.go(`consent?e164=${encodeURIComponent(mobile)}`);
    await s.see('keyword');
  });

  it('joins on the business’s own site, by one line under its strict policy, and is left alone there afterwards', async () => {
    const mobile = '+13075550143';
    await s.go('consent/pages');
    await s.press('Texts from Saltmarsh Ferries');
    await s.press('Write it');
    await s.fill('sites', new URL(desk.running.outside).origin);
    await s.fill('afterSeconds', '1');
    await s.press('Save');
    await s.see('<script src=');
    await s.press('Close');

    const visitor = await desk.browser.createBrowserContext();
    const site = await Screen.open(
      visitor,
      `${desk.running.outside}/site/saltmarsh?app=${encodeURIComponent(desk.running.url)}`,
    );
    const handle = await site.page.waitForSelector('dialog iframe');
    const frame = await handle?.contentFrame();
    if (!frame) throw new Error('The form is not on the site.');
    // Asked anew each time: the frame loads two pages one after the other, and a question put to one that goes is lost.
    const joined = (number: string): boolean => {
      const phone = document.querySelector<HTMLInputElement>('#phone');
      const purpose = document.querySelector<HTMLInputElement>('input[value=informational]');
      if (document.readyState === 'complete' && phone && purpose) {
        phone.value = number;
        if (!purpose.checked) purpose.click();
        // The form itself sees to it that only the first press sends.
        document.querySelector<HTMLButtonElement>('button[value=join]')?.click();
      }
      return document.body.innerText.includes('QUAY');
    };
    await until(() => frame.evaluate(joined, mobile).catch(() => false)).catch(async (e: unknown) => {
      throw new Error(`${String(e)}\nSeen in the form: ${await frame.evaluate(() => document.body.innerText)}`);
    });
    await until(() => site.page.evaluate(() => localStorage.getItem('long-gate saltmarsh') === 'joined'));
    await site.page.reload();
    await site.see('Crossings');
    await new Promise((r) => setTimeout(r, 2500));
    expect(await site.page.$('dialog'))
      .withContext('who has joined is left alone')
      .toBeNull();
    expect(site.errors).toEqual([]);
    await visitor.close();

    const ledger = await person.ok<{ items: { kind: string; evidence: Record<string, string> }[] }>(
      'GET',
      at(`ledger?limit=5&e164=${encodeURIComponent(mobile)}`),
    );
    expect(ledger.items.map((e) => [e.kind, e.evidence['site']])).toEqual([
      ['granted', `${new URL(desk.running.outside).origin}/site/saltmarsh`],
    ]);
    const pages = await person.ok<{ items: { slug: string; weeks: { seen: number; begun: number }[] }[] }>(
      'GET',
      at('pages'),
    );
    const now = pages.items.find((x) => x.slug === 'saltmarsh')?.weeks.at(-1);
    expect([now?.seen, now?.begun]).toEqual([1, 1]);
  });

  it('comes from an e-mail to a YES with a corrected number, and letters end by one press', async () => {
    const { items } = await person.ok<{
      items: { id: string; email: string; name: string; number: { e164: string } }[];
    }>('GET', at('contacts?limit=100&informational=none&promotional=none&textable=yes'));
    const invited = items.find((c) => c.email !== '');
    if (!invited) throw new Error('nobody who has agreed to nothing has an e-mail');
    await s.go(`contacts?q=${encodeURIComponent(invited.email)}`);
    await s.press('Choose…');
    await s.page.waitForFunction(
      () => {
        const box = document.querySelector<HTMLElement>('tr[data-row] input[type=checkbox]');
        box?.click();
        return !!box;
      },
      { polling: 150 },
    );
    await s.press('Invite to texts…');
    await s.see('person gets this e-mail');
    await s.press('Send 1 e-mail');
    let mail: Mail | undefined;
    await until(async () => {
      const mails = (await (
        await fetch(`${desk.running.outside}/mail/messages?to=${encodeURIComponent(invited.email)}`)
      ).json()) as Mail[];
      mail = mails.find((m) => m.text.includes('/my-texts/'));
      return mail !== undefined;
    });
    const link = /\/my-texts\/[\w-]+/.exec(mail?.text ?? '')?.[0] ?? '';
    const visitor = await desk.browser.createBrowserContext();
    const phone = await Screen.open(visitor, `${desk.running.url}${link}`, 390);
    await phone.see(`the number ••• ${invited.number.e164.slice(-2)}`);
    // The page is made for a phone: nothing sticks out at the side.
    expect(await phone.page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    const handset = (number: string) => new Handset(desk.running.outside, number);
    let [given, from] = ['', ''];
    for (let i = 10; i < 40 && from === ''; i++) {
      given = `+13075550${100 + i}`;
      await phone.page.goto(`${desk.running.url}${link}`, { waitUntil: 'load' });
      await phone.tap('input[value=informational]:not(:checked)');
      await phone.fill('phone', given);
      await Promise.all([phone.page.waitForNavigation(), phone.page.click('button[value=number]')]);
      if (!(await phone.sees('Look at your phone'))) continue;
      const end = Date.now() + 5000;
      while (from === '' && Date.now() < end)
        from = (await handset(given).texts()).find((t) => t.text.includes('YES'))?.peer ?? '';
    }
    expect(from).not.toBe('');
    await handset(given).write(desk.browser, from, 'YES');
    await until(async () => {
      const contact = await person.ok<{ number: { e164: string } }>('GET', at(`contacts/${invited.id}`));
      return contact.number.e164 === given;
    });
    const ledger = await person.ok<{ items: { id: string; kind: string; how: string }[] }>(
      'GET',
      at(`ledger?limit=5&e164=${encodeURIComponent(given)}`),
    );
    expect(ledger.items.map((e) => `${e.kind}, ${e.how}`)).toEqual(['confirmed, reply', 'granted, preference page']);
    await phone.page.goto(`${desk.running.url}${link}`, { waitUntil: 'load' });
    expect(phone.errors).toEqual([]);
    await visitor.close();

    // The event opens to the letter as its reader got it, and to the page as they saw it.
    await s.go(`consent?e164=${encodeURIComponent(given)}&open=${ledger.items[1]?.id}`);
    await s.see('The letter whose link they opened');
    await s.see('[their personal link]');
    await s.see(`to ${invited.email}`);
    const seen = await s.page.$eval('lg-docket a[href*="page-versions"]', (a) => a.href);
    const kept = await s.page.evaluate(async (url) => (await fetch(url)).text(), seen);
    expect(kept).toContain('You do not get these.');
    expect(kept).not.toContain(`••• ${invited.number.e164.slice(-2)}`);

    expect(mail?.oneClick).toBeTrue();
    const ended = await fetch(`${desk.running.outside}/mail/messages/${mail?.n}/unsubscribe`, { method: 'POST' });
    expect(await ended.json()).toEqual({ accepted: true });
    await s.go('consent/invitations');
    await s.press('Texts, by your choice');
    await s.see('joined');
  });

  it('asks in time who was not in contact for long, and keeps on who says that they stay', async () => {
    interface Row {
      name: string;
      e164: string;
      contactId: string;
      askedAt: number | null;
    }
    const ending = async (asked: string): Promise<Row[]> =>
      (await person.ok<{ items: Row[] }>('GET', at(`consent-expiry/people?limit=500&asked=${asked}`))).items;
    await s.go('consent/expiry');
    await s.see('Whose ends next');
    const [first] = await ending('yes');
    await s.see(first?.name ?? '');
    const contact = await person.ok<{ email: string }>('GET', at(`contacts/${first?.contactId ?? ''}`));
    const mails = (await (
      await fetch(`${desk.running.outside}/mail/messages?to=${encodeURIComponent(contact.email)}`)
    ).json()) as Mail[];
    const link =
      /\/my-texts\/[\w-]+/.exec(mails.find((m) => m.text.includes('quiet between us'))?.text ?? '')?.[0] ?? '';
    const visitor = await desk.browser.createBrowserContext();
    const phone = await Screen.open(visitor, `${desk.running.url}${link}`, 390);
    await phone.see('You get these.');
    await Promise.all([phone.page.waitForNavigation(), phone.page.click('button[value=choose]')]);
    await phone.see('You go on getting');
    await visitor.close();
    // Another policy says before it is kept how many it is about; whoever stays is in contact.
    const before = (await ending('yes')).length + (await ending('no')).length;
    await s.fill('months', '7');
    await s.see('would be listed at once');
    await s.press('Save');
    await until(async () => (await ending('yes')).length + (await ending('no')).length > before);
    await until(async () => !(await ending('yes')).some((x) => x.e164 === first?.e164));
    await s.press('not');
    await s.see('no: no e-mail is known');
  });

  it('texts people a link to their own page, which counts as the YES of their handset that day', async () => {
    await s.go('dispatch');
    await s.press('Your texts, your choice');
    await s.see('https://texts.saltmarsh.example/t/****************');
    await s.page.waitForFunction(() => /[1-9][\d,]* pass now/.test(document.body.innerText));
    await s.press('Send to ');
    await s.tap('[data-yes]');
    const id = /dispatch\/(\w+)/.exec(s.page.url())?.[1] ?? '';
    // Somebody who gets notices and no offers: what they join is joined by the link.
    const offers = async (e164: string): Promise<string> =>
      (
        await person.ok<{ items: { number: { consent: { promotional: string } } }[] }>(
          'GET',
          at(`contacts?q=${encodeURIComponent(e164)}`),
        )
      ).items[0]?.number.consent.promotional ?? '';
    let who = '';
    await until(async () => {
      const { items } = await person.ok<{ items: { e164: string; state: string }[] }>(
        'GET',
        at(`dispatches/${id}/messages?limit=100&state=delivered,sent`),
      );
      for (const { e164 } of items) {
        if (who !== '' || (await offers(e164)) === 'granted') continue;
        const texts = await new Handset(desk.running.outside, e164).texts();
        if (texts.some((t) => t.text.includes('/t/'))) who = e164;
      }
      return who !== '';
    });
    const phone = await Screen.open(
      desk.browser,
      `${desk.running.outside}/handset?number=${encodeURIComponent(who)}`,
      390,
    );
    await phone.see('Choose or end them here');
    const link = await phone.page.$eval('li a[href*="/t/"]', (a) => a.href);
    expect(link.startsWith(`${desk.running.url}/t/`))
      .withContext('the made-up domain leads here')
      .toBeTrue();
    await phone.page.goto(link);
    await phone.see('Your texts from Saltmarsh Ferries');
    await phone.page.$$eval('input[type=checkbox]', (boxes) => {
      for (const box of boxes) box.checked = true;
    });
    await Promise.all([phone.page.waitForNavigation(), phone.page.click('button[value=choose]')]);
    await phone.see('From now on you get offers');
    expect(await offers(who)).toBe('granted');
    await phone.page.close();
    await s.go('consent/text-links');
    await s.see('Your texts, your choice');
    const row = await s.text('table.ledger tbody tr');
    expect(row)
      .withContext(row)
      .toMatch(/ 1 1 0 0 0 Take back/);
    // Who reads our texts sees the link without its key.
    const kept = await person.ok<{ items: { text: string }[] }>(
      'GET',
      at(`dispatches/${id}/messages?limit=5&state=delivered,sent`),
    );
    expect(kept.items[0]?.text).toContain('/t/****************');
    const shown = await s.page.evaluate(() => document.body.innerHTML);
    expect(shown).not.toContain(link.split('/t/')[1] ?? 'none');
  });

  it('asks whether numbers changed hands, and consent is void where one did, with the answer as evidence', async () => {
    const voided = async (): Promise<{ id: string; e164: string }[]> =>
      (
        await person.ok<{ items: { id: string; e164: string }[] }>(
          'GET',
          at(`ledger?kind=voided&how=${encodeURIComponent('reassigned numbers')}&limit=100`),
        )
      ).items;
    const before = new Set((await voided()).map((e) => e.id));
    const { items: lists } = await person.ok<{ items: { id: string; name: string }[] }>('GET', at('lists'));
    const tag = lists.find((l) => l.name === 'season pass')?.id ?? '';
    await desk.at('Saltmarsh Ferries', `contacts?list=${tag}`);
    await s.press('Choose…');
    await s.press('choose all');
    await s.press('Changed hands?…');
    await s.see('Asked by the day of the last consent. A yes voids the consent');
    await s.tap('[data-yes]');
    let found: { id: string; e164: string } | undefined;
    await until(async () => {
      found = (await voided()).find((e) => !before.has(e.id));
      return found !== undefined;
    });
    const e164 = found?.e164 ?? '';
    await desk.at('Saltmarsh Ferries', `consent?e164=${encodeURIComponent(e164)}&open=${found?.id ?? ''}`);
    await s.see('Proof');
    expect(await s.text('.docket')).toContain('reassigned numbers');
    const { items } = await person.ok<{ items: { id: string; verdicts: Record<string, { why: string }> }[] }>(
      'GET',
      at(`contacts?q=${e164.slice(2)}&limit=5`),
    );
    expect(items[0]?.verdicts['informational']?.why).toBe('number changed hands since consent');
    await desk.at('Saltmarsh Ferries', `contacts?open=${items[0]?.id ?? ''}`);
    await s.see('Changed hands');
    await s.page.waitForFunction(() => /Changed hands\s*yes, asked/.test(document.body.innerText), { polling: 100 });
  });

  it('brings in who had opted out elsewhere, once that was confirmed', async () => {
    const one = async (query: string) =>
      (
        await person.ok<{
          items: { number: { e164: string }; verdicts: Record<string, { why: string; result: string }> }[];
        }>('GET', at(`contacts?${query}&limit=5`))
      ).items[0];
    const e164 = (await one('promotional=granted&textable=yes'))?.number.e164 ?? '';
    const file = path.join(desk.running.dataDir, 'gone.csv');
    await writeFile(file, `phone;when\r\n${e164.slice(2)};3/11/2027\r\n207-555-0190\r\n`);
    await s.go('consent');
    await s.press('Ways in and out');
    await s.press('Opt-outs from elsewhere');
    await s.press('Bring in opt-outs');
    await s.fill('source', 'the list they sent us');
    await s.fill('datedOn', '12 Mar 2027');
    const input = await s.page.waitForSelector('input[type=file]');
    await (input as ElementHandle<HTMLInputElement>).uploadFile(file);
    await s.see('2 numbers');
    await s.press('Opt them out');
    await s.see('Nobody here can take it back: only they can.');
    expect((await one(`q=${e164.slice(2)}`))?.verdicts['promotional']?.why).not.toBe('opted out');
    await s.tap('[data-yes]');
    await s.see('2 people');
    await s.gone('It is being recorded.');
    expect((await one(`q=${e164.slice(2)}`))?.verdicts['informational']?.why).toBe('opted out');
    await s.press('Such opt-outs in the ledger');
    await s.see('imported record');
  });

  it('records a purchase, by which a registry keeps its number off no longer, and offers still want consent', async () => {
    const why = async (e164: string): Promise<string> =>
      (
        await person.ok<{ items: { verdicts: Record<string, { why: string }> }[] }>(
          'GET',
          at(`contacts?q=${e164.slice(2)}&limit=5`),
        )
      ).items[0]?.verdicts['promotional']?.why ?? '';
    const { items: lists } = await person.ok<{ items: { id: string; kind: string }[] }>('GET', at('suppression-lists'));
    const registry = lists.find((l) => l.kind === 'national')?.id ?? '';
    const people = async () =>
      (
        await person.ok<{ items: { e164: string; kept: string[]; exception: string }[] }>(
          'GET',
          at(`suppression-lists/${registry}/people?limit=100`),
        )
      ).items;
    const e164 = (await people()).find((x) => x.kept.includes('promotional'))?.e164 ?? '';
    expect(await why(e164)).toBe('on a do-not-call list');
    await s.go('consent');
    await s.press('Suppression lists');
    await s.press('Purchases and inquiries');
    await s.press('Record one, or a file');
    await s.fill('phone', e164);
    await s.fill('happenedOn', '1 Mar 2027');
    await s.fill('reference', 'a day return');
    await s.press('Record it');
    await s.see('Excepts them from registries');
    await s.see('until 1 Sep 2028');
    expect(await why(e164)).not.toBe('on a do-not-call list');
    expect((await people()).find((x) => x.e164 === e164)?.exception).toContain('purchase of 2027-03-01');
    await s.fill('why', 'The ticket was returned');
    await s.press('Withdraw it');
    await s.see('The ticket was returned');
    expect(await why(e164)).toBe('on a do-not-call list');
  });
});
