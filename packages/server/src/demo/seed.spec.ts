import { createHash } from 'node:crypto';
import { Office } from '../testing/office.js';
import { BUSINESSES, DEMO_START, PEOPLE } from './scenario.data.js';
import { seedDemo } from './seed.js';

/** What is the same at every start; ids and moments made by chance or by the clock aside. */
async function picture(o: Office): Promise<string> {
  const { db } = o.app.platform;
  const parts = await Promise.all(
    [
      'SELECT legal_name, balance FROM business ORDER BY legal_name',
      'SELECT e164, state, kind, source FROM number ORDER BY e164',
      'SELECT e164, line_type, carrier, textable, trouble, consent_informational, consent_promotional FROM contact_number ORDER BY business_id, e164',
      'SELECT e164, kind, how, purposes FROM consent_event ORDER BY business_id, seq',
      'SELECT e164, state, text, cost FROM message ORDER BY business_id, e164, created_at, text',
    ].map((sql) => db.all(sql)),
  );
  return createHash('sha256').update(JSON.stringify(parts)).digest('hex');
}

describe('the demo’s past', () => {
  const offices: Office[] = [];
  beforeAll(async () => {
    for (let i = 0; i < 2; i++) {
      const o = await Office.bare();
      await seedDemo(o.app, () => undefined);
      offices.push(o);
    }
  });
  afterAll(async () => {
    for (const o of offices) await o.close();
  });
  const one = () => offices[0] as Office;
  const all = <T extends object>(sql: string) => one().app.platform.db.all<T>(sql);

  it('is the same at every start, and written once', async () => {
    const [a, b] = offices as [Office, Office];
    expect(await picture(a)).toBe(await picture(b));
    await seedDemo(a.app, () => fail('it was written a second time'));
    expect(await picture(a)).toBe(await picture(b));
  });

  it('has three businesses, three people with a part in each, and no password anybody could know from the data', async () => {
    expect((await all<{ legal_name: string }>('SELECT legal_name FROM business')).length).toBe(BUSINESSES.length);
    const roles = await all<{ role: string; n: number }>(
      'SELECT role, count(*) AS n FROM membership GROUP BY role ORDER BY role',
    );
    expect(roles).toEqual(['administrator', 'coordinator', 'viewer'].map((role) => ({ role, n: BUSINESSES.length })));
    const users = await all<{ password: string }>('SELECT password FROM "user"');
    expect([users.length, users.every((u) => u.password.startsWith('scrypt:'))]).toEqual([PEOPLE.length, true]);
  });

  it('uses only numbers that are set aside for fiction or cannot be assigned', async () => {
    const numbers = await all<{ e164: string }>(
      'SELECT e164 FROM contact_number UNION SELECT e164 FROM number UNION SELECT e164 FROM port_number',
    );
    const odd = numbers.filter(
      ({ e164 }) => e164.startsWith('+1') && !/^\+1\d{3}55501\d\d$/.test(e164) && e164 !== '+18005550199',
    );
    expect(odd).toEqual([]);
    expect(numbers.length).toBeGreaterThan(1000);
  });

  it('adds up: each ledger is whole, each balance is the sum of its entries, nobody who left was texted after', async () => {
    const businesses = await all<{ id: string; balance: number }>('SELECT id, balance FROM business');
    for (const b of businesses) {
      expect((await one().app.ledger.verify(b.id)).ok).toBeTrue();
      expect((await one().app.ledger.rebuild(b.id, false)).differing).toBe(0);
      const { items } = await one().app.money.page(b.id, { limit: 500 });
      let running = 0;
      for (const e of items.reverse()) {
        expect(e.balanceAfter).toBe((running += e.amount));
        expect(running).withContext(e.what).toBeGreaterThanOrEqual(0);
      }
      expect(running).toBe(b.balance);
    }
    const late = await all(
      `SELECT m.e164 FROM message m WHERE m.direction = 'out' AND m.kind = 'dispatch' AND m.state IN ('sent','delivered') AND EXISTS (
         SELECT 1 FROM consent_event e WHERE e.business_id = m.business_id AND e.e164 = m.e164 AND e.kind = 'revoked' AND instr(e.purposes, m.purpose) > 0 AND e.happened_at < m.sent_at
           AND NOT EXISTS (SELECT 1 FROM consent_event g WHERE g.business_id = m.business_id AND g.e164 = m.e164 AND g.kind IN ('granted','confirmed') AND g.happened_at BETWEEN e.happened_at AND m.sent_at))`,
    );
    expect(late).toEqual([]);
  });

  it('was let through by the gate: as of its moment each text passes, or is kept back for what was said then', async () => {
    const texts = await all<{ id: string; businessId: string; e164: string; kind: string }>(
      `SELECT id, business_id AS "businessId", e164, kind FROM message WHERE direction = 'out' ORDER BY id`,
    );
    const reasons = new Map<string, number>();
    // Some of every dispatch, and all that were sent outside them; the whole past with LONG_GATE_ALL=1.
    const each = process.env['LONG_GATE_ALL'] === '1' ? 1 : 31;
    for (const { id, businessId, e164 } of texts.filter((t, i) => t.kind !== 'dispatch' || i % each === 0)) {
      const { asked } = await one().app.asOf.ask(businessId, { e164, text: id });
      if (!asked?.kept) continue;
      const kept = asked.kept.reason ?? 'left';
      reasons.set(kept, (reasons.get(kept) ?? 0) + 1);
      expect(asked.then.reason ?? 'left')
        .withContext(`${id} to ${e164}, ${new Date(asked.kept.at).toISOString()}`)
        .toBe(kept);
    }
    expect(reasons.size).toBeGreaterThan(5);
    expect(reasons.get('left')).toBeGreaterThan(100);
  });

  it('has every count as its rows say: pages, lists, texts by day, opt-outs', async () => {
    const { db, keptCounts } = one().app.platform;
    let things = 0;
    for await (const { what, differing } of keptCounts.check(db, false)) {
      things++;
      expect(differing).withContext(what).toBe(0);
    }
    expect(things).toBeGreaterThan(8);
  });

  it('lies before the moment at which the demo begins', async () => {
    const latest = await all<{ at: number }>('SELECT max(sent_at) AS at FROM message');
    expect(latest[0]?.at).toBeLessThan(Math.max(DEMO_START, one().now) + 60_000);
  });

  it('has a story in it: a rejected port, a declined campaign, opt-outs, failures', async () => {
    const n = async (sql: string) => (await all<{ n: number }>(`SELECT count(*) AS n FROM ${sql}`))[0]?.n ?? 0;
    for (const sql of [
      `port WHERE state = 'rejected'`,
      `campaign WHERE state = 'declined'`,
      `consent_event WHERE kind = 'revoked'`,
      `message WHERE state = 'failed'`,
      `message WHERE direction = 'in'`,
      `reply_review WHERE state = 'open'`,
      `dispatch_schedule WHERE held = '' AND reach > 5 AND cost > 0`,
      `job WHERE kind = 'dispatch.leave' AND state = 'waiting'`,
    ])
      expect(await n(sql))
        .withContext(sql)
        .toBeGreaterThan(0);
  });

  it('has nothing blocking in what is registered, and what was declined is found where the registrar said it', async () => {
    const { app } = one();
    for (const { id } of await all<{ id: string }>('SELECT id FROM business')) {
      const { campaigns } = await app.registration.dossier(id);
      for (const c of campaigns) {
        const blocks = c.findings.filter((f) => f.severity === 'block').map((f) => `${f.code} ${f.field}`);
        if (c.state === 'declined')
          expect(blocks).toEqual(jasmine.arrayContaining(c.reasons.map((r) => `${r.code} ${r.field}`)));
        else expect(blocks).withContext(c.name).toEqual([]);
      }
    }
  });

  it('stands in the trail in the order in which it happened', async () => {
    const at = (await all<{ at: number }>('SELECT at FROM audit ORDER BY n')).map((a) => a.at);
    expect(at.length).toBeGreaterThan(100);
    expect(at).toEqual([...at].sort((a, b) => a - b));
  });
});
