import { randomUUID } from 'node:crypto';
import type { Invited, OptInInvitation } from '@long-gate/contracts';
import { GatewayBusy } from '@long-gate/gateways';
import { PACK_FILES } from '@long-gate/core';
import type { Door, Visitor } from '../../../testing/door.js';
import { filesIn, linesIn, packAbout } from '../../../testing/evidence-pack.js';
import { Office } from '../../../testing/office.js';
import { BOTH_KINDS, heronPage } from '../../../testing/opt-in-page.js';
import { endLettersTo } from '../letters/letters.js';

const ADA = '+12125550101';
const NEW = '+12125550102';
const DAY = 86_400_000;

describe('inviting people to texts', () => {
  let o: Office;
  let door: Door;
  let staff: Visitor;
  let ada: string;
  let id: string;
  const base = (): string => `/businesses/${o.business}/opt-in-invitations`;
  const withEmail = async (e164: string, email: string, kinds: ('informational' | 'promotional')[] = []) => {
    const contactId = await o.contact(e164, kinds, { firstName: email.split('@')[0] ?? '' });
    await o.app.platform.db.write((w) => w.run('UPDATE contact SET email = $1 WHERE id = $2', [email, contactId]));
    return contactId;
  };
  const letter = () => ({
    pageId: (pages[0] as { id: string }).id,
    subject: 'Texts for [firstName|you]?',
    text: 'Hello [firstName|there], say here what you want: [link]',
    againDays: 90,
  });
  let pages: { id: string }[];
  const preview = async (over: object = {}) =>
    (await staff.ask('POST', `${base()}/preview`, { ...letter(), whom: {}, ...over })).body;
  const send = async (seen: number, key: string = randomUUID()) => {
    const answer = await staff.ask('POST', `${base()}/${id}/sendings`, { whom: {}, seen }, { 'idempotency-key': key });
    await o.settle();
    return answer;
  };
  const people = async (): Promise<Invited[]> =>
    (await staff.ask('GET', `${base()}/${id}/people`)).body['items'] as Invited[];
  const came = async (): Promise<OptInInvitation['came']> =>
    ((await staff.ask('GET', base())).body['items'] as OptInInvitation[])[0]?.came as OptInInvitation['came'];
  const mailTo = (email: string): string =>
    (o.outside.mails.filter((m) => m.to === email).at(-1)?.raw ?? '').replace(/=\r\n/g, '').replace(/=3D/g, '=');
  const linkTo = (email: string): string => /\/my-texts\/[\w-]+/.exec(mailTo(email))?.[0] ?? '';
  const open = async (link: string) => {
    const answer = await fetch(`${door.url}${link}`);
    return { status: answer.status, html: await answer.text() };
  };
  const choose = async (link: string, fields: [string, string][]) => {
    const words = /name="words" value="(\w+)"/.exec((await open(link)).html)?.[1] ?? '';
    const answer = await fetch(`${door.url}${link}`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams([['words', words], ...fields]),
    });
    return { status: answer.status, html: await answer.text() };
  };
  const ticked = (html: string): string[] =>
    [...html.matchAll(/value="(informational|promotional)" checked/g)].map((m) => m[1] ?? '');

  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    staff = await door.visitor(o.admin.id);
    ada = await withEmail(ADA, 'ada@mail.example');
    const page = heronPage(o.number, { purposes: BOTH_KINDS });
    pages = [await o.app.pages.add(o.admin, o.business, page)];
    const made = await staff.ask('POST', base(), { ...letter(), title: 'Spring' });
    if (made.status !== 200) throw new Error(JSON.stringify(made.body));
    id = made.body['id'] as string;
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  it('says who is written to and why others are not, and shows the letter as one of them gets it', async () => {
    await o.contact('+12125550110', []);
    await withEmail('+12125550111', 'bea@mail.example', ['informational', 'promotional']);
    await withEmail('+12125550112', 'cleo@mail.example', ['informational']);
    await withEmail('+12125550113', 'dora@mail.example', ['informational']);
    await o.text('+12125550113', 'STOP');
    expect(await preview()).toEqual(
      jasmine.objectContaining({
        invited: 2,
        noEmail: 1,
        inAlready: 1,
        left: 1,
        lately: 0,
        noMore: 0,
        sample: {
          to: 'ada@mail.example',
          subject: 'Texts for ada?',
          text: jasmine.stringMatching(/^Hello ada, say here what you want: http.*\/my-texts\/…$/),
        },
      }),
    );
  });

  it('writes to each once, however often it is pressed, and not again for as long as it says', async () => {
    const key = randomUUID();
    expect((await send(1, key)).status).toBe(200);
    expect((await send(1, key)).status).toBe(200);
    expect(o.outside.mails.filter((m) => m.to === 'ada@mail.example').length).toBe(1);
    expect(mailTo('ada@mail.example')).toMatch(/^List-Unsubscribe-Post: List-Unsubscribe=One-Click\r$/m);
    expect((await preview())['lately']).toBe(1);
    expect((await send(1)).status).toBe(422);
    await withEmail('+12125550111', 'bea@mail.example');
    expect((await send(2)).status)
      .withContext('others than were seen')
      .toBe(409);
    await o.later(91 * DAY);
    expect((await preview())['invited']).toBe(2);
  });

  it('opens a page that shows what stands, and tells nobody the number', async () => {
    await o.contact(ADA, ['informational']);
    await send(1);
    const { status, html } = await open(linkTo('ada@mail.example'));
    expect(status).toBe(200);
    expect(ticked(html)).toEqual(['informational']);
    expect(html).toContain('the number ••• 01');
    expect(html).not.toMatch(/555.?0101/);
    expect((await people())[0]?.state).toBe('opened');
  });

  it('ends at once what is no longer wanted, and asks the handset for what is', async () => {
    await o.contact(ADA, ['informational']);
    await send(1);
    const link = linkTo('ada@mail.example');
    const { html } = await choose(link, [
      ['wish', 'choose'],
      ['purposes', 'promotional'],
    ]);
    expect(html).toContain('You get no more notices.');
    expect(html).toContain('For offers one text is on its way to ••• 01');
    expect(await o.state(ADA)).toEqual(jasmine.objectContaining({ informational: 'revoked', promotional: 'awaiting' }));
    await o.settle();
    expect(ticked((await open(link)).html)).toEqual(['promotional']);
    await o.text(ADA, 'YES');
    expect((await o.state(ADA)).promotional).toBe('granted');
    expect((await people())[0]?.state).toBe('joined');
    expect(await came()).toEqual({ heldBack: 0, sent: 1, failed: 0, opened: 1, answered: 1, joined: 1, left: 0 });
    const events = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
    const granted = events.filter((e) => e.how === 'preference page');
    expect(granted.map((e) => [e.kind, e.purposes.join(), e.evidence['invitation'] !== undefined])).toEqual([
      ['revoked', 'informational', true],
      ['granted', 'promotional', true],
    ]);
    expect(granted[1]?.disclosure).toContain('Agreeing is not a condition of any purchase');
  });

  it('invites nobody to a page on which nobody can be asked for a YES', async () => {
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    const refused = {
      status: 422,
      body: jasmine.objectContaining({ detail: jasmine.stringContaining('not in service') }),
    };
    expect(await staff.ask('POST', `${base()}/preview`, { whom: {}, ...letter() })).toEqual(
      jasmine.objectContaining(refused),
    );
    const sending = await staff.ask(
      'POST',
      `${base()}/${id}/sendings`,
      { whom: {}, seen: 1 },
      { 'idempotency-key': randomUUID() },
    );
    expect(sending.status).toBe(422);
    await o.settle();
    expect(o.outside.mails.filter((m) => m.to === 'ada@mail.example')).toEqual([]);
  });

  it('ends what is no longer wanted also where no number is left that could ask for what is wanted', async () => {
    await o.contact(ADA, ['informational']);
    await send(1);
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    const link = linkTo('ada@mail.example');
    const wanted: [string, string][] = [
      ['wish', 'choose'],
      ['purposes', 'promotional'],
    ];
    const { status, html } = await choose(link, wanted);
    expect(status).toBe(200);
    expect(html).toContain('You get no more notices.');
    expect(html).toContain('Offers cannot be asked for at the moment.');
    expect(await o.state(ADA)).toEqual(jasmine.objectContaining({ informational: 'revoked', promotional: 'none' }));
    const again = await choose(link, wanted);
    expect([again.status, again.html.includes('Nobody can join here at the moment')]).toEqual([409, true]);
    const asked = o.outside.lookups.length;
    const another = await choose(link, [
      ['wish', 'number'],
      ['phone', NEW],
      ['purposes', 'promotional'],
    ]);
    expect([another.status, o.outside.lookups.length])
      .withContext('no lookup is paid for another number either')
      .toEqual([409, asked]);
    await o.app.releases.takeBack(o.admin, o.business, o.number);
    expect((await choose(link, wanted)).html).toContain('For offers one text is on its way');
  });

  it('ends what is no longer wanted also where what is wanted was asked for too often today', async () => {
    await o.contact(ADA, ['informational']);
    await send(1);
    const limit = { act: 'opt-in number', who: ADA, most: 3, withinMs: DAY };
    await o.app.platform.db.write(async (w) => {
      for (let i = 0; i < 3; i++) await o.app.platform.limits.note(w, [limit]);
    });
    const link = linkTo('ada@mail.example');
    const { status, html } = await choose(link, [
      ['wish', 'choose'],
      ['purposes', 'promotional'],
    ]);
    expect(status).toBe(200);
    expect(html).toContain('You get no more notices.');
    expect(html).toContain('Offers were asked for often enough today');
    expect(await o.state(ADA)).toEqual(jasmine.objectContaining({ informational: 'revoked', promotional: 'none' }));
    expect((await people())[0]?.state).toBe('left');
    const again = await choose(link, [
      ['wish', 'choose'],
      ['purposes', 'promotional'],
    ]);
    expect(again.status).withContext('nothing ended, and nothing began').toBe(429);
  });

  it('shows where somebody stands now: who joined and left has left, and may come back by another YES', async () => {
    await send(1);
    const link = linkTo('ada@mail.example');
    const join = async (): Promise<void> => {
      await choose(link, [
        ['wish', 'choose'],
        ['purposes', 'promotional'],
      ]);
      await o.settle();
      await o.text(ADA, 'YES');
    };
    await join();
    expect((await people())[0]?.state).toBe('joined');
    await choose(link, [['wish', 'leave']]);
    expect((await people())[0]?.state).toBe('left');
    expect(await came()).toEqual(jasmine.objectContaining({ joined: 0, left: 1 }));
    await o.later(DAY + 1000);
    await join();
    expect((await people())[0]?.state).toBe('joined');
  });

  it('changes nothing without the YES of the handset, whatever is ticked', async () => {
    await send(1);
    await choose(linkTo('ada@mail.example'), [
      ['wish', 'choose'],
      ['purposes', 'informational'],
      ['purposes', 'promotional'],
    ]);
    await o.settle();
    await o.later(73 * 3_600_000);
    expect((await o.state(ADA)).promotional).toBe('lapsed');
    expect((await people())[0]?.state).toBe('awaits YES');
  });

  it('keeps what is kept, sends answers only where that is wished, and nothing where no more is', async () => {
    await o.contact(ADA, ['informational']);
    await send(1);
    const link = linkTo('ada@mail.example');
    expect(
      (
        await choose(link, [
          ['wish', 'choose'],
          ['purposes', 'informational'],
        ])
      ).html,
    ).toContain('You go on getting notices.');
    expect((await people())[0]?.state).toBe('kept');
    expect((await choose(link, [['wish', 'answers']])).html).toContain('send nothing by itself');
    expect(await o.state(ADA)).toEqual(jasmine.objectContaining({ informational: 'revoked', conversational: 'none' }));
    await choose(link, [['wish', 'leave']]);
    expect(await o.state(ADA)).toEqual(jasmine.objectContaining({ conversational: 'revoked', promotional: 'revoked' }));
    expect((await people())[0]?.state).toBe('left');
  });

  it('takes another number, looked up at once, which counts with the YES of its own handset', async () => {
    o.outside.lineTypes.set(NEW, 'mobile');
    await send(1);
    const link = linkTo('ada@mail.example');
    const number = (phone: string, more: [string, string][] = [['purposes', 'informational']]) =>
      choose(link, [['wish', 'number'], ['phone', phone], ...more]);
    expect((await number(ADA)).html).toContain('This is the number we have.');
    expect((await number('12')).status).toBe(422);
    expect((await number(NEW, [])).html).toContain('Tick at least one kind of text for this number.');
    o.outside.lineTypes.set('+12125550103', 'landline');
    const landline = await number('+12125550103');
    expect([landline.status, landline.html.includes('This is a landline')]).toEqual([422, true]);
    expect((await number(NEW)).html).toContain('on its way to +1 212-555-0102');
    await o.settle();
    expect(o.sentTo(NEW).length).toBe(1);
    const preferred = () =>
      o.app.platform.db.one<{ e164: string }>('SELECT e164 FROM contact_number WHERE contact_id = $1 AND preferred', [
        ada,
      ]);
    expect((await preferred())?.e164)
      .withContext('nothing before its YES')
      .toBe(ADA);
    await o.text(NEW, 'yes');
    expect((await preferred())?.e164).toBe(NEW);
    expect((await o.state(NEW)).informational).toBe('granted');
    expect((await people()).map((x) => [x.state, x.newE164])).toEqual([['joined', NEW]]);
  });

  it('stays on file as it was sent, whatever becomes of its words, and is evidence of nobody else', async () => {
    o.outside.lineTypes.set(NEW, 'mobile');
    await send(1);
    const link = linkTo('ada@mail.example');
    await o.contact('+12125550109', ['informational']);
    const lettersOf = async (e164: string): Promise<Record<string, unknown>[]> => {
      const pack = await packAbout(o, e164);
      // Her link answers for her: it is in no file.
      for (const [name, bytes] of filesIn(pack))
        expect(Buffer.from(bytes).includes(link.slice(-20)))
          .withContext(name)
          .toBeFalse();
      return linesIn(pack, PACK_FILES.letters);
    };
    await o.app.platform.db.write((w) => w.run(`UPDATE contact SET first_name = 'Adelaide' WHERE id = $1`, [ada]));
    const [kept] = ((await staff.ask('GET', base())).body['items'] as OptInInvitation[]) ?? [];
    const other = { ...letter(), title: 'Spring', subject: 'Other words', text: 'Other words altogether: [link]' };
    const changed = await staff.ask(
      'PUT',
      `${base()}/${id}`,
      { ...other, standing: null },
      {
        'if-match': `"${kept?.version ?? 0}"`,
      },
    );
    expect(changed.status).toBe(200);
    const sent = {
      e164: ADA,
      what: 'invited by e-mail',
      to: 'ada@mail.example',
      letter: { subject: 'Texts for ada?', text: 'Hello ada, say here what you want: [their personal link]' },
    };
    expect(await lettersOf(ADA)).toEqual([jasmine.objectContaining({ ...sent, given: null, answeredAt: null })]);

    await choose(link, [
      ['wish', 'number'],
      ['phone', NEW],
      ['purposes', 'informational'],
    ]);
    await o.settle();
    // As yet it may be anybody's number: nothing of her is told with it.
    expect(await lettersOf(NEW)).toEqual([]);
    await o.text(NEW, 'yes');
    expect(await lettersOf(NEW)).toEqual([jasmine.objectContaining({ ...sent, given: NEW, chose: 'awaits YES' })]);
    const { items } = await o.app.ledgerPages.page(o.business, { e164: NEW, limit: 10 });
    const asked = items.find((x) => x.awaitsConfirmation)?.id ?? '';
    const basis = await staff.ask('GET', `/businesses/${o.business}/ledger/${asked}/basis`);
    expect(basis.body['letter']).toEqual(jasmine.objectContaining({ to: sent.to, ...sent.letter }));
  });

  it('keeps the page as it was seen, less name and number, apart from the versions of the opt-in page', async () => {
    await send(1);
    await choose(linkTo('ada@mail.example'), [
      ['wish', 'choose'],
      ['purposes', 'informational'],
    ]);
    await o.settle();
    const [event] = (await o.app.ledgerPages.page(o.business, { e164: ADA, limit: 10 })).items;
    const sha256 = event?.evidence['pageSha256'] ?? '';
    const html = (await staff.ask('GET', `/businesses/${o.business}/page-versions/${sha256}`)).body['text'] as string;
    // What she saw: how each kind stood, the words beside it, and the ways on.
    for (const seen of ['Your texts from Heron Lane Bakery LLC', 'You do not get these.', event?.disclosure ?? '?'])
      expect(html).toContain(seen);
    expect(html).not.toMatch(/ada|\b01\b/i);
    expect(html).not.toContain('Word of each bake.');
    const versions = await staff.ask('GET', `/businesses/${o.business}/pages/${pages[0]?.id ?? ''}/versions`);
    expect((versions.body['items'] as { sha256: string }[]).map((x) => x.sha256)).not.toContain(sha256);
    const pack = await packAbout(o, ADA);
    expect([...filesIn(pack).keys()]).toContain(`pages/${sha256}.html`);
  });

  it('says the same of a link that is made up, over or taken back', async () => {
    await send(1);
    const link = linkTo('ada@mail.example');
    const made = await open('/my-texts/aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa');
    const anonymous = (html: string): string => html.replace(/nonce="[^"]*"/g, '');
    await staff.ask('POST', `${base()}/${id}/withdrawal`, { linkId: null });
    const gone = await open(link);
    expect([made.status, gone.status]).toEqual([404, 404]);
    expect(anonymous(gone.html)).toBe(anonymous(made.html));
    expect((await choose(link, [['wish', 'leave']])).status).toBe(404);
    expect((await people())[0]?.state).toBe('withdrawn');
    await o.later(91 * DAY);
    await send(1);
    const second = linkTo('ada@mail.example');
    expect((await open(second)).status).toBe(200);
    await o.later(31 * DAY);
    expect(anonymous((await open(second)).html)).toBe(anonymous(made.html));
  });

  it('ends letters by one POST, and by opening nothing', async () => {
    await send(1);
    const url =
      /^List-Unsubscribe: <http:\/\/[^/]+([^>]+)>/m.exec(mailTo('ada@mail.example').replace(/\r\n /g, ' '))?.[1] ?? '';
    expect((await open(url)).html).toContain('Send me no more of them');
    await o.later(91 * DAY);
    expect((await preview())['invited'])
      .withContext('mail programs open links')
      .toBe(1);
    const once = await fetch(`${door.url}${url}`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: 'List-Unsubscribe=One-Click',
    });
    expect([once.status, (await once.text()).includes('You get no more e-mails')]).toEqual([200, true]);
    expect(await preview()).toEqual(jasmine.objectContaining({ invited: 0, noMore: 1 }));
    expect((await o.state(ADA)).informational)
      .withContext('letters are no texts')
      .toBe('none');
  });

  it('writes no more to an address that came back or complained', async () => {
    await withEmail('+12125550111', 'bea@mail.example');
    await send(2);
    const keyOf = (email: string): string => o.outside.mails.find((m) => m.to === email)?.key ?? '';
    await o.hear({ kind: 'mail.bounced', key: keyOf('ada@mail.example'), reason: '550 no such mailbox' });
    await o.hear({ kind: 'mail.complained', key: keyOf('bea@mail.example') });
    await o.hear({ kind: 'mail.bounced', key: 'staff:1', reason: 'nobody’s letter' });
    expect((await people()).map((x) => [x.state, x.why]).sort()).toEqual([
      ['came back', '550 no such mailbox'],
      ['complained', ''],
    ]);
    await o.later(91 * DAY);
    expect(await preview()).toEqual(jasmine.objectContaining({ invited: 0, noMore: 2 }));
  });

  describe('where the mail service is down for a while', () => {
    let comesUp: () => Promise<void>;
    beforeEach(async () => {
      const { mail } = o.outside;
      const takes = mail.send;
      mail.send = () => Promise.reject(new GatewayBusy('later', 60_000, false));
      comesUp = async () => {
        mail.send = takes;
        await o.later(10 * 60_000);
      };
      await send(1);
      expect((await people()).map((x) => x.state)).toEqual(['sent']);
    });
    const email = (to: string): Promise<void> =>
      o.app.platform.db.write((w) => w.run('UPDATE contact SET email = $1 WHERE id = $2', [to, ada]));

    it('sends what waited, once it can, to whoever may still have it', async () => {
      await comesUp();
      expect(o.outside.mails.map((m) => m.to)).toEqual(['ada@mail.example']);
      expect(await came()).toEqual(jasmine.objectContaining({ sent: 1, heldBack: 0 }));
    });

    for (const [meanwhile, said, act] of [
      [
        'wanted no more letters',
        'Its address gets no such e-mail any more.',
        () => o.app.platform.db.write((w) => endLettersTo(w, o.app.platform, o.business, 'Ada@mail.example')),
      ],
      ['said STOP', 'They said meanwhile that they want no texts.', () => o.text(ADA, 'STOP')],
      [
        'lost their link to whoever sent it',
        'Its link was taken back before it left.',
        () => staff.ask('POST', `${base()}/${id}/withdrawal`, { linkId: null }),
      ],
      [
        'is found to have another address',
        'Nobody among the contacts has this address and number any more.',
        () => email('ada@another.example'),
      ],
    ] as const)
      it(`holds back what waited for one who meanwhile ${meanwhile}, and says so`, async () => {
        await act();
        await comesUp();
        expect(o.outside.mails).toEqual([]);
        const [one] = await people();
        expect([one?.state, one?.why.startsWith(said)]).toEqual(['held back', true]);
        expect(one?.why).withContext('its one try before may have been heard').toContain('it left then');
        expect(await came()).toEqual(jasmine.objectContaining({ sent: 0, heldBack: 1, failed: 0 }));
        await o.later(DAY);
        expect(o.outside.mails).withContext('nor later').toEqual([]);
      });

    it('holds back what waited for one who was erased meanwhile', async () => {
      await o.app.removals.erase(o.admin, o.business, ada, 'asked by letter');
      await comesUp();
      expect([o.outside.mails, await people()]).toEqual([[], []]);
    });

    it('invites whoever was held back again, once nothing is against it', async () => {
      await email('ada@another.example');
      await comesUp();
      expect((await send(1)).status).toBe(200);
      expect(o.outside.mails.map((m) => m.to)).toEqual(['ada@another.example']);
      await o.contact(ADA, ['informational']);
      expect(linesIn(await packAbout(o, ADA), PACK_FILES.letters).map((l) => l['to']))
        .withContext('what never left is no evidence')
        .toEqual(['ada@another.example']);
    });
  });

  it('invites who is new by itself, each day, where an administrator wants that', async () => {
    const [invitation] = (await staff.ask('GET', base())).body['items'] as OptInInvitation[];
    const standing = { listId: null, filter: {}, e164s: null };
    const coordinator = await door.visitor((await o.person('Cass', 'coordinator')).id);
    const edit = (who: Visitor) =>
      who.ask(
        'PUT',
        `${base()}/${id}`,
        { ...letter(), title: 'Spring', standing },
        { 'if-match': `"${invitation?.version}"` },
      );
    expect((await edit(coordinator)).status).toBe(403);
    expect((await edit(staff)).status).toBe(200);
    expect(o.outside.mails.filter((m) => m.to === 'ada@mail.example').length).toBe(0);
    await o.later(DAY + 1000);
    expect(o.outside.mails.filter((m) => m.to === 'ada@mail.example').length).toBe(1);
    await withEmail('+12125550111', 'bea@mail.example');
    await o.later(DAY + 1000);
    await o.later(DAY + 1000);
    expect(o.outside.mails.filter((m) => m.to === 'ada@mail.example').length).toBe(1);
    expect(o.outside.mails.filter((m) => m.to === 'bea@mail.example').length).toBe(1);
  });

  it('goes on inviting for others where one has lost its page', async () => {
    const standing = { listId: null, filter: {}, e164s: null };
    const lost = heronPage(o.number, { slug: 'egret' });
    const { id: gone } = await o.app.pages.add(o.admin, o.business, lost);
    await staff.ask('POST', base(), { ...letter(), pageId: gone, title: 'Lost', standing });
    await o.app.platform.db.write((w) =>
      w.run(`UPDATE optin_invitation SET page_id = 'pag_none' WHERE title = 'Lost'`),
    );
    await staff.ask('POST', base(), { ...letter(), title: 'Daily', standing });
    await o.later(DAY + 1000);
    expect(o.outside.mails.filter((m) => m.to === 'ada@mail.example').length).toBe(1);
  });

  it('is not sent by a viewer, and leaves with the person who is erased', async () => {
    const viewer = await door.visitor((await o.person('Vera', 'viewer')).id);
    const asked = await viewer.ask(
      'POST',
      `${base()}/${id}/sendings`,
      { whom: {}, seen: 1 },
      { 'idempotency-key': randomUUID() },
    );
    expect(asked.status).toBe(403);
    await send(1);
    await o.app.removals.erase(o.admin, o.business, ada, 'asked by letter');
    expect(await people()).toEqual([]);
  });

  it('keeps no address of who wants no letters, only what tells it again', async () => {
    await send(1);
    await fetch(`${door.url}${linkTo('ada@mail.example')}/letters`, { method: 'POST' });
    await o.app.removals.erase(o.admin, o.business, ada, 'asked by letter');
    const kept = await o.app.platform.db.all('SELECT * FROM mail_refusal');
    expect(kept.length).toBe(1);
    expect(JSON.stringify(kept)).not.toContain('ada@');
    await withEmail('+12125550111', 'Ada@mail.example');
    expect((await preview())['noMore'])
      .withContext('under another number, in other letters')
      .toBe(1);
  });
});
