import type { Browser } from 'puppeteer-core';
import { Person, Running, until } from '../running.js';
import { Desk } from './desk.js';
import { Handset } from './handset.js';
import { Screen } from './screen.js';

describe('numbers in depth on screen', () => {
  let desk: Desk;
  let running: Running;
  let browser: Browser;
  let s: Screen;
  let person: Person;

  beforeAll(async () => {
    desk = await Desk.open();
    ({ screen: s, person, running, browser } = desk);
  });
  afterAll(async () => {
    await desk.close();
  });

  const business = (name: string): string => person.businesses.find((b) => b.nameLine === name)?.id ?? '';
  const open = async (id: string, at: string): Promise<void> => {
    await s.page.goto(`${running.url}/b/${id}/${at}`, { waitUntil: 'load' });
  };
  const first = (): Promise<string> => s.text('table.ledger tr.chosen td');

  it('has four answers for a number one has, and begins the chosen way with the number filled in', async () => {
    const id = business('Northbank Seeds');
    const landline = encodeURIComponent('+1 609 555 0113');
    const mobile = encodeURIComponent('+1 201 555 0152');
    await open(id, `numbers/route?number=${mobile}`);
    await s.see('is a mobile with Tessary Wireless');
    expect(await first()).toContain('Port in');
    await s.choose('select[aria-label="Calls"]', 'must stay');
    await s.see('A mobile in use has texting already');
    expect(await first()).toContain('Forward only');
    await s.choose('select[aria-label="Known"]', 'hardly know');
    await s.page.waitForFunction(() => document.querySelector('tr.chosen')?.textContent?.includes('Take a new number'));
    await open(id, `numbers/route?number=${landline}&stays=stay`);
    await s.see('is a landline with');
    expect(await first()).toContain('Text-enable where it is');
    await s.press('Begin the set-up');
    await s.page.waitForFunction(() =>
      document.querySelector<HTMLInputElement>('#number')?.value.includes('6095550113'),
    );
    await open(id, `numbers/route?number=${landline}`);
    await s.press('Begin the port');
    await s.page.waitForFunction(() =>
      document.querySelector<HTMLTextAreaElement>('#numbers')?.value.includes('6095550113'),
    );
  });

  it('text-enables a landline and takes texting off again, with its voice untouched', async () => {
    const id = business('Northbank Seeds');
    await open(id, 'numbers/hosted');
    await s.press('+1 609-555-0125');
    await s.see('Hand the account holder the signing link.');
    await s.press('Make a signing link');
    const link = await (await s.page.waitForSelector('input[aria-label="Signing link"]'))?.evaluate((e) => e.value);
    const holder = await Screen.open(browser, link ?? '', 390);
    await holder.see('to send and receive texts on this number');
    await holder.fill('name', 'Bram Oakenshaw');
    await holder.tap('input[type=checkbox]');
    await holder.press('Sign the letter');
    await holder.see('Thank you, it is signed');
    await holder.page.close();
    await s.press('Call the line');
    const code = async (): Promise<string> =>
      (await new Handset(running.outside, '+16095550125').texts())
        .map((t) => t.text.match(/is ([\d ]+)\./)?.[1] ?? '')
        .join('');
    await until(async () => (await code()) !== '');
    const box = await s.page.waitForSelector('input[aria-label="Code from the call"]');
    await box?.type((await code()).replaceAll(' ', ''));
    await s.press('Give back');
    await s.see('Given back.');
    await s.press('Submit…');
    await s.press('Submit for 0.90');
    await s.see('Wait for the approval.');
    const state = async (): Promise<string> =>
      (await person.ok<{ items: { e164: string; state: string }[] }>('GET', `/businesses/${id}/hosted`)).items.find(
        (h) => h.e164 === '+16095550125',
      )?.state ?? '';
    for (let i = 0; i < 4 && (await state()) !== 'on'; i++) await person.jump('day');
    await s.see('The number sends and receives texts; calls stay with its carrier.');
    await s.press('Take texting off…');
    await s.see('Calls go on as before with their carrier.');
    await s.tap('[data-yes]');
    await s.see('Texting is off. Calls were never touched.');
    expect(s.errors).toEqual([]);
  });

  it('uses a sender ID in three countries of different rules', async () => {
    const id = business('Saltmarsh Ferries');
    await open(id, 'numbers/countries');
    await s.see('live in a country that is not open');
    await open(id, 'numbers/senders');
    await s.fill('text', 'SALTMARSH FERRIES');
    await s.see('17 characters; networks show at most 11.');
    await s.fill('text', 'SALTFERRY');
    await s.fill('signature', 'See you on board');
    await s.see('It does not say how to stop.');
    await s.fill('signature', 'Stop or reply: saltmarsh.example/stop');
    await s.press('Make the sender ID');
    await s.see('Choose where it is used.');
    const row = (name: string): string =>
      `::-p-xpath(//*[contains(@class,'country') and ./span[normalize-space(.)='${name}']]//button)`;
    await (await s.page.waitForSelector(row('United Kingdom')))?.click();
    await s.see('SALTFERRY may be used in United Kingdom.');
    await (await s.page.waitForSelector(row('Australia')))?.click();
    await s.see('25.00 now, nothing monthly.');
    await s.press('Register for 25.00');
    await s.see('United Kingdom, Australia (in review)');
    expect(await s.page.$(row('United States')))
      .withContext('not allowed there')
      .toBeNull();
    const senders = async (): Promise<{ text: string; id: string; countries: { code: string; state: string }[] }[]> =>
      (await person.ok<{ items: [] }>('GET', `/businesses/${id}/sender-ids`)).items;
    const mine = async () => (await senders()).find((x) => x.text === 'SALTFERRY');
    const state = async (code: string): Promise<string> =>
      (await mine())?.countries.find((c) => c.code === code)?.state ?? '';
    for (let i = 0; i < 8 && (await state('AU')) !== 'registered'; i++) await person.jump('day');
    expect([await state('GB'), await state('AU'), await state('US')]).toEqual(['free', 'registered', 'not allowed']);

    // Whom it reaches: those abroad where it may be used and the country is open; nobody at home.
    const lists = await person.ok<{ items: { id: string; name: string }[] }>('GET', `/businesses/${id}/lists`);
    const draft = await person.ok<{ id: string; version: number }>('POST', `/businesses/${id}/dispatches`, {
      title: 'Abroad',
      text: 'The summer timetable is out.',
      purpose: 'informational',
      transactional: false,
      stopLine: true,
      numberId: (await mine())?.id,
      audience: { include: [lists.items.find((l) => l.name === 'Passengers')?.id ?? ''], exclude: [] },
    });
    await open(id, `dispatch/${draft.id}`);
    await s.see('Stop or reply: saltmarsh.example/stop');
    await s.page.waitForSelector('[aria-label^="Post 7:"]');
    await s.page.evaluate(() =>
      document
        .querySelector('[aria-label^="Post 7:"]')
        ?.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true })),
    );
    await s.see('our sender may not be used in this country');
    await open(id, 'numbers/countries?open=AU');
    await s.tap('lg-docket input[type=checkbox]');
    await s.press('Open Australia');
    await s.see('Texts may go there from what can text there.');
    expect(s.errors).toEqual([]);
  });

  it('keeps the basket while money is missing, and fills the order after a top-up', async () => {
    const id = business('Orrin Kiln');
    await open(id, 'numbers/need');
    await s.see('Fits what you need.');
    await open(id, 'numbers/acquire?kind=short%20code');
    await s.press('Keep aside');
    await s.see('1 number');
    await s.fill('name', 'Kiln notices');
    await s.fill(
      'what',
      'A notice when fired pieces can be fetched, to people who gave them for firing, once a firing.',
    );
    await s.fill('agreement', 'They tick “Text me when my pieces are fired” on the form at the counter and sign it.');
    await s.fill('sample', 'Your pieces are fired and stand on the shelf. Reply STOP to end.');
    await s.fill('help', 'help@orrin.example');
    await s.press('Keep the programme');
    await s.see('The sample does not name the business.');
    await s.press('Change the programme');
    await s.fill('sample', 'Orrin Kiln: your pieces are fired and stand on the shelf. Reply STOP to end.');
    await s.press('Keep the programme');
    await s.gone('The sample does not name the business.');
    await s.see('is missing.');
    await s.see('What you chose stays in the basket meanwhile.');
    await s.press('Top up by');
    await s.page.waitForFunction(() => document.querySelector<HTMLInputElement>('#amount')?.value !== '');
    await s.fill('amount', '600');
    await s.press('Top up…');
    await s.press('Top up 600.00');
    await s.see('numbers: get a number');
    // What could never send is not sold: a sole proprietor's campaign takes one number, and there is one.
    await open(id, 'numbers/acquire?where=551');
    await s.see('numbers in stock in 551');
    await s.press('Keep aside');
    await s.see('Another local number could never send: put one back.');
    await s.tap('button[aria-label^="Put back +1 551"]');
    await s.gone('could never send');
    await s.tap('lg-basket-panel input[type=checkbox]');
    await s.press('Order for 500.00…');
    await s.tap('[data-yes]');
    await s.see('Wait for the exchange.');
    await s.see('Kiln notices: A notice when fired pieces');
    await person.jump('hour');
    await s.see('programme in review');
  });

  it('filters the inventory, keeps the filter as a view, labels several at once, and releases with a way back', async () => {
    const id = business('Saltmarsh Ferries');
    await open(id, 'numbers');
    await s.press('ported 1');
    await s.press('Save this view');
    const name = await s.page.waitForSelector('#view-name');
    await name?.type('Ported ones');
    await s.press('Save');
    await open(id, 'numbers');
    await s.press('Ported ones');
    await s.page.waitForFunction(() => document.querySelectorAll('table.ledger tbody tr').length === 1);
    await s.tap('input[aria-label="Choose +1 201-555-0151"]');
    const label = await s.page.waitForSelector('input[aria-label="Label for the chosen numbers"]');
    await label?.type('Counter and quay');
    await s.press('Label');
    await s.see('1 number changed.');
    await s.press('+1 201-555-0151');
    await s.press('Release the number…');
    await s.see('consents stay with the business');
    await s.fill('written', '0151');
    await s.tap('[data-yes]:not(:disabled)');
    await s.press('Take the release back');
    await s.see('The number is back.');
    const card = await fetch(
      `${running.url}/api/v1/public/cards/${
        (await person.ok<{ items: { id: string; e164: string }[] }>('GET', `/businesses/${id}/numbers`)).items.find(
          (n) => n.e164 === '+12015550151',
        )?.id ?? ''
      }`,
    );
    expect(await card.text()).toContain('FN:Saltmarsh Ferries');
    expect(s.errors).toEqual([]);
  });
});
