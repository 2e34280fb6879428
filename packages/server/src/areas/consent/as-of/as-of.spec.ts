import { randomUUID } from 'node:crypto';
import type { AskedThen } from '@long-gate/contracts';
import { judge, type LineType, type Verdict } from '@long-gate/core';
import { Seeded } from '../../../demo/random.js';
import { Office } from '../../../testing/office.js';

const ADA = '+12125550110';
const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const MINUTE = 60_000;
/** A text is handed over within so long of its verdict. */
const HANDED_OVER_WITHIN = 3_000;

describe('as of a day', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const ask = async (q: Partial<Parameters<typeof o.app.asOf.ask>[1]>): Promise<AskedThen> => {
    const { asked } = await o.app.asOf.ask(o.business, { e164: ADA, numberId: o.number, ...q });
    if (!asked) throw new Error('Nothing was asked.');
    return asked;
  };
  const said = ({ then, now }: AskedThen) => [then, now].map((x) => x.why || x.result);
  const offer = { words: 'Rye bread from $4 this week.', purpose: 'promotional' as const };
  const notice = { words: 'Your loaf is ready.', purpose: 'informational' as const };
  const send = async (title: string, over: Parameters<typeof o.draft>[0] = {}): Promise<string> => {
    const d = await o.app.drafts.add(o.admin, o.business, await o.draft({ title, ...over }));
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    await o.settle();
    await o.later(MINUTE);
    return d.id;
  };

  it('says by the ledger of then what would have passed, and what would now', async () => {
    await o.contact(ADA, ['informational']);
    await o.later(HOUR);
    const before = o.now;
    await o.later(HOUR);
    await o.text(ADA, 'STOP');
    await o.later(HOUR);
    const left = await ask({ ...notice, at: before });
    expect(said(left)).toEqual(['pass', 'opted out']);
    expect([left.then.stood.consent.informational.state, left.now.stood.consent.informational.state]).toEqual([
      'granted',
      'revoked',
    ]);
    expect(said(await ask({ ...offer, at: before }))).toEqual(['never agreed to this kind of text', 'opted out']);
  });

  it('knows what the number was taken for, where we stood and which hours it was', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    await o.later(MINUTE);
    const mobile = o.now;
    await o.later(MINUTE);
    const { db } = o.app.platform;
    await db.write((w) =>
      o.app.contacts.storeLookup(w, o.business, [
        { e164: ADA, lineType: 'landline', carrier: 'Old Copper', carrierKind: 'A', reachable: true, askedAt: o.now },
      ]),
    );
    await o.later(MINUTE);
    const landline = o.now;
    await o.app.businesses.switchTexts(o.admin, o.business, true);
    await o.later(MINUTE);
    const off = o.now;
    // What happens in the same millisecond has happened.
    await o.later(1000);
    await o.app.businesses.switchTexts(o.admin, o.business, false);
    await o.app.ties.tie(o.admin, o.business, o.number, null);
    await o.later(10 * HOUR);
    expect(said(await ask({ ...offer, at: mobile }))).toEqual(['pass', 'texts do not reach this line']);
    const lines = [mobile, landline].map(async (at) => (await ask({ ...offer, at })).then.stood);
    expect((await Promise.all(lines)).map((s) => [s.lineType, s.carrier])).toEqual([
      ['mobile', 'Tessary Wireless'],
      ['landline', 'Old Copper'],
    ]);
    const at = async (moment: number, post: number) =>
      (await ask({ ...notice, at: moment })).then.answers.find((a) => a.post === post)?.reason ?? 'pass';
    expect([await at(landline, 3), await at(mobile, 7), await at(off, 7), await at(o.now, 7)]).toEqual([
      'not-textable',
      'pass',
      'texts-switched-off',
      'number-not-tied',
    ]);
    expect([await at(mobile, 10), await at(o.now, 10)]).toEqual(['pass', 'outside-hours']);
  });

  it('tells what was recorded later of the time before, and what the gate would have said had it known', async () => {
    await o.contact(ADA, ['promotional']);
    await o.later(HOUR);
    const at = o.now;
    await o.later(DAY);
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(w, o.business, [
        { e164: ADA, purposes: ['promotional'], kind: 'revoked', how: 'phone call', happenedAt: at - 10 * MINUTE },
      ]),
    );
    const asked = await ask({ ...offer, at });
    expect(said(asked)).toEqual(['pass', 'opted out']);
    expect(asked.later?.events.map((e) => [e.kind, e.happenedAt])).toEqual([['revoked', at - 10 * MINUTE]]);
    expect(asked.later?.verdict.reason).toBe('opted-out');
    expect((await ask({ ...offer, at: at - 20 * MINUTE })).later).toBeNull();
  });

  it('takes a text as it left, at the moment it left, with what the gate said then', async () => {
    await o.contact(ADA, ['informational', 'promotional'], { firstName: 'Ada' });
    const id = await send('News', { text: 'Hello [firstName|friend], the rye loaf is back.', purpose: 'promotional' });
    const { texts } = await o.app.asOf.ask(o.business, { e164: ADA });
    expect(texts.map((t) => [t.state, t.words])).toEqual([['sent', jasmine.stringContaining('Hello Ada')]]);
    await o.text(ADA, 'STOP');
    const asked = await ask({ text: texts[0]?.id ?? '' });
    expect([asked.kept?.left, asked.then.at === asked.kept?.at, asked.text.dispatch?.id]).toEqual([true, true, id]);
    expect(said(asked)).toEqual(['pass', 'opted out']);
    // It was the first from this number, and is not any more.
    expect([asked.then.stood.firstText, asked.now.stood.firstText]).toEqual([true, false]);
  });

  it('knows what was left to spend at any moment, also between texts that stand under one charge', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    await o.text(ADA, 'Are you open on Sunday?');
    const then: { at: number; balance: number }[] = [];
    const note = async (): Promise<void> => {
      await o.later(MINUTE);
      const { balance } = await o.app.businesses.row(o.app.platform.db, o.business);
      then.push({ at: o.now, balance });
      await o.later(MINUTE);
    };
    const answer = async (words: string): Promise<void> => {
      await o.app.inbox.answer(o.admin, o.business, ADA, words, randomUUID());
      await o.settle();
      await note();
    };
    await note();
    await answer('We are, from eight.');
    await answer('Until noon.');
    await o.app.businesses.topUp(o.admin, o.business, 10_000_000, 'between');
    await answer('There are rolls.');
    await answer('And rye bread.');
    await o.later(DAY);
    await o.text(ADA, 'And on Monday?');
    await answer('On Monday too.');
    expect(new Set(then.map((x) => x.balance)).size).toBe(then.length);
    for (const { at, balance } of then)
      expect((await ask({ ...notice, at })).then.stood.balance)
        .withContext(new Date(at).toISOString())
        .toBe(balance);
  });

  it('counts what had been sent by then: offers of a day, the last way out, what was left to spend', async () => {
    await o.contact(ADA, ['informational', 'promotional']);
    const at: number[] = [];
    for (let i = 0; i < 4; i++) {
      at.push(o.now);
      await o.later(MINUTE);
      await send(`Offer ${i}`, { text: 'Rye bread from $4 this week.', purpose: 'promotional' });
    }
    const capped = at.map(async (moment) => (await ask({ ...offer, at: moment })).then);
    expect((await Promise.all(capped)).map((x) => x.reason)).toEqual([null, null, null, 'frequency-cap']);
    const third = o.sentTo(ADA).length;
    expect(third).toBe(3);
    const [, , , fourth] = await Promise.all(capped);
    const left = (await o.app.asOf.ask(o.business, { e164: ADA })).texts
      .filter((t) => t.state === 'sent')
      .map((t) => t.at);
    expect(fourth?.stood.solicitedUntil).toBe(Math.min(...left) + DAY + HANDED_OVER_WITHIN);

    // What each had cost is off the balance from the moment it left, though an entry has the whole of a day.
    const balances = await Promise.all(
      at.map(async (moment) => (await ask({ ...offer, at: moment })).then.stood.balance),
    );
    const steps = balances.map((b, i) => (balances[i - 1] ?? b) - b);
    expect(steps[1]).toBeGreaterThan(0);
    expect(steps).toEqual([0, steps[1], steps[1], steps[1]] as number[]);

    const bare = { ...notice, stopLine: 'no' as const };
    const soon = o.now;
    await o.later(31 * DAY);
    const due = o.now;
    await send('With the way out', {});
    await o.later(HOUR);
    expect([
      (await ask({ ...bare, at: soon })).then.stood.stopLineDue,
      (await ask({ ...bare, at: due })).then.reason,
      (await ask({ ...bare, at: o.now })).then.stood.stopLineDue,
    ]).toEqual([false, 'stop-line-due', false]);
  });

  it('knows what networks that cap a brand’s day had taken of it by then', async () => {
    await o.contact(ADA, ['informational']);
    await o.app.platform.db.write((w) => w.run(`UPDATE contact_number SET carrier_kind = 'B'`, []));
    const before = o.now;
    await o.later(MINUTE);
    await send('News');
    const after = o.now;
    await o.later(DAY);
    const days = [before, after, o.now].map(async (at) => (await ask({ ...notice, at })).then.stood.dailySegments);
    expect(await Promise.all(days)).toEqual([2000, 1999, 2000]);
  });

  it('refuses what is still to come, what was before the business, no number, and somebody else’s text', async () => {
    await o.contact(ADA, ['informational']);
    await send('News');
    const [text] = (await o.app.asOf.ask(o.business, { e164: ADA })).texts;
    await expectAsync(ask({ ...notice, at: o.now + HOUR })).toBeRejectedWithError(/still to come/);
    await expectAsync(ask({ ...notice, at: 1000 })).toBeRejectedWithError(/no account of this business/);
    await expectAsync(ask({ e164: 'nobody' })).toBeRejectedWithError(/number|digit/i);
    await expectAsync(ask({ e164: '+12125550111', text: text?.id ?? '' })).toBeRejectedWithError(/text to this number/);
  });

  it('says of a number that nobody knew then that it was unknown', async () => {
    const at = o.now;
    await o.later(HOUR);
    await o.contact(ADA, ['informational']);
    const asked = await ask({ ...notice, at });
    expect([asked.then.stood.contact, asked.now.stood.contact, asked.then.result]).toEqual([false, true, 'stop']);
    expect(asked.unknown.join()).toContain('no contact’s here at that moment');
  });

  // What the gate said at each moment of a random history is what is answered of that moment afterwards, post by post.
  for (const seed of ['wren', 'tern', 'gull', 'rail'])
    it(`answers what the gate said then, whatever happened (${seed})`, async () => {
      const random = new Seeded(`as of ${seed}`);
      const { db, clock } = o.app.platform;
      const people = Array.from({ length: 4 }, (_, i) => `+1212555${String(110 + i).padStart(4, '0')}`);
      for (const e164 of people)
        await o.contact(e164, random.pick([[], ['informational'], ['informational', 'promotional']]));
      const lookup = (e164: string): Promise<void> =>
        db.write((w) =>
          o.app.contacts.storeLookup(w, o.business, [
            {
              e164,
              lineType: random.pick<LineType>(['mobile', 'mobile', 'landline', 'voip', 'none']),
              carrier: 'Tessary Wireless',
              carrierKind: random.pick(['A', 'B', 'C'] as const),
              reachable: random.chance(0.8),
              askedAt: clock.now(),
            },
          ]),
        );
      const say = (e164: string, kind: 'granted' | 'revoked' | 'disputed' | 'voided' | 'expired'): Promise<unknown> =>
        db.write((w) =>
          o.app.ledger.append(w, o.business, [
            {
              e164,
              purposes: random
                .pick([['informational'], ['promotional'], ['informational', 'promotional']] as const)
                .slice(),
              kind,
              how: 'paper form',
              disclosure: 'Text me.',
              happenedAt: clock.now() - random.int(0, 3) * HOUR,
            },
          ]),
        );
      const acts: ((e164: string) => Promise<unknown>)[] = [
        lookup,
        (e164) => say(e164, random.pick(['granted', 'granted', 'revoked', 'disputed', 'voided', 'expired'] as const)),
        (e164) => say(e164, 'granted'),
        (e164) => o.text(e164, random.pick(['STOP', 'START', 'hello', 'Is the shop open?', 'HELP', 'do not text me'])),
        () => o.app.businesses.switchTexts(o.admin, o.business, random.chance(0.3)),
        () => o.app.ties.tie(o.admin, o.business, o.number, random.chance(0.7) ? o.campaign : null),
        () => o.editBusiness({ transactionalAnyHour: random.chance(0.5) }),
        () => o.hear({ kind: 'campaign.suspended', key: `${o.campaign}:1`, reasons: [] }),
        () => o.hear({ kind: 'campaign.reinstated', key: `${o.campaign}:1` }),
        (e164) =>
          db.write((w) =>
            o.app.contacts.learnTrouble(
              w,
              o.business,
              [{ e164, carrier: '', detail: 'said so' }],
              random.pick(['passing-fault', 'out-of-service', 'not-textable'] as const),
              clock.now(),
            ),
          ),
        () =>
          db.write((w) =>
            w.run(`UPDATE business SET account_state = $1`, [random.pick(['open', 'open', 'restricted'])]),
          ),
        (e164) =>
          db.write((w) =>
            w.run(`UPDATE contact_number SET suppression = $2 WHERE e164 = $1`, [
              e164,
              random.pick(['none', 'solicitations']),
            ]),
          ),
        () => send(`Dispatch ${clock.now()}`, { text: 'Rye bread from $4 this week.', purpose: 'promotional' }),
        () => send(`Dispatch ${clock.now()}`, {}),
        (e164) =>
          db.write((w) =>
            o.app.texts.queue(w, {
              id: `one-${clock.now()}`,
              businessId: o.business,
              kind: 'answer',
              purpose: 'conversational',
              numberId: o.number,
              e164,
              text: 'We open at eight.',
              sentBy: 'Wren Holloway',
            }),
          ),
      ];
      const heard: { e164: string; at: number; q: object; verdict: Verdict }[] = [];
      for (let step = 0; step < 45; step++) {
        // What is refused (a tie to a suspended campaign) is no part of the history.
        await random
          .pick(acts)(random.pick(people))
          .catch(() => null);
        await o.settle();
        await o.later(random.pick([2000, MINUTE, 20 * MINUTE, 3 * HOUR, 9 * HOUR, 26 * HOUR]));
        const e164 = random.pick(people);
        const q = random.pick([
          offer,
          notice,
          { ...notice, transactional: 'yes' as const },
          { words: 'We open at eight.', kind: 'answer' as const },
        ]);
        const at = clock.now();
        const written = {
          text: q.words,
          purpose: 'purpose' in q ? q.purpose : ('conversational' as const),
          transactional: 'transactional' in q,
        };
        if ('kind' in q) {
          const { subject: _, ...verdict } = await o.app.texts.judgeOne(db, {
            businessId: o.business,
            kind: 'answer',
            purpose: 'conversational',
            numberId: o.number,
            e164,
            text: q.words,
          });
          heard.push({ e164, at, q, verdict });
        } else {
          const j = await o.app.preview.judging(o.business, await o.draft(written), null);
          const { subject } = await o.app.texts.subject(db, o.business, e164, o.number);
          heard.push({ e164, at: j.rules.at, q, verdict: judge(subject, j.prepared.facts, j.rules, j.allowance) });
        }
        await o.later(2000);
      }
      for (const { e164, at, q, verdict } of heard) {
        const { then } = await ask({ e164, at, ...q });
        const withoutMoment = (v: { answers: { post: number; result: string; reason?: string | undefined }[] }) =>
          v.answers.map(({ post, result, reason }) => [post, result, reason]);
        expect(withoutMoment(then))
          .withContext(`${e164} at ${new Date(at).toISOString()}: ${JSON.stringify(q)}`)
          .toEqual(withoutMoment(verdict));
      }
      // And each text that was judged: as of that moment, the same post for the same reason.
      let judged = 0;
      for (const e164 of people)
        for (const { id } of (await o.app.asOf.ask(o.business, { e164 })).texts) {
          const asked = await ask({ e164, text: id });
          if (!asked.kept) continue;
          judged++;
          expect([asked.then.post, asked.then.reason])
            .withContext(`${id} at ${new Date(asked.kept.at).toISOString()}: ${asked.kept.why}`)
            .toEqual([asked.kept.post, asked.kept.reason]);
        }
      expect(judged).toBeGreaterThan(0);
    });
});
