import { randomUUID } from 'node:crypto';
import type { ContactDetail, NumberRequest } from '@long-gate/contracts';
import { PACK_FILES } from '@long-gate/core';
import { GatewayBusy } from '@long-gate/gateways';
import type { Door, Visitor } from '../../../testing/door.js';
import { linesIn, packAbout } from '../../../testing/evidence-pack.js';
import { heronPage } from '../../../testing/opt-in-page.js';
import { Office } from '../../../testing/office.js';
import { endLettersTo } from '../letters/letters.js';

const OLD = '+12125550101';
const NEW = '+12125550102';
const HOUR = 3_600_000;
const DAY = 24 * HOUR;

describe('asking for a better number', () => {
  let o: Office;
  let door: Door;
  let staff: Visitor;
  let ada: string;
  let pageId: string;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    staff = await door.visitor(o.admin.id);
    ada = await o.contact(OLD, ['informational'], { firstName: 'Ada' });
    await o.contact('+12125550109', [], { firstName: 'Brandt' });
    await o.app.platform.db.write(async (w) => {
      await w.run(`UPDATE contact SET email = 'ada@mail.example' WHERE id = $1`, [ada]);
      await o.app.contacts.storeLookup(w, o.business, [
        {
          e164: OLD,
          lineType: 'landline',
          carrier: 'Harth Telephone',
          carrierKind: 'A',
          reachable: true,
          askedAt: o.now,
        },
      ]);
    });
    pageId = (await o.app.pages.add(o.admin, o.business, heronPage(o.number))).id;
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const base = (): string => `/businesses/${o.business}`;
  const wish = (over: object = {}) => ({
    whom: {},
    pageId,
    subject: 'A mobile number for [firstName|you]',
    text: 'Hello [firstName|there], tell us one here: [link]',
    ...over,
  });
  const start = (over: object = {}, key = randomUUID()) =>
    staff.ask('POST', `${base()}/number-requests`, wish({ seen: 1, ...over }), { 'idempotency-key': key });
  const asked = async (): Promise<NumberRequest[]> =>
    (await staff.ask('GET', `${base()}/number-requests`)).body['items'] as NumberRequest[];
  const link = (): string =>
    /\/better-number\/[\w-]+/.exec(o.outside.mails.at(-1)?.raw.replace(/=\r\n/g, '') ?? '')?.[0] ?? '';
  const open = async (at = link()) => {
    const page = await fetch(`${door.url}${at}`);
    return { status: page.status, html: await page.text() };
  };
  /** As the page's form is sent without a script. */
  const answer = async (phone: string, over: Record<string, string> = {}) => {
    const words = /name="words" value="(\w+)"/.exec((await open()).html)?.[1] ?? '';
    const sent = await fetch(`${door.url}${link()}`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ phone, purposes: 'informational', words, ...over }),
    });
    return { status: sent.status, html: await sent.text() };
  };
  const detail = async (): Promise<ContactDetail> =>
    (await staff.ask('GET', `${base()}/contacts/${ada}`)).body as unknown as ContactDetail;

  it('shows beforehand who is asked and what they read, and asks each once in 30 days', async () => {
    const preview = await staff.ask('POST', `${base()}/number-requests/preview`, wish());
    expect(preview.body).toEqual(jasmine.objectContaining({ asked: 1, noEmail: 1, already: 0 }));
    expect(preview.body['sample']).toEqual({
      to: 'ada@mail.example',
      subject: 'A mobile number for Ada',
      text: jasmine.stringMatching(/^Hello Ada, tell us one here: http\S+\/better-number\//),
    });
    const key = randomUUID();
    expect((await start({}, key)).status).toBe(200);
    expect((await start({}, key)).status).toBe(200);
    await o.settle();
    expect(o.outside.mails.filter((m) => m.to === 'ada@mail.example').length).toBe(1);
    expect((await start()).status)
      .withContext('nobody is left')
      .toBe(422);
    await o.later(31 * DAY);
    expect((await start()).status).toBe(200);
  });

  it('comes back, or is ended by one POST, and then that address gets no letter of any kind', async () => {
    await start();
    await o.settle();
    const key = o.outside.mails.at(-1)?.key ?? '';
    await o.hear({ kind: 'mail.bounced', key, reason: '550 no such mailbox' });
    expect((await asked()).map((x) => [x.state, x.why])).toEqual([['came back', '550 no such mailbox']]);
    await o.later(31 * DAY);
    const none = await staff.ask('POST', `${base()}/number-requests/preview`, wish());
    expect(none.body).toEqual(jasmine.objectContaining({ asked: 0, noMore: 1, already: 0 }));
    expect((await start()).status).toBe(422);

    await o.app.platform.db.write((w) => w.run(`UPDATE contact SET email = 'ada@new.example' WHERE id = $1`, [ada]));
    expect((await start()).status).toBe(200);
    await o.settle();
    const raw = (o.outside.mails.at(-1)?.raw ?? '').replace(/\r\n /g, ' ');
    const end = /^List-Unsubscribe: <http:\/\/[^/]+([^>]+)>/m.exec(raw)?.[1] ?? '';
    expect((await open(end)).html).toContain('Send me no more of them');
    const once = await fetch(`${door.url}${end}`, { method: 'POST' });
    expect([once.status, (await once.text()).includes('You get no more e-mails')]).toEqual([200, true]);
    expect((await open(end.replace(/\w+\/letters$/, 'x/letters'))).status).toBe(404);
    await o.later(31 * DAY);
    expect((await start()).status).toBe(422);
  });

  it('is not sent any more once who it waited for wants no letters', async () => {
    const { mail } = o.outside;
    const takes = mail.send;
    mail.send = () => Promise.reject(new GatewayBusy('later', 60_000, false));
    await start();
    await o.settle();
    await o.app.platform.db.write((w) => endLettersTo(w, o.app.platform, o.business, 'ada@mail.example'));
    mail.send = takes;
    await o.later(HOUR);
    expect(o.outside.mails).toEqual([]);
    expect((await asked()).map((x) => x.state)).toEqual(['held back']);
  });

  it('is refused without a place for the link, and where others would be asked than were seen', async () => {
    expect((await start({ text: 'Call us.' })).status).toBe(422);
    expect((await start({ seen: 2 })).status).toBe(409);
  });

  it('takes a number that texts reach, which confirms itself by YES and is texted from then on', async () => {
    await start();
    await o.settle();
    o.outside.lineTypes.set(NEW, 'mobile');
    const done = await answer('(212) 555-0102');
    expect(done.status).toBe(200);
    expect(done.html).toContain('A text is on its way to +1 212-555-0102 from');
    await o.settle();
    expect((await asked())[0]?.state).toBe('answered');
    // The page that was before her eyes is kept, not the opt-in page whose words stood on it.
    const [event] = (await o.app.ledgerPages.page(o.business, { e164: NEW, limit: 5 })).items;
    const seen = await staff.ask('GET', `${base()}/page-versions/${event?.evidence['pageSha256'] ?? ''}`);
    expect(seen.body['text']).toContain('Your mobile number');
    expect(seen.body['text']).not.toContain('Word of each bake.');
    // As yet it may be anybody's number: a pack about it tells nothing of her.
    const letters = async (e164: string) => linesIn(await packAbout(o, e164), PACK_FILES.letters);
    expect(await letters(NEW)).toEqual([]);
    expect(await letters(OLD)).toEqual([
      jasmine.objectContaining({
        what: 'asked by e-mail for a better number',
        letter: {
          subject: 'A mobile number for Ada',
          text: 'Hello Ada, tell us one here: [their personal link]',
        },
        failed: '',
      }),
    ]);
    expect((await detail()).number.e164)
      .withContext('not before the YES')
      .toBe(OLD);
    expect(o.sentTo(NEW)[0]).toContain('YES');
    await o.text(NEW, 'YES');
    const d = await detail();
    expect([d.number.e164, d.number.textable, d.number.consent.informational]).toEqual([NEW, 'yes', 'granted']);
    expect(d.numbers.map((n) => n.e164)).toEqual([NEW, OLD]);
    expect((await asked())[0]?.state).toBe('confirmed');
  });

  it('is not confirmed by what the number’s owner agreed to before, whatever they do now', async () => {
    const BRANDT = '+12125550109';
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(w, o.business, [
        { e164: BRANDT, purposes: ['informational', 'promotional'], kind: 'granted', how: 'web page' },
      ]),
    );
    await start();
    await o.settle();
    o.outside.lineTypes.set(BRANDT, 'mobile');
    expect((await answer('(212) 555-0109')).status).toBe(200);
    await o.settle();
    await o.app.replies.recordWish(o.admin, o.business, {
      e164: BRANDT,
      purposes: ['promotional'],
      how: 'phone call',
      words: 'No more offers.',
    });
    expect((await asked())[0]?.state).toBe('answered');
    expect((await detail()).number.e164).toBe(OLD);
  });

  it('says what is wrong with a number texts do not reach, and staff see it', async () => {
    await start();
    await o.settle();
    o.outside.lineTypes.set(NEW, 'landline');
    const done = await answer(NEW);
    expect(done.status).toBe(422);
    expect(done.html).toContain('This is a landline: texts do not reach it. Give a mobile number.');
    expect(done.html).withContext('nothing is lost').toContain('value="+12125550102" aria-invalid="true"');
    expect(done.html).toContain('value="informational" checked');
    expect((await asked())[0]?.refused).toContain('a landline');
    expect((await answer(OLD)).html).toContain('the number texts do not reach');
    expect((await answer('555')).status).toBe(422);
    expect((await detail()).numbers.length).toBe(1);
  });

  it('lifts what was refused on the old number only by the YES of the new one', async () => {
    await o.text(OLD, 'STOP');
    await start();
    await o.settle();
    await answer(NEW);
    await o.settle();
    expect((await detail()).numbers.find((n) => n.e164 === NEW)?.refusedElsewhere).toContain('informational');
    await o.text(NEW, 'YES');
    expect((await detail()).number.refusedElsewhere).not.toContain('informational');
  });

  it('tells a stranger nothing, and ends after 30 days', async () => {
    await start();
    await o.settle();
    const { html } = await open();
    expect(html).toContain('the number ••• 01.');
    expect(html).not.toContain('2125550101');
    const none = await open('/better-number/made-up');
    expect(none.status).toBe(404);
    await o.later(31 * DAY);
    expect(await open())
      .withContext('one that is over says what a made-up one says')
      .toEqual({ status: 404, html: jasmine.stringContaining('This link is no longer good') });
    expect((await asked())[0]?.state).toBe('lapsed');
  });

  it('says that a phone is switched off, instead of a text that would never leave, and asks anew an hour later', async () => {
    await start();
    await o.settle();
    o.outside.lineTypes.set(NEW, 'mobile');
    o.outside.unreachable.add(NEW);
    const off = await answer(NEW);
    expect(off.status).toBe(422);
    expect(off.html).toContain('switched off or out of service');
    expect((await asked())[0]?.refused).toContain('switched off');
    o.outside.unreachable.delete(NEW);
    await o.later(HOUR);
    expect((await answer(NEW)).status).toBe(200);
    await o.settle();
    expect(o.sentTo(NEW)[0]).toContain('YES');
  });

  it('speaks the language of the page whose words they agree to, in what it refuses too', async () => {
    const spanish = heronPage(o.number, {
      slug: 'pan',
      language: 'es',
      purposes: [{ purpose: 'informational', label: 'Avísenme de mi pedido', frequency: 'unos cuatro al mes' }],
    });
    pageId = (await o.app.pages.add(o.admin, o.business, spanish)).id;
    await start();
    await o.settle();
    const { html } = await open();
    expect(html).toContain('<html lang="es">');
    expect(html).toContain('Ada, su número de móvil');
    expect((await answer('212 555')).html).toContain('Tiene muy pocas cifras');
    expect((await answer(OLD)).html).toContain('al que no llegan los mensajes');
    o.outside.lineTypes.set(NEW, 'landline');
    expect((await answer(NEW)).html).toContain('Es un teléfono fijo');
    o.outside.lineTypes.set(NEW, 'mobile');
    // Once a landline costs nothing to say again; the limit is on what is asked of one number.
    for (let i = 0; i < 3; i++) await answer(NEW);
    const often = await answer(NEW);
    expect(often.status).toBe(429);
    expect(often.html).toContain('Hoy ya se ha pedido bastantes veces');
  });
});
