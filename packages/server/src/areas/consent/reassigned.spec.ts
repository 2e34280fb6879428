import { dayIn } from '@long-gate/core';
import { Office } from '../../testing/office.js';

const DAY_MS = 86_400_000;
const QUERY = 5_500;
const NY = 'America/New_York';
const ADA = '+12125550123';
const BO = '+12125550124';
const CY = '+12125550125';

describe('reassigned numbers', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  /** A contact who agreed so many days ago. */
  async function agreed(
    e164: string,
    daysAgo: number,
    purposes = ['informational', 'promotional'] as const,
  ): Promise<void> {
    await o.contact(e164, []);
    await said(e164, 'granted', o.now - daysAgo * DAY_MS, purposes);
  }
  const said = (
    e164: string,
    kind: 'granted' | 'revoked',
    happenedAt: number,
    purposes: readonly ('informational' | 'promotional')[],
  ): Promise<unknown> =>
    o.app.platform.db.write((w) =>
      o.app.ledger.append(w, o.business, [
        {
          e164,
          purposes: [...purposes],
          kind,
          how: 'web page',
          disclosure: 'Text me.',
          disclosureVersion: 'v1',
          happenedAt,
        },
      ]),
    );
  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
  const WHOM = { listId: null, filter: null, e164s: null, behind: null, again: false };
  let n = 0;
  async function ask(whom: { e164s?: string[]; again?: boolean } = {}): Promise<string> {
    const { jobId } = await o.app.reassigned.start(o.admin, o.business, { ...WHOM, ...whom }, `wish-${n++}`);
    await o.settle();
    return jobId;
  }
  const asked = (): string[] => o.outside.reassignedAsked.map((a) => `${a.e164} ${a.day}`).sort();
  const onGate = async (e164: string): Promise<string | undefined> =>
    (await o.app.contacts.subjectRow(o.app.platform.db, o.business, e164, o.number))?.reassignment;
  const policy = async (over: object): Promise<unknown> => {
    const { version, ...p } = await o.app.textability.policy(o.app.platform.db, o.business);
    return o.app.textability.save(o.admin, o.business, version, { ...p, ...over });
  };
  async function send(purpose: 'informational' | 'promotional'): Promise<string> {
    const d = await o.app.drafts.add(
      o.admin,
      o.business,
      await o.draft({
        purpose,
        text: purpose === 'promotional' ? 'Rye is half price on Monday.' : 'The rye loaf is back.',
      }),
    );
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    return d.id;
  }
  const heldFor = async (dispatch: string): Promise<string[]> =>
    (
      await o.app.platform.db.all<{ reason: string }>(
        `SELECT reason FROM message WHERE dispatch_id = $1 AND state = 'held'`,
        [dispatch],
      )
    ).map((x) => x.reason);

  it('are asked about by the day of the last consent, where the business is', async () => {
    await agreed(ADA, 400);
    await said(ADA, 'granted', o.now - 90 * DAY_MS, ['promotional']);
    await agreed(BO, 45);
    const before = await balance();
    expect((await o.app.reassigned.estimate(o.business, WHOM)).numbers).toBe(2);
    await ask();
    const day = (daysAgo: number): string => dayIn(o.now - daysAgo * DAY_MS, NY);
    expect(asked()).toEqual([`${ADA} ${day(90)}`, `${BO} ${day(45)}`]);
    expect(before - (await balance())).toBe(2 * QUERY);
    expect(await o.app.reassigned.answers(o.business, ADA)).toEqual([
      jasmine.objectContaining({ day: day(90), answer: 'no' }),
    ]);
  });

  it('are not asked about where nothing is in force, or consent or the last answer are fresh', async () => {
    await agreed(ADA, 10);
    await agreed(BO, 90);
    await agreed(CY, 90);
    await said(CY, 'revoked', o.now - DAY_MS, ['informational', 'promotional']);
    await ask();
    expect(o.outside.reassignedAsked.map((a) => a.e164)).toEqual([BO]);
    await expectAsync(ask()).toBeRejectedWithError(/None of these needs asking about/);
    await ask({ e164s: [ADA, BO, CY], again: true });
    expect(o.outside.reassignedAsked.map((a) => a.e164).sort()).toEqual([ADA, BO, BO]);
  });

  it('are not asked about where what was in force was agreed to anew since', async () => {
    await agreed(ADA, 90);
    expect((await o.app.reassigned.estimate(o.business, WHOM)).numbers).toBe(1);
    await said(ADA, 'granted', o.now - 5 * DAY_MS, ['informational', 'promotional']);
    expect((await o.app.reassigned.estimate(o.business, WHOM)).numbers).toBe(0);
  });

  it('that changed hands keep what their new owner agreed to while they were asked about', async () => {
    await agreed(ADA, 90);
    spyOn(o.app.platform.gateways.lines, 'reassigned').and.callFake(async (_, e164, day) => {
      // Between when the round read what was agreed to and this number's turn.
      await said(e164, 'granted', o.now - 60_000, ['promotional']);
      return { e164, day, answer: 'yes', askedAt: Date.now() };
    });
    await ask();
    expect(await o.state(ADA)).toEqual(jasmine.objectContaining({ informational: 'voided', promotional: 'granted' }));
  });

  it('that changed hands lose what was agreed to, with the answer as evidence; a revocation stays one', async () => {
    await agreed(ADA, 90, ['informational', 'promotional']);
    await said(ADA, 'revoked', o.now - 50 * DAY_MS, ['promotional']);
    o.outside.reassigned.set(ADA, 'yes');
    await ask();
    expect(await o.state(ADA)).toEqual({ conversational: 'none', informational: 'voided', promotional: 'revoked' });
    const last = (await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA)).at(-1);
    expect(last).toEqual(
      jasmine.objectContaining({ kind: 'voided', how: 'reassigned numbers', purposes: ['informational'] }),
    );
    expect(last?.evidence).toEqual({
      asked: dayIn(o.now - 90 * DAY_MS, NY),
      answer: 'yes',
      query: o.outside.reassignedAsked[0]?.key ?? '',
    });
    expect((await o.app.ledger.verify(o.business)).ok).toBeTrue();
    await send('informational');
    await o.settle();
    expect(o.sentTo(ADA)).toEqual([]);
  });

  it('of which nothing is known get no offers until a later query says no, not even by agreeing anew', async () => {
    await agreed(ADA, 90);
    o.outside.reassigned.set(ADA, 'no data');
    await ask();
    expect(await o.state(ADA)).toEqual({ conversational: 'none', informational: 'granted', promotional: 'granted' });
    await send('informational');
    const offers = await send('promotional');
    await o.settle();
    expect(o.sentTo(ADA).length).withContext('the notice alone').toBe(1);
    expect(await heldFor(offers)).toEqual(['reassignment-no-data']);
    await said(ADA, 'granted', o.now, ['promotional']);
    await o.settle();
    expect(await heldFor(offers)).toEqual(['reassignment-no-data']);
    o.outside.reassigned.delete(ADA);
    await o.later(1000);
    await ask({ e164s: [ADA], again: true });
    await o.later(1000);
    expect(o.sentTo(ADA).length).withContext('the offer follows by itself').toBe(2);
  });

  it('are asked about before a dispatch where that is wished: nothing leaves before the answer', async () => {
    await policy({ reassignedBeforeDispatch: true });
    await agreed(ADA, 90);
    await agreed(BO, 5);
    await agreed(CY, 90);
    o.outside.reassigned.set(CY, 'yes');
    const real = o.outside.lines.reassigned;
    let answer: () => void = () => undefined;
    const shut = new Promise<void>((r) => (answer = r));
    o.outside.lines.reassigned = async (key, e164, day) => {
      await shut;
      return real(key, e164, day);
    };
    const id = await send('informational');
    expect([await onGate(ADA), await onGate(BO), await onGate(CY)]).toEqual(['due', 'clear', 'due']);
    const settled = o.settle();
    await new Promise((r) => setTimeout(r, 300));
    expect(o.outside.sent.filter((t) => t.to !== BO)).toEqual([]);
    answer();
    await settled;
    await o.later(1000);
    expect([o.sentTo(ADA).length, o.sentTo(BO).length, o.sentTo(CY).length]).toEqual([1, 1, 0]);
    expect(o.outside.reassignedAsked.map((a) => a.e164).sort()).toEqual([ADA, CY]);
    // It ends once it has seen that nobody is left, which on a busy machine is a turn later.
    const state = async () => (await o.app.drafts.get(o.business, id)).state;
    for (let i = 0; i < 5 && (await state()) !== 'done'; i++) await o.later(1000);
    expect(await state()).toBe('done');
  });

  it('that are due stay held through a crash while being asked about, and are paid once', async () => {
    await policy({ reassignedBeforeDispatch: true });
    const e164s = Array.from({ length: 5 }, (_, i) => `+1212555010${i}`);
    for (const e164 of e164s) await agreed(e164, 90);
    const before = await balance();
    const real = o.outside.lines.reassigned;
    let calls = 0;
    o.outside.lines.reassigned = (key, e164, day) => {
      if (++calls === 3) throw new Error('power cut');
      return real(key, e164, day);
    };
    await send('informational');
    await o.settle();
    expect(o.outside.sent).withContext('nothing before the answers are kept').toEqual([]);
    await o.again();
    await o.later(60_000);
    expect(o.outside.sent.length).toBe(5);
    for (const e164 of e164s)
      expect(new Set(o.outside.reassignedAsked.filter((a) => a.e164 === e164).map((a) => a.key)).size).toBe(1);
    const texts = o.outside.sent.reduce((sum, t) => sum + t.segments * 7_000, 0);
    expect(before - (await balance()) - texts).toBe(5 * QUERY);
  });

  it('are asked about once where two dispatches wait for the same', async () => {
    await policy({ reassignedBeforeDispatch: true });
    await agreed(ADA, 90);
    await agreed(BO, 90);
    await send('informational');
    await send('promotional');
    await o.settle();
    await o.later(60_000);
    expect(o.outside.reassignedAsked.length).toBe(2);
    expect([o.sentTo(ADA).length, o.sentTo(BO).length]).toEqual([2, 2]);
  });

  it('are asked about once a day on a schedule, whoever has gone stale', async () => {
    await agreed(ADA, 29);
    await agreed(BO, 45);
    await policy({ reassignedOnSchedule: true });
    await o.settle();
    expect(o.outside.reassignedAsked.map((a) => a.e164)).toEqual([BO]);
    await o.later(DAY_MS);
    await o.later(DAY_MS);
    expect(o.outside.reassignedAsked.map((a) => a.e164)).toEqual([BO, ADA]);
    await o.later(29 * DAY_MS);
    expect(o.outside.reassignedAsked.map((a) => a.e164).sort()).toEqual([ADA, BO, BO]);
  });

  it('of somebody who is taken away and comes again are held as they were', async () => {
    await agreed(ADA, 90);
    o.outside.reassigned.set(ADA, 'no data');
    await ask();
    const contact = (await o.app.contacts.byAddress(o.app.platform.db, o.business, ADA))?.contactId ?? '';
    await o.app.removals.erase(o.admin, o.business, contact, 'They asked for it by letter.');
    await o.settle();
    expect(await onGate(ADA)).toBeUndefined();
    await o.contact(ADA, []);
    expect(await onGate(ADA)).toBe('no data');
    // What was answered since outweighs what stands under the digest.
    o.outside.reassigned.delete(ADA);
    await said(ADA, 'granted', o.now, ['promotional']);
    await o.later(1000);
    await ask({ e164s: [ADA], again: true });
    const anew = (await o.app.contacts.byAddress(o.app.platform.db, o.business, ADA))?.contactId ?? '';
    await o.app.removals.delete(o.admin, o.business, { ids: [anew], filter: null, seen: 1 }, 'take-away');
    await o.settle();
    await o.contact(ADA, []);
    expect(await onGate(ADA)).toBe('clear');
  });

  it('wait for money, and go on by themselves when there is some', async () => {
    await agreed(ADA, 90);
    await agreed(BO, 90);
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = $1', [QUERY]));
    const jobId = await ask();
    const state = async (): Promise<string | undefined> =>
      (await o.app.platform.db.one<{ state: string }>('SELECT state FROM job WHERE id = $1', [jobId]))?.state;
    expect([await state(), o.outside.reassignedAsked.length]).toEqual(['paused', 0]);
    await o.app.businesses.topUp(o.admin, o.business, 1_000_000, 'more');
    await o.settle();
    expect([await state(), o.outside.reassignedAsked.length]).toEqual(['done', 2]);
  });
});
