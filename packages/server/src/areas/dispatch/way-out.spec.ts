import { textAfter, type TextState } from '@long-gate/core';
import { GatewayBusy, GatewayDown } from '@long-gate/gateways';
import { Office } from '../../testing/office.js';

const HOUR = 3_600_000;
const MISHAPS = [
  'busy',
  'down',
  'lost answer',
  'kill',
  'STOP',
  'cancel',
  'closing hour',
  'expiry',
  'off switch',
] as const;
type Mishap = (typeof MISHAPS)[number];
const FROM = ['judging', 'waiting', 'held', 'leaving', 'unsure'] as const satisfies readonly TextState[];
/** After these the text may never reach the network any more. */
const NO: readonly Mishap[] = ['STOP', 'cancel', 'expiry'];

const PAIRS = MISHAPS.flatMap((a) => MISHAPS.map((b) => [a, b]));

/**
 * Everything that can go wrong with a text on its way, one after another, from each state it can be in. Each sequence
 * has a person and a dispatch of its own; many run side by side in one office, so that the clock moves for all of them.
 */
/** All threes with LONG_GATE_ALL=1; at every change a ninth of them, in which any two stand at any two places once. */
const EVERY = process.env['LONG_GATE_ALL'] === '1' ? 1 : MISHAPS.length;
const TRIPLES = MISHAPS.flatMap((first, a) =>
  MISHAPS.flatMap((second, b) =>
    MISHAPS.filter((_, c) => (a + b + c) % EVERY === 0).map((third) => [first, second, third]),
  ),
);

describe('the way of a text to the network', () => {
  let o: Office;
  let serial = 0;
  beforeAll(async () => {
    o = await Office.open();
    const { db } = o.app.platform;
    // What a power cut does to the disk is seen by the crash test; here the process dies, and thousands of times.
    await db.migrationConnection.query(
      db.dialect === 'sqlite' ? 'PRAGMA synchronous=OFF' : 'SET synchronous_commit=off',
    );
    // A vetted brand: the pace is not what is looked at here.
    await db.write((w) =>
      w.run(`UPDATE brand SET score = 90, state = 'registered' WHERE business_id = $1`, [o.business]),
    );
    await o.app.businesses.topUp(o.admin, o.business, 900_000_000, 'plenty');
  });
  afterAll(() => o.close());

  interface Case {
    from: (typeof FROM)[number];
    steps: readonly Mishap[];
    e164: string;
    id: string;
    message: string;
    /** The network had it before the first no. */
    hadIt: boolean;
    no: boolean;
  }

  /** A text in a state, as a crash or another moment would have left it. */
  async function prepare(from: Case['from'], steps: readonly Mishap[]): Promise<Case> {
    const n = serial++;
    const e164 = `+1212555${String(n % 10_000).padStart(4, '0')}`;
    const e = n >= 10_000 ? `+1646555${String(n % 10_000).padStart(4, '0')}` : e164;
    const id = `dis_${n}`;
    const message = `${id}-1`;
    await o.contact(e, ['informational'], { list: `List ${n % 7}` });
    const { db } = o.app.platform;
    const number = await db.one<{ id: number }>('SELECT id FROM contact_number WHERE e164 = $1', [e]);
    const now = o.now;
    await db.write(async (w) => {
      await w.run(
        `INSERT INTO dispatch (id, business_id, title, text, purpose, transactional, stop_line, number_id, audience, state, created_by, created_at, sent_at, ends_at)
         VALUES ($1,$2,'x','The rye loaf is back.','informational',FALSE,TRUE,$3,'{"include":[],"exclude":[]}','sending','Wren',$4,$4,$5)`,
        [id, o.business, o.number, now, now + 3 * 24 * HOUR],
      );
      const air = from === 'leaving' || from === 'unsure';
      await w.run(
        `INSERT INTO message (id, business_id, dispatch_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, created_at, sent_at, cost, due_at, pace_key, reason, post, hold_until)
         VALUES ($1,$2,$3,'out','dispatch','informational',$4,$5,$6,$7,1,$8,$9,$10,$11,$12,$13,$14,$15,$16)`,
        [
          message,
          o.business,
          id,
          o.number,
          e,
          number?.id ?? 0,
          from === 'judging' || from === 'held' ? '' : 'Heron Lane: The rye loaf is back. Reply STOP to end.',
          from,
          now,
          air ? now : null,
          air ? 7_000 : 0,
          from === 'judging' || from === 'held' ? null : now,
          `campaign:${o.campaign}`,
          from === 'held' ? 'texts-switched-off' : null,
          from === 'held' ? 7 : null,
          from === 'held' ? now : null,
        ],
      );
      if (air) await o.app.businesses.charge(w, o.business, 7_000, 'texts of a dispatch', 'dispatch', id, `mon_${n}`);
      await o.app.platform.jobs.add(w, {
        kind: 'dispatch',
        businessId: o.business,
        payload: { dispatchId: id },
        key: `dispatch:${id}`,
      });
    });
    return { from, steps, e164: e, id, message, hadIt: false, no: false };
  }

  const stateOf = async (c: Case): Promise<TextState> =>
    (await o.app.platform.db.one<{ state: TextState }>('SELECT state FROM message WHERE id = $1', [c.message]))
      ?.state ?? 'stopped';

  /** Lets a mishap befall all cases of a group; tries to send go on meanwhile. */
  async function befall(group: readonly Case[], mishap: Mishap): Promise<void> {
    const { db, engine } = o.app.platform;
    for (const c of group) {
      c.hadIt ||= !c.no && o.outside.sent.some((t) => t.key === c.message);
      if (NO.includes(mishap)) c.no = true;
    }
    switch (mishap) {
      case 'busy':
        o.outside.always = () => new GatewayBusy('full', 500);
        break;
      case 'down':
        o.outside.down = true;
        o.outside.always = () => new GatewayDown('no answer');
        break;
      case 'lost answer':
        o.outside.afterSend = () => {
          throw new GatewayDown('the answer was lost');
        };
        break;
      case 'kill': {
        // The network takes what was handed over; we die before writing it down.
        const write = db.write.bind(db);
        let dead = false;
        o.outside.afterSend = () => {
          dead = true;
        };
        db.write = (work) => (dead ? Promise.reject(new Error('killed')) : write(work));
        await engine.drain().catch(() => undefined);
        db.write = write;
        o.outside.afterSend = null;
        o.app.handOver.forget();
        await o.app.platform.jobs.takeBack();
        await o.app.handOver.takeBack();
        return;
      }
      case 'STOP':
        for (const c of group)
          o.outside.told.push({
            seq: o.outside.told.length + 1,
            at: o.now,
            kind: 'text.inbound',
            key: `stop-${o.outside.told.length}`,
            from: c.e164,
            to: o.ours,
            text: 'STOP',
          });
        break;
      case 'cancel':
        for (const c of group) await o.app.sending.cancel(o.admin, o.business, c.id);
        break;
      case 'closing hour':
        await o.app.platform.clock.moveTo(atHour(o.now, 22));
        break;
      case 'expiry':
        await db.write((w) =>
          w.run(`UPDATE dispatch SET ends_at = $2 WHERE id IN (SELECT value FROM jsonb_each($1))`, [
            JSON.stringify(group.map((c) => c.id)),
            o.now,
          ]),
        );
        break;
      case 'off switch':
        await o.app.businesses.switchTexts(o.admin, o.business, true);
        break;
    }
    await engine.drain();
    o.outside.always = null;
    o.outside.afterSend = null;
    o.outside.down = false;
  }

  async function run(group: readonly Case[], length: number): Promise<void> {
    for (let i = 0; i < length; i++) {
      // The same step for all at once: groups are made of cases with the same sequence.
      const mishap = group[0]?.steps[i] as Mishap;
      await befall(group, mishap);
    }
    // All is well again: what may still leave leaves.
    await o.app.businesses.switchTexts(o.admin, o.business, false);
    for (const c of group) {
      c.hadIt ||= !c.no && o.outside.sent.some((t) => t.key === c.message);
      if (c.from === 'leaving') await o.app.handOver.takeBack();
    }
    await pass(5_000);
    await pass(70_000);
    const hour = new Date(o.now).getUTCHours();
    if (hour < 14 || hour > 20) await pass(atHour(o.now, 12) - o.now);
    await pass(5_000);
  }

  /** Time passes; five texts keep any pace, so that it need not be gone through second by second. */
  async function pass(ms: number): Promise<void> {
    await o.app.platform.clock.moveTo(o.now + ms);
    await o.settle();
  }

  async function check(group: readonly Case[]): Promise<void> {
    for (const c of group) {
      const what = `${c.from}: ${c.steps.join(', ')}`;
      const taken = o.outside.sent.filter((t) => t.key === c.message).length;
      const state = await stateOf(c);
      if (taken > 1) fail(`${what}: doubled`);
      if (c.no && !c.hadIt && taken > 0) fail(`${what}: left after a no`);
      if (!c.no && taken !== 1) fail(`${what}: lost, it is ${state}`);
      if (taken === 1 && state !== 'sent') fail(`${what}: the network has it, we say ${state}`);
      if (taken === 0 && !['stopped', 'cancelled'].includes(state)) fail(`${what}: it has not left, we say ${state}`);
      if (textAfter(state, { kind: 'taken' }) !== state) fail(`${what}: still in the air`);
    }
  }

  async function all(sequences: readonly (readonly Mishap[])[]): Promise<void> {
    const { db } = o.app.platform;
    for (const steps of sequences) {
      const group: Case[] = [];
      for (const from of FROM) group.push(await prepare(from, steps));
      await run(group, steps.length);
      await check(group);
      // What is paid for is what the network has.
      const paid = await db.one<{ n: number }>(
        `SELECT coalesce(sum(cost), 0) AS n FROM message WHERE dispatch_id IN (SELECT value FROM jsonb_each($1))`,
        [JSON.stringify(group.map((c) => c.id))],
      );
      const has = group.filter((c) => o.outside.sent.some((t) => t.key === c.message)).length;
      expect(paid?.n)
        .withContext(steps.join(', '))
        .toBe(has * 7_000);
    }
  }

  it('survives every single mishap', async () => {
    await all(MISHAPS.map((m) => [m]));
  });
  it('survives every two of them, in either order and twice', async () => {
    await all(PAIRS);
  });
  for (const first of MISHAPS)
    it(`survives ${first} and any two after it`, async () => {
      await all(TRIPLES.filter((t) => t[0] === first));
    });
});

/** The next time this hour comes in New York (winter time in the specs), from a moment on. */
function atHour(from: number, hour: number): number {
  const day = Math.floor((from - 4 * HOUR) / (24 * HOUR)) * 24 * HOUR + 4 * HOUR;
  const at = day + hour * HOUR;
  return at > from ? at : at + 24 * HOUR;
}
