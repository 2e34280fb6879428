import { DEFAULT_PRICES, REASONS, type ReasonCode } from '@long-gate/core';
import { GatewayBusy, GatewayDown } from '@long-gate/gateways';
import { campaignTable } from '../registration/model.js';
import { Office } from '../../testing/office.js';
import { LIFTS } from './sending.js';

const MINUTE = 60_000;

describe('handing texts over', () => {
  let o: Office;
  const people = Array.from({ length: 8 }, (_, i) => `+1212555${String(200 + i).padStart(4, '0')}`);

  beforeEach(async () => {
    o = await Office.open();
    for (const e164 of people) await o.contact(e164, ['informational', 'promotional']);
  });
  afterEach(() => o.close());

  const vetted = (): Promise<void> =>
    o.app.platform.db.write((w) =>
      w.run(`UPDATE brand SET score = 90, state = 'registered' WHERE business_id = $1`, [o.business]),
    );
  async function send(over: Parameters<Office['draft']>[0] = {}): Promise<string> {
    const d = await o.app.drafts.add(o.admin, o.business, await o.draft(over));
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    return d.id;
  }
  const counts = async (id: string): Promise<Record<string, number>> => (await o.app.drafts.get(o.business, id)).counts;
  const stop = (e164: string): void => {
    o.outside.told.push({
      seq: o.outside.told.length + 1,
      at: o.now,
      kind: 'text.inbound',
      key: `s${o.outside.told.length}`,
      from: e164,
      to: o.ours,
      text: 'STOP',
    });
  };

  it('reads what came in before anything leaves, and nothing leaves while it cannot be read', async () => {
    await vetted();
    await send();
    o.outside.down = true;
    await o.settle();
    expect(o.outside.sent.length).toBe(0);
    for (const e164 of people.slice(0, 3)) stop(e164);
    o.outside.down = false;
    await o.later(5_000);
    for (const e164 of people.slice(0, 3))
      expect(o.sentTo(e164).filter((t) => t.includes('rye')).length)
        .withContext(e164)
        .toBe(0);
    expect(o.outside.sent.filter((t) => t.text.includes('rye')).length).toBe(5);
  });

  it('calls back what was judged but has not gone out, when somebody says no in between', async () => {
    await vetted();
    const id = await send();
    // While the first text is being taken, everybody else texts STOP, and it is read.
    let once = true;
    let read: Promise<unknown> = Promise.resolve();
    o.outside.beforeSend = async (text) => {
      if (!once) return;
      once = false;
      for (const e164 of people.filter((p) => p !== text.to)) stop(e164);
      read = o.app.platform.feed.dry();
      await read;
    };
    await o.settle();
    await read;
    await o.later(5_000);
    const left = o.outside.sent.filter((t) => t.text.includes('rye'));
    // Sixteen go side by side: whoever was in the air already is refused by the network, as unread.
    expect(left.length).toBe(1);
    expect(await counts(id)).toEqual({ sent: 1, stopped: 7 });
  });

  it('says that a dispatch is cancelled when nothing of it is in the air, and lets nothing go that had not gone out', async () => {
    await vetted();
    for (let i = 0; i < 24; i++) await o.contact(`+12125550${300 + i}`, ['informational']);
    const id = await send();
    let cancelled: Promise<unknown> | null = null;
    let leftWhenSaid = -1;
    o.outside.beforeSend = async () => {
      cancelled ??= o.app.sending.cancel(o.admin, o.business, id).then(() => (leftWhenSaid = o.outside.sent.length));
      await new Promise((r) => setTimeout(r, 60));
    };
    // As in a jump of the clock: a second's worth is judged in one round, more than go side by side.
    o.app.platform.engine.stride = 1000;
    await o.settle();
    await (cancelled as Promise<unknown> | null);
    await o.later(10_000);
    // Sixteen were in the air at most; the rest had been judged and were called back.
    expect(leftWhenSaid).toBeLessThanOrEqual(16);
    expect(o.outside.sent.length).toBe(leftWhenSaid);
    expect((await counts(id))['cancelled']).toBe(32 - leftWhenSaid);
  });

  it('asks by key for a whole lot whose answer was lost, and sends none of it again', async () => {
    await vetted();
    const id = await send();
    o.outside.lostLots = 1;
    const before = (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
    await o.settle();
    expect((await counts(id))['unsure']).toBeGreaterThan(0);
    await o.later(10_000);
    expect(await counts(id)).toEqual({ sent: 8 });
    for (const e164 of people) expect(o.sentTo(e164).length).withContext(e164).toBe(1);
    const after = (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
    const segments = o.outside.sent.reduce((n, t) => n + t.segments, 0);
    expect(before - after)
      .withContext('each paid once')
      .toBe(segments * DEFAULT_PRICES.segment);
  });

  it('goes on where somebody was deleted while a text to them was on its way', async () => {
    await vetted();
    const id = await send();
    o.outside.lostLots = 1;
    await o.settle();
    expect((await counts(id))['unsure']).toBeGreaterThan(0);
    const ids = (await o.app.contacts.page(o.business, {}, undefined, 10)).items.slice(0, 3).map((c) => c.id);
    await o.app.removals.delete(o.admin, o.business, { ids, filter: null, seen: 3 }, 'gone-meanwhile');
    await o.settle();
    await o.later(10_000);
    expect(await counts(id)).toEqual({ sent: 8 });
    const next = await send({ title: 'Next' });
    await o.later(10_000);
    expect(await counts(next)).toEqual({ sent: 5 });
  });

  for (const lost of [false, true])
    it(`goes on where what became of one text cannot be written${lost ? ', also where it was asked for' : ''}`, async () => {
      await vetted();
      const { contacts, platform } = o.app;
      const noted = contacts.noteSent.bind(contacts);
      const bad = await platform.db.one<{ id: number }>('SELECT id FROM contact_number WHERE e164 = $1', [people[2]]);
      const spy = spyOn(contacts, 'noteSent').and.callFake((w, sent) =>
        sent.some((x) => x.numberRow === bad?.id) ? Promise.reject(new Error('no such row')) : noted(w, sent),
      );
      if (lost) o.outside.lostLots = 1;
      const id = await send();
      await o.later(20_000);
      expect(await counts(id)).toEqual({ sent: 7, [lost ? 'unsure' : 'leaving']: 1 });
      await o.text(people[0] ?? '', 'STOP');
      expect(o.sentTo(people[0] ?? '').at(-1)).toContain('you are out');
      // Once it can be, it is, and nobody got it twice.
      spy.and.callFake(noted);
      await o.later(70_000);
      expect(await counts(id)).toEqual({ sent: 8 });
      for (const e164 of people) expect(o.sentTo(e164).filter((t) => t.includes('rye')).length).toBe(1);
    });

  it('tries a lot again later where the network is busy, and has paid nothing meanwhile', async () => {
    await vetted();
    const id = await send();
    o.outside.busyLots = 1;
    const before = (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
    await o.settle();
    expect(o.outside.sent.length).toBe(0);
    expect((await o.app.businesses.row(o.app.platform.db, o.business)).balance).toBe(before);
    await o.later(10_000);
    expect(await counts(id)).toEqual({ sent: 8 });
    for (const e164 of people) expect(o.sentTo(e164).length).withContext(e164).toBe(1);
  });

  it('asks by key where it is unsure, and sends nothing twice and nothing blindly', async () => {
    await vetted();
    const id = await send();
    o.outside.always = () => new GatewayDown('no answer');
    await o.settle();
    expect(await counts(id)).toEqual({ unsure: 8 });
    await o.app.sending.cancel(o.admin, o.business, id);
    o.outside.always = null;
    await o.later(10_000);
    expect(o.outside.sent.length).withContext('the network had none, and nobody wants them now').toBe(0);
    expect(await counts(id)).toEqual({ cancelled: 8 });
    const b = await o.app.businesses.row(o.app.platform.db, o.business);
    expect(b.balance).toBe(50_000_000);
  });

  it('lets the confirmation of an opt-out go within five minutes or not at all, and wait behind nothing', async () => {
    const [ada = '', bea = ''] = people;
    await send();
    await o.text(ada, 'STOP');
    expect(o.sentTo(ada).filter((t) => t.includes('no more texts')).length)
      .withContext('behind a paced dispatch')
      .toBe(1);
    o.outside.always = () => new GatewayBusy('full', MINUTE);
    await o.text(bea, 'STOP');
    await o.later(5 * MINUTE + 1000);
    o.outside.always = null;
    await o.later(10 * MINUTE);
    expect(o.sentTo(bea).filter((t) => t.includes('no more texts')).length).toBe(0);
  });

  it('does not hold a jump of the clock for as long as a dispatch lasts: what is paced leaves as far as the jump goes', async () => {
    for (let i = 0; i < 192; i++)
      await o.contact(`+1646555${String(i).padStart(4, '0')}`, ['informational', 'promotional']);
    await vetted();
    await send();
    // While a lot is handed over, more comes free.
    o.outside.beforeSend = () => new Promise((r) => setTimeout(r, 3));
    const { engine } = o.app.platform;
    engine.jump(o.now + 1_000);
    await engine.settled();
    const left = o.outside.sent.length;
    expect(left).toBeGreaterThan(0);
    expect(left).withContext('of two hundred, at seventy-five a second').toBeLessThan(180);
    await o.later(10_000);
    expect(o.outside.sent.length).toBe(200);
  });

  it('keeps one pace for a campaign, whatever dispatches and answers it is made of, and after an outage too', async () => {
    await send({ title: 'One' });
    await send({ title: 'Two', text: 'The spelt loaf is back.' });
    // An unvetted brand: four segments a second for the campaign.
    await o.later(2_000);
    expect(o.outside.sent.length).toBeLessThanOrEqual(9);
    o.outside.down = true;
    await o.later(60_000);
    o.outside.down = false;
    const before = o.outside.sent.length;
    await o.later(1_000);
    expect(o.outside.sent.length - before)
      .withContext('the backlog goes at the pace')
      .toBeLessThanOrEqual(5);
    await o.later(10_000);
    expect(o.outside.sent.length).toBe(16);
  });

  it('counts a brand’s day over all its dispatches, and gives back what the network did not take', async () => {
    await vetted();
    const { db } = o.app.platform;
    await db.write((w) => w.run(`UPDATE contact_number SET carrier_kind = 'B', carrier = 'Nimbrel Mobile'`));
    const used = async (): Promise<number> =>
      (await db.one<{ n: number }>(`SELECT coalesce(sum(segments), 0) AS n FROM day_use`))?.n ?? 0;
    await send();
    o.outside.always = () => new GatewayBusy('full', 1000);
    await o.settle();
    expect(await used()).toBe(0);
    o.outside.always = null;
    await o.later(30_000);
    expect(await used()).toBe(8);
    await db.write((w) => w.run(`UPDATE day_use SET segments = 200000`));
    const id = await send({ title: 'More' });
    await o.later(5_000);
    expect(await counts(id)).toEqual({ held: 8 });
  });

  it('knows for every hold without a moment of its own what lifts it', async () => {
    const byTime: ReasonCode[] = ['frequency-cap', 'outside-hours', 'daily-cap'];
    const lifted = LIFTS.flatMap(([, reasons]) => reasons);
    const { judge, DEFAULT_HOURS } = await import('@long-gate/core');
    const rules = {
      at: o.now,
      hours: DEFAULT_HOURS,
      openCountries: ['US'],
      transactionalAnyHour: false,
      segmentPrice: 7000,
    };
    // Every answer the judge can give as a hold is among those it gives for some subject: tried over all of them.
    const holds = new Set<ReasonCode>();
    const base = (await o.app.texts.subject(o.app.platform.db, o.business, people[0] ?? '', o.number)).subject;
    const facts = o.app.texts.facts(await o.app.numbers.sender(o.app.platform.db, o.business, o.number), 'Heron Lane', {
      kind: 'dispatch',
      purpose: 'promotional',
      text: 'Heron Lane: bread. Reply STOP to end.',
    });
    const consents = [
      'granted',
      'awaiting',
      'disputed',
      'none',
      'unproven',
      'lapsed',
      'declined',
      'expired',
      'voided',
    ] as const;
    for (const over of [
      { lookedUp: false },
      { textable: 'unknown' as const },
      { reachable: false },
      { faultsInReview: true },
      { wishInReview: true },
      { promotionalCapUntil: o.now + 1000 },
      { states: 'XX', zones: 'Pacific/Auckland' },
      { carrierKind: 'B' as const },
      ...consents.map((promotional) => ({ consent: { ...base.consent, promotional } })),
    ])
      for (const f of [
        {},
        { textsOff: true },
        ...(['number-not-active', 'registration-pending', 'number-not-tied', 'no-number'] as const).map(
          (clearance) => ({ clearance }),
        ),
      ])
        for (const allowance of [
          { balance: 0, dailySegments: 0 },
          { balance: 1e9, dailySegments: 0 },
          { balance: 1e9, dailySegments: 9 },
        ])
          for (const a of judge({ ...base, ...over }, { ...facts, ...f }, rules, allowance).answers)
            if (a.result === 'hold' && a.reason) holds.add(a.reason);
    expect(holds.size).toBeGreaterThan(9);
    for (const reason of holds)
      expect(byTime.includes(reason) || lifted.includes(reason))
        .withContext(`${reason}: ${REASONS[reason].lift}`)
        .toBe(true);
  });

  it('holds a number after three faults, and its review ends that either way', async () => {
    const [ada = ''] = people;
    const { db } = o.app.platform;
    const fault = async (): Promise<void> => {
      await o.later(25 * 60 * MINUTE);
      await send();
      await o.later(5_000);
      const key = o.outside.sent.filter((t) => t.to === ada).at(-1)?.key ?? '';
      await o.hear({ kind: 'text.failed', key, carrier: '', failure: 'passing-fault', code: '41', reason: 'Away.' });
    };
    for (let i = 0; i < 3; i++) await fault();
    const id = await send();
    await o.later(5_000);
    expect(await counts(id)).toEqual({ sent: 7, held: 1 });
    await o.app.contacts.decideFaults(o.admin, o.business, ada, true);
    await o.later(5_000);
    expect(await counts(id)).toEqual({ sent: 8 });
    await fault();
    expect((await db.one('SELECT 1 AS n FROM contact_number WHERE e164 = $1 AND faults_in_review', [ada])) ?? null)
      .withContext('faults that were looked at count no more')
      .toBeNull();
    await expectAsync(o.app.contacts.decideFaults(o.admin, o.business, ada, false)).toBeRejectedWith(
      jasmine.objectContaining({ status: 404 }),
    );
  });

  describe('words that deny their purpose', () => {
    const offer = { text: 'Rye bread is 20% off today.', purpose: 'informational' as const };
    const why = 'The price the court ordered us to announce.';
    it('are stopped at the eighth post, in preview and sending alike', async () => {
      const p = await o.app.preview.preview(o.business, await o.draft(offer));
      expect([p.counts.pass, p.counts.posts[7]?.stop]).toEqual([0, 8]);
      expect(p.counts.posts[7]?.reasons[0]?.reason).toBe('words-promotional');
      await expectAsync(send(offer)).toBeRejectedWith(jasmine.objectContaining({ code: 'findings' }));
    });
    it('go with an administrator’s written reason, which is kept, and with nobody else’s', async () => {
      const coordinator = { ...o.admin, id: 'usr_c', name: 'Tobiah', roles: { [o.business]: 'coordinator' as const } };
      const draft = await o.draft({ ...offer, override: why });
      await expectAsync(o.app.drafts.add(coordinator, o.business, draft)).toBeRejectedWith(
        jasmine.objectContaining({ status: 403 }),
      );
      const d = await o.app.drafts.add(o.admin, o.business, draft);
      expect([d.override, d.overrideBy]).toEqual([why, o.admin.name]);
      // A coordinator may go on writing the rest, but not put other words under the same reason.
      const title = await o.app.drafts.save(coordinator, o.business, d.id, d.version, { ...draft, title: 'Price' });
      expect(title.overrideBy).toBe(o.admin.name);
      await expectAsync(
        o.app.drafts.save(coordinator, o.business, d.id, title.version, { ...draft, text: 'All bread is half-price.' }),
      ).toBeRejectedWith(jasmine.objectContaining({ status: 403 }));
      await o.app.sending.send(o.admin, o.business, d.id, title.version);
      await o.later(10_000);
      expect(await counts(d.id)).toEqual({ sent: 8 });
    });
    it('do not go out as an answer to somebody who never agreed to offers', async () => {
      const stranger = '+12125550290';
      await o.text(stranger, 'Are you open?');
      await expectAsync(
        o.app.inbox.answer(o.admin, o.business, stranger, 'Yes, and everything is 20% off!', 'key-1'),
      ).toBeRejectedWith(jasmine.objectContaining({ code: 'gate' }));
      await expectAsync(o.app.inbox.answer(o.admin, o.business, stranger, 'Yes: bit.ly/3x', 'key-2')).toBeRejectedWith(
        jasmine.objectContaining({ code: 'gate' }),
      );
      await o.app.inbox.answer(o.admin, o.business, stranger, 'Yes, until six.', 'key-3');
      await o.later(2_000);
      expect(o.sentTo(stranger)).toEqual(['Yes, until six.']);
    });
    it('belong to the use the campaign is registered for', async () => {
      await o.app.platform.db.write(async (w) => {
        const campaign = await w.of(campaignTable).findByPk(o.campaign, { rejectOnEmpty: true });
        await campaign.update({ body: { ...campaign.body, useCase: 'account-notification' } });
      });
      const p = await o.app.preview.preview(
        o.business,
        await o.draft({ text: 'Shop now: 20% off.', purpose: 'promotional' }),
      );
      expect(p.counts.posts[7]?.reasons[0]?.reason).toBe('other-use');
      expect(p.findings.map((f) => f.code)).toContain('use-not-registered');
    });
  });
});
