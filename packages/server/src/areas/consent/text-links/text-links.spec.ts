import type { TextLinksOfDispatch } from '@long-gate/contracts';
import { LINK_KEY_LENGTH } from '@long-gate/core';
import { GatewayBusy } from '@long-gate/gateways';
import type { Door, Visitor } from '../../../testing/door.js';
import { campaignTable } from '../../registration/model.js';
import { Office } from '../../../testing/office.js';
import { BOTH_KINDS, heronPage } from '../../../testing/opt-in-page.js';

const ADA = '+12125550101';
const BEA = '+12125550102';
const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const LINK = new RegExp(`https://texts\\.heron\\.example(/t/[A-Za-z0-9]{${LINK_KEY_LENGTH}})(?![A-Za-z0-9*])`);

describe('links in texts', () => {
  let o: Office;
  let door: Door;
  let staff: Visitor;
  let pageId: string;
  const base = (): string => `/businesses/${o.business}/text-links`;
  const save = (over: object = {}, seen = 0) =>
    staff.ask('PUT', base(), { domain: 'texts.heron.example', pageId, ...over }, { 'if-match': `"${seen}"` });
  const send = async (title = 'News') => {
    const draft = await o.draft({ title, text: 'The rye loaf is back. Your texts: [ownPage]' });
    const { id, version } = await o.app.drafts.add(o.admin, o.business, draft);
    await o.app.sending.send(o.admin, o.business, id, version);
    await o.settle();
    // They leave at the pace of the campaign.
    await o.later(10_000);
    return id;
  };
  const linkTo = (e164: string): string => LINK.exec(o.sentTo(e164).findLast((t) => LINK.test(t)) ?? '')?.[1] ?? '';
  const came = async (): Promise<TextLinksOfDispatch[]> =>
    (await staff.ask('GET', `${base()}/dispatches`)).body['items'] as TextLinksOfDispatch[];
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
    await o.settle();
    return { status: answer.status, html: await answer.text() };
  };
  const BOTH: [string, string][] = [
    ['wish', 'choose'],
    ['purposes', 'informational'],
    ['purposes', 'promotional'],
  ];
  /** The network says what became of the last text to a phone. */
  const receipt = async (e164: string, arrived: boolean) => {
    const key = o.outside.sent.findLast((t) => t.to === e164)?.key ?? '';
    const of = { key, carrier: 'Tessary Wireless' };
    await o.hear(
      arrived
        ? { kind: 'text.delivered', ...of }
        : { kind: 'text.failed', ...of, failure: 'handset', code: '20', reason: 'Switched off.' },
    );
  };

  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    staff = await door.visitor(o.admin.id);
    await o.contact(ADA, ['informational']);
    const page = heronPage(o.number, { purposes: BOTH_KINDS });
    pageId = (await o.app.pages.add(o.admin, o.business, page)).id;
    const saved = await save();
    if (saved.status !== 200) throw new Error(JSON.stringify(saved.body));
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  it('reach the handset whole, and are kept without their key, so that nobody here opens somebody’s page', async () => {
    await send();
    expect(linkTo(ADA)).not.toBe('');
    const key = linkTo(ADA).slice('/t/'.length);
    const rows = await o.app.platform.db.all<{ text: string }>('SELECT text FROM message');
    expect(rows.map((x) => x.text)).toEqual([
      'Heron Lane: The rye loaf is back. Your texts: https://texts.heron.example/t/**************** Reply STOP to end.',
    ]);
    expect(JSON.stringify(await o.app.platform.db.all('SELECT * FROM text_link'))).not.toContain(key);
    expect((await open(linkTo(ADA))).html).toContain('the number ••• 01');
  });

  it('count as the YES of that handset for a day, and a text says what was joined', async () => {
    await send();
    await receipt(ADA, true);
    await o.later(23 * HOUR + 59 * 60_000);
    const after = await choose(linkTo(ADA), BOTH);
    expect(after.html).toContain('From now on you get offers. A text to ••• 01 says so.');
    expect(after.html).toContain('You go on getting notices.');
    expect((await o.state(ADA)).promotional).toBe('granted');
    await o.later(HOUR);
    expect(o.sentTo(ADA).at(-1)).toContain('weekly');
    expect(o.sentTo(ADA).filter((t) => /YES/.test(t))).toEqual([]);
    const events = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
    const joined = events.at(-1);
    expect(joined).toEqual(
      jasmine.objectContaining({
        kind: 'granted',
        how: 'preference page',
        awaitsConfirmation: false,
        purposes: ['promotional'],
        disclosure: jasmine.stringMatching(/Text me offers of bread.*not a condition of any purchase/),
        disclosureVersion: 'heron, version 1',
      }),
    );
    const text = await o.app.platform.db.one<{ text: string }>('SELECT text FROM message WHERE id = $1', [
      joined?.evidence['message'],
    ]);
    expect(text?.text).withContext('the text that brought the link').toContain('/t/****');
    expect((await came())[0]).toEqual(jasmine.objectContaining({ sent: 1, opened: 1, joined: 1, kept: 0, open: 0 }));
  });

  it('can be answered with to somebody who wrote, and lead to the page of that number', async () => {
    await o.text(BEA, 'How do I get the offers?');
    const at = `/businesses/${o.business}/threads/${encodeURIComponent(BEA)}`;
    const { ownPage } = (await staff.ask('GET', at)).body as unknown as { ownPage: string };
    expect(ownPage).toBe('https://texts.heron.example/t/****************');
    const sent = await staff.ask(
      'POST',
      `${at}/answers`,
      { text: `Here: ${ownPage}` },
      { 'idempotency-key': 'one-answer' },
    );
    expect(sent.body['text']).toBe(`Here: ${ownPage}`);
    await o.later(10_000);
    expect(linkTo(BEA)).not.toBe('');
    expect((await choose(linkTo(BEA), BOTH)).html).toContain('From now on you get notices and offers.');
    expect((await o.state(BEA)).promotional).toBe('granted');
    expect((await came())[0]).toEqual(jasmine.objectContaining({ dispatchId: '', sent: 1, joined: 1 }));
  });

  it('that are older than a day ask the handset, as any page does, and join by its YES', async () => {
    await send();
    await receipt(ADA, true);
    await o.later(DAY);
    const after = await choose(linkTo(ADA), BOTH);
    expect(after.html).toContain('Reply YES to it within 72 hours');
    expect((await o.state(ADA)).promotional).toBe('awaiting');
    expect((await came())[0]).toEqual(jasmine.objectContaining({ awaited: 1, joined: 0 }));
    await o.later(2 * HOUR);
    await o.text(ADA, 'YES');
    expect((await o.state(ADA)).promotional).toBe('granted');
    expect((await came())[0]).toEqual(jasmine.objectContaining({ awaited: 0, joined: 1 }));
  });

  it('of a text that did not arrive speak for no handset', async () => {
    await send();
    await receipt(ADA, false);
    expect((await choose(linkTo(ADA), BOTH)).html).toContain('Reply YES to it within 72 hours');
    expect((await o.state(ADA)).promotional).not.toBe('granted');
  });

  it('end what is no longer ticked at once, and all of it by one button', async () => {
    await o.contact(BEA, ['informational', 'promotional']);
    await send();
    await choose(linkTo(BEA), [
      ['wish', 'choose'],
      ['purposes', 'informational'],
    ]);
    expect(await o.state(BEA)).toEqual(jasmine.objectContaining({ informational: 'granted', promotional: 'revoked' }));
    await choose(linkTo(ADA), [['wish', 'leave']]);
    expect(Object.values(await o.state(ADA))).toEqual(['revoked', 'revoked', 'revoked']);
    expect((await came())[0]).toEqual(jasmine.objectContaining({ sent: 2, opened: 2, kept: 1, ended: 1 }));
  });

  it('take no other number, and what is no wish of that page ends nothing', async () => {
    await send();
    expect((await open(linkTo(ADA))).html).not.toContain('name="phone"');
    const after = await choose(linkTo(ADA), [
      ['wish', 'number'],
      ['phone', '212 555 0199'],
    ]);
    expect(after.status).toBe(422);
    expect((await o.state(ADA)).informational).toBe('granted');
  });

  it('are one link a text, also where the answer of the network was lost and it leaves again', async () => {
    o.outside.lostLots = 1;
    o.outside.nextSend = null;
    await send();
    await o.later(HOUR);
    const links = new Set(o.sentTo(ADA).map((t) => LINK.exec(t)?.[1]));
    expect(links.size).toBe(1);
    expect((await came())[0]?.sent).toBe(1);
  });

  it('are taken back for a dispatch where nobody answered, and are over after thirty days: what is said is what a made-up one says', async () => {
    await o.contact(BEA, ['informational']);
    const id = await send();
    await choose(linkTo(BEA), [
      ['wish', 'choose'],
      ['purposes', 'informational'],
    ]);
    const madeUp = await open(`/t/${'A'.repeat(LINK_KEY_LENGTH)}`);
    expect(madeUp.status).toBe(404);
    const taken = await staff.ask('POST', `${base()}/withdrawals`, { dispatchId: id });
    expect(taken.body).toEqual(jasmine.objectContaining({ withdrawn: 1 }));
    const strip = (html: string): string => html.replace(/nonce="[^"]*"/g, '');
    expect(strip((await open(linkTo(ADA))).html)).toBe(strip(madeUp.html));
    expect((await open(linkTo(BEA))).status)
      .withContext('answered: it is still theirs')
      .toBe(200);
    expect((await staff.ask('POST', `${base()}/withdrawals`, { dispatchId: id })).status).toBe(409);
    await o.later(30 * DAY);
    expect((await open(linkTo(BEA))).status).toBe(404);
  });

  it('have their key on a domain of the business alone, also one it had when the text was written', async () => {
    const draft = await o.draft({ text: 'Look: https://prying.example/t/****************' });
    const { id, version } = await o.app.drafts.add(o.admin, o.business, draft);
    await o.app.sending.send(o.admin, o.business, id, version);
    await o.later(10_000);
    expect(o.sentTo(ADA)[0]).toContain('https://prying.example/t/****************');
    // Written with the first domain, and held until after it was changed.
    o.outside.always = () => new GatewayBusy('Later.', 60_000);
    await send();
    await save({ domain: 't.heron.example' }, 1);
    o.outside.always = null;
    await o.later(HOUR);
    expect(o.sentTo(ADA).at(-1)).toMatch(/texts\.heron\.example\/t\/[A-Za-z0-9]{16} /);
    await send();
    expect(o.sentTo(ADA).at(-1)).toMatch(/\/t\.heron\.example\/t\/[A-Za-z0-9]{16} /);
  });

  it('cannot be written before somebody says where they stand, nor from a campaign that declares no links', async () => {
    const draft = await o.draft({ text: 'Yours: [ownPage]' });
    const said = async () => (await o.app.preview.preview(o.business, draft)).findings.map((f) => f.code);
    expect(await said()).toEqual([]);
    await o.app.platform.db.write((w) => w.run('DELETE FROM text_link_policy'));
    expect(await said()).toEqual(['own-page-not-set-up']);
    const { id, version } = await o.app.drafts.add(o.admin, o.business, draft);
    await expectAsync(o.app.sending.send(o.admin, o.business, id, version)).toBeRejectedWithError(
      /Consent, Links in texts/,
    );
    await save();
    await o.app.platform.db.write(async (w) => {
      const campaign = await w.of(campaignTable).findByPk(o.campaign, { rejectOnEmpty: true });
      await campaign.update({ body: { ...campaign.body, hasLinks: false } });
    });
    expect(await said()).toEqual(['link-undeclared-by-campaign']);
  });

  it('stand on a domain of the business that networks let through; a change is on the trail, and of what was seen', async () => {
    const refused = await save({ domain: 'lnk.example' }, 1);
    expect(refused.status).toBe(422);
    expect(refused.body['fields']).toEqual([
      { field: 'domain', message: jasmine.stringContaining('many senders share') },
    ]);
    expect((await save({ pageId: 'pag_nobody' }, 1)).status).toBe(422);
    expect((await save({ domain: 'https://T.heron.example/' }, 0)).status)
      .withContext('seen before the change')
      .toBe(412);
    expect((await save({ domain: 'https://T.heron.example/' }, 1)).body).toEqual(
      jasmine.objectContaining({ domain: 't.heron.example', version: 2 }),
    );
    const trail = await o.app.platform.db.all<{ action: string; after: string }>(
      `SELECT action, after FROM audit WHERE action = 'links in texts changed' ORDER BY n`,
    );
    expect(trail.map((x) => JSON.parse(x.after) as unknown)).toEqual([
      { domain: 'texts.heron.example', pageId },
      { domain: 't.heron.example', pageId },
    ]);
  });

  it('go with a person who is erased, and what is counted is what there is', async () => {
    const contactId = await o.contact(BEA, ['informational']);
    await send();
    await open(linkTo(BEA));
    await choose(linkTo(ADA), [['wish', 'answers']]);
    const link = linkTo(BEA);
    await o.app.removals.erase(o.admin, o.business, contactId, 'Asked by e-mail on 12 March, ticket 41.');
    await o.settle();
    expect((await open(link)).status).toBe(404);
    expect((await came())[0]).toEqual(jasmine.objectContaining({ sent: 1, opened: 1, ended: 1 }));
    expect(await o.miscounted()).toEqual({});
    const ada = await o.app.contacts.byAddress(o.app.platform.db, o.business, ADA);
    await o.app.removals.erase(o.admin, o.business, ada?.contactId ?? '', 'Asked by e-mail on 13 March, ticket 42.');
    await o.settle();
    expect(await came())
      .withContext('of a dispatch none of whose links is left')
      .toEqual([]);
    expect(await o.miscounted()).toEqual({});
  });

  it('of a text that was not taken at first left when it did leave', async () => {
    o.outside.always = () => new GatewayBusy('Later.', HOUR / 2);
    await send();
    o.outside.always = null;
    const [first] = await came();
    await o.later(HOUR);
    expect(o.sentTo(ADA).length).toBe(1);
    const [then] = await came();
    expect([(then?.lastAt ?? '') > (first?.lastAt ?? ''), then?.sent]).toEqual([true, 1]);
    expect(await o.miscounted()).toEqual({});
  });
});
