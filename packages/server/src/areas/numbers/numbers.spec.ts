import fc from 'fast-check';
import { Office } from '../../testing/office.js';

describe('numbers, registration and money', () => {
  let o: Office;
  const E164 = '+15515550101';
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());
  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;

  const number = (id: string) => o.app.numbers.get(o.app.platform.db, o.business, id);
  const buy = async (key = 'key-1'): Promise<string> => (await o.buy([E164], key)).numbers[0]?.id ?? '';

  it('buys once for one key, charges first, and turns active when the exchange says so', async () => {
    const before = await balance();
    const { orderId, numbers } = await o.buy([E164], 'key-1');
    const again = await o.app.basket.order(o.admin, o.business, 'key-1');
    expect(again.orderId).toBe(orderId);
    expect(again.numbers.length).toBe(1);
    const id = numbers[0]?.id ?? '';
    expect(before - (await balance())).toBe(2_300_000);
    await o.settle();
    expect(o.outside.orders).toEqual([id]);
    expect(numbers[0]?.nextStep.action).toBe('wait');
    await o.hear({ kind: 'order.filled', key: id, e164: E164 });
    const now = await number(id);
    expect([now.state, now.nextStep.action, now.clearance]).toEqual(['active', 'tie', 'number-not-tied']);
    expect((await o.app.basket.basket(o.admin, o.business)).items).toEqual([]);
  });

  it('fills an order in part: what failed is refunded once and says why', async () => {
    const before = await balance();
    const { numbers } = await o.buy([E164, '+15515550102', '+15515550103'], 'key-1');
    expect(before - (await balance())).toBe(6_900_000);
    const [a, b, c] = numbers.map((n) => n.id);
    await o.hear({ kind: 'order.filled', key: a ?? '', e164: E164 });
    for (let i = 0; i < 2; i++)
      await o.hear({ kind: 'order.failed', key: b ?? '', e164: '', reason: 'Somebody was faster.' });
    await o.hear({ kind: 'order.filled', key: c ?? '', e164: '' });
    expect(before - (await balance())).toBe(4_600_000);
    expect((await number(b ?? '')).nextStep.why).toContain('Somebody was faster.');
  });

  it('pays a number’s month once, however often and early the job looks', async () => {
    await o.buy([E164], 'k');
    await o.settle();
    const [id = ''] = o.outside.orders;
    await o.hear({ kind: 'order.filled', key: id, e164: '' });
    const before = await balance();
    for (let i = 0; i < 3; i++) {
      await o.app.platform.db.write((w) => o.app.platform.jobs.wake(w, { key: `fee:${id}` }));
      await o.settle();
    }
    expect(await balance())
      .withContext('before its day')
      .toBe(before);
    await o.later(31 * 86_400_000 + 1000);
    const after = await balance();
    for (let i = 0; i < 3; i++) {
      await o.app.platform.db.write((w) => o.app.platform.jobs.wake(w, { key: `fee:${id}` }));
      await o.settle();
    }
    expect(await balance())
      .withContext('on its day, once')
      .toBe(after);
    expect(
      (
        await o.app.platform.db.all(`SELECT id FROM money_entry WHERE object_id = $1 AND what LIKE '%monthly fee'`, [
          id,
        ])
      ).length,
    ).toBe(1);
  });

  it('does not take a sixth try at a code', async () => {
    await o.app.ownMobile.set(o.admin, '+12015550191', o.business, '192.0.2.7', 'wish-1');
    await o.settle();
    const code = /\d{6}/.exec(o.outside.codes[0]?.text ?? '')?.[0] ?? '';
    for (let i = 0; i < 5; i++) await o.app.ownMobile.confirm(o.admin, '1').catch(() => undefined);
    await expectAsync(o.app.ownMobile.confirm(o.admin, code)).toBeRejectedWithError(/a new one comes/);
  });

  it('takes the monthly fee on its day, pauses a number it cannot take it for, and wakes it after a top-up', async () => {
    const id = await buy();
    await o.hear({ kind: 'order.filled', key: id, e164: E164 });
    const state = async (): Promise<string> => (await number(id)).state;
    const before = await balance();
    await o.later(31 * 86_400_000);
    expect(before - (await balance())).toBe(1_300_000);
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = 100'));
    await o.later(31 * 86_400_000);
    expect(await state()).toBe('paused');
    expect(await balance()).toBe(100);
    await o.app.businesses.topUp(o.admin, o.business, 9_000_000, 'again');
    await o.later(2 * 3_600_000);
    expect(await state()).toBe('active');
  });

  it('releases a number, names what is lost, takes it back within seven days and not after', async () => {
    await o.contact('+12125550123', ['informational']);
    const lost = await o.app.releases.preview(o.business, o.number);
    expect(lost).toEqual({ dispatches: [], pages: [], keywords: [], contacts: 0 });
    await expectAsync(o.app.releases.release(o.admin, o.business, o.number, '0124')).toBeRejectedWithError(
      /last four digits/,
    );
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    expect((await number(o.number)).state).toBe('released');
    const onToday = (await o.app.today.get(o.business)).matters.find((m) => m.title.includes('is released'));
    expect(onToday?.due ?? 0).toBeCloseTo(o.now + 7 * 86_400_000, -4);
    await o.later(6 * 86_400_000);
    await o.app.releases.takeBack(o.admin, o.business, o.number);
    const back = await number(o.number);
    expect([back.state, back.clearance, back.releaseFinalAt]).toEqual(['active', 'cleared', null]);
    await o.later(3 * 86_400_000);
    expect(o.outside.givenBack).withContext('the first release was taken back').toEqual([]);
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    await o.later(7 * 86_400_000 + 60_000);
    expect(o.outside.givenBack).toEqual([o.ours]);
    await expectAsync(o.app.releases.takeBack(o.admin, o.business, o.number)).toBeRejectedWithError(
      /seven days are over/,
    );
    expect((await o.state('+12125550123')).informational)
      .withContext('consents stay')
      .toBe('granted');
  });

  it('is confirmed by the networks also where it was given up and taken back meanwhile', async () => {
    const { db } = o.app.platform;
    await o.app.ties.tie(o.admin, o.business, o.number, null);
    await o.app.ties.tie(o.admin, o.business, o.number, o.campaign);
    const filed = async (): Promise<string[]> =>
      (await db.all<{ key: string }>(`SELECT key FROM outbox WHERE kind = 'number.assign' ORDER BY due_at, key`)).map(
        (x) => x.key,
      );
    const [first = ''] = await filed();
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    await o.hear({ kind: 'assignment.confirmed', key: first, e164: o.ours });
    await o.app.releases.takeBack(o.admin, o.business, o.number);
    expect((await number(o.number)).clearance).toBe('registration-pending');
    const again = (await filed()).filter((x) => x !== first);
    expect(again.length).toBe(1);
    await o.hear({ kind: 'assignment.confirmed', key: again[0] ?? '', e164: o.ours });
    expect((await number(o.number)).clearance).toBe('cleared');
  });

  it('has a default for each purpose, and nobody’s own mobile can be one', async () => {
    await o.app.numbers.setDefault(o.admin, o.business, 'promotional', o.number);
    expect((await number(o.number)).defaultFor).toEqual(['promotional']);
    await o.app.platform.db.write((w) => w.run('UPDATE "user" SET mobile = $1', [o.ours]));
    await expectAsync(o.app.numbers.setDefault(o.admin, o.business, 'informational', o.number)).toBeRejectedWithError(
      /own mobile/,
    );
    await o.app.numbers.setDefault(o.admin, o.business, 'promotional', null);
    expect((await number(o.number)).defaultFor).toEqual([]);
  });

  it('takes no default that could not serve its purpose: one not confirmed, or one-way for conversations', async () => {
    const set = (sql: string) => o.app.platform.db.write((w) => w.run(sql));
    await set(`UPDATE number SET tie_state = 'attaching'`);
    await expectAsync(o.app.numbers.setDefault(o.admin, o.business, 'promotional', o.number)).toBeRejectedWithError(
      /not cleared to send/,
    );
    await set(`UPDATE number SET kind = 'sender ID', e164 = 'HERONLANE'`);
    await expectAsync(o.app.numbers.setDefault(o.admin, o.business, 'conversational', o.number)).toBeRejectedWithError(
      /Nobody can answer/,
    );
    await o.app.numbers.setDefault(o.admin, o.business, 'promotional', o.number);
  });

  it('adds up to the last millionth over any sequence of charges and top-ups', async () => {
    const { db } = o.app.platform;
    let n = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.boolean(), fc.integer({ min: 1, max: 9_000_000 })), { maxLength: 12 }),
        async (moves) => {
          for (const [up, amount] of moves) {
            if (up) await o.app.businesses.topUp(o.admin, o.business, amount + 1_000_000, `k${n++}`);
            else
              await db
                .write((w) => o.app.businesses.charge(w, o.business, amount, 'x', 'x', 'x'))
                .catch(() => undefined);
          }
          const sum = await db.one<{ n: number }>('SELECT sum(amount) AS n FROM money_entry WHERE business_id = $1', [
            o.business,
          ]);
          expect(sum?.n).toBe(await balance());
          expect(await balance()).toBeGreaterThanOrEqual(0);
        },
      ),
      { numRuns: 12 },
    );
  });

  it('ties a number only to a registered campaign, and clears it when the networks confirm', async () => {
    const draft = await o.app.registration.campaigns.add(o.admin, o.business, 'Draft', 'marketing');
    await o.app.ties.tie(o.admin, o.business, o.number, null);
    await expectAsync(o.app.ties.tie(o.admin, o.business, o.number, draft.id)).toBeRejectedWithError(
      /once the campaign is registered/,
    );
    const tied = await o.app.ties.tie(o.admin, o.business, o.number, o.campaign);
    expect([tied.tieState, tied.clearance]).toEqual(['attaching', 'registration-pending']);
    const key =
      (await o.app.platform.db.one<{ key: string }>(`SELECT key FROM outbox WHERE kind = 'number.assign'`))?.key ?? '';
    await o.hear({ kind: 'assignment.confirmed', key, e164: o.ours });
    expect((await o.app.numbers.get(o.app.platform.db, o.business, o.number)).clearance).toBe('cleared');
  });

  it('lets a brand be submitted only without blocking findings, and shows what was declined at its field', async () => {
    const d = await o.app.registration.dossier(o.business);
    await expectAsync(o.app.registration.brands.submit(o.admin, o.business, 'k1')).toBeRejectedWith(
      jasmine.objectContaining({ code: 'findings', status: 422 }),
    );
    const body = {
      ...d.brand.body,
      street: '9 Mill Street',
      city: 'Quillmere',
      state: 'NJ',
      postalCode: '07030',
      website: 'https://heron.example',
      email: 'office@heron.example',
    };
    const saved = await o.app.registration.brands.save(o.admin, o.business, d.brand.version, body, '36-1234567');
    expect(saved.findings.filter((f) => f.severity === 'block')).toEqual([]);
    expect(saved.taxNumberMasked).toBe('••••••');
    await expectAsync(
      o.app.registration.brands.save(o.admin, o.business, d.brand.version, body, undefined),
    ).toBeRejectedWith(jasmine.objectContaining({ status: 412 }));
    const before = await balance();
    await Promise.all([
      o.app.registration.brands.submit(o.admin, o.business, 'k2'),
      o.app.registration.brands.submit(o.admin, o.business, 'k2'),
    ]);
    expect(before - (await balance())).toBe(4_500_000);
    await expectAsync(
      o.app.registration.brands.save(o.admin, o.business, saved.version + 1, body, undefined),
    ).toBeRejectedWithError(/in review/);
    await o.hear({
      kind: 'brand.declined',
      key: `${saved.id}:1`,
      reasons: [{ field: 'taxNumber', code: 'name-number-mismatch', message: 'Another name.' }],
    });
    const declined = (await o.app.registration.dossier(o.business)).brand;
    expect([declined.state, declined.reasons[0]?.field]).toEqual(['declined', 'taxNumber']);
    await o.app.businesses.topUp(o.admin, o.business, 90_000_000, 'more');
    await o.app.registration.brands.submit(o.admin, o.business, 'k3');
    await o.hear({ kind: 'brand.registered', key: `${saved.id}:1` });
    expect((await o.app.registration.dossier(o.business)).brand.state)
      .withContext('an answer to an older try')
      .toBe('in review');
    await o.hear({ kind: 'brand.registered', key: `${saved.id}:2` });
    const registered = (await o.app.registration.dossier(o.business)).brand;
    expect([registered.state, registered.score]).toEqual(['registered', null]);
    await expectAsync(
      o.app.registration.brands.save(
        o.admin,
        o.business,
        registered.version,
        { ...body, legalName: 'Another LLC' },
        undefined,
      ),
    ).toBeRejectedWithError(/locked/);
  });

  it('keeps the tax number out of the trail and out of the outbox', async () => {
    const d = await o.app.registration.dossier(o.business);
    await o.app.registration.brands.save(
      o.admin,
      o.business,
      d.brand.version,
      {
        ...d.brand.body,
        street: '9 Mill Street',
        city: 'Quillmere',
        state: 'NJ',
        postalCode: '07030',
        website: 'https://heron.example',
        email: 'office@heron.example',
      },
      '36-1234567',
    );
    await o.app.registration.brands.submit(o.admin, o.business, 'k');
    for (const table of ['audit', 'outbox', 'brand', 'job']) {
      const rows = await o.app.platform.db.all(`SELECT * FROM ${table}`);
      expect(JSON.stringify(rows)).withContext(table).not.toContain('1234567');
    }
  });
});
