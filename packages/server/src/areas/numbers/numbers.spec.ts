import fc from 'fast-check';
import { Office } from '../../testing/office.js';

describe('numbers, registration and money', () => {
  let o: Office;
  const OFFER = { e164: '+15515550101', areaCode: '551', setup: 1_000_000, monthly: 1_300_000, capabilities: ['send'] };
  beforeEach(async () => {
    o = await Office.open();
    o.outside.exchange.search = () => Promise.resolve([OFFER] as never[]);
  });
  afterEach(() => o.close());
  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;

  it('buys once for one key, charges first, and turns active when the exchange says so', async () => {
    const before = await balance();
    const [a, b] = await Promise.all([
      o.app.orders.order(o.admin, o.business, OFFER.e164, 'Desk', 'key-1'),
      o.app.orders.order(o.admin, o.business, OFFER.e164, 'Desk', 'key-1'),
    ]);
    expect(a.id).toBe(b.id);
    expect(before - (await balance())).toBe(2_300_000);
    await o.settle();
    expect(o.outside.orders).toEqual([a.id]);
    expect(a.nextStep.action).toBe('wait');
    await o.hear({ kind: 'order.filled', key: a.id, e164: OFFER.e164 });
    const now = await o.app.numbers.get(o.app.platform.db, o.business, a.id);
    expect([now.state, now.nextStep.action, now.clearance]).toEqual(['active', 'tie', 'number-not-tied']);
  });

  it('gives the money back when the order fails, once', async () => {
    const before = await balance();
    const n = await o.app.orders.order(o.admin, o.business, OFFER.e164, '', 'key-1');
    for (let i = 0; i < 2; i++)
      await o.hear({ kind: 'order.failed', key: n.id, e164: OFFER.e164, reason: 'Somebody was faster.' });
    expect(await balance()).toBe(before);
    expect((await o.app.numbers.get(o.app.platform.db, o.business, n.id)).nextStep.why).toContain(
      'Somebody was faster.',
    );
  });

  it('refuses to buy without money or an open account, and says what is missing', async () => {
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = 2000000'));
    await expectAsync(o.app.orders.order(o.admin, o.business, OFFER.e164, '', 'k')).toBeRejectedWithError(
      /0\.30 is missing\. Top up first/,
    );
    await o.app.platform.db.write((w) => w.run(`UPDATE business SET account_state = 'provisional'`));
    await expectAsync(o.app.orders.order(o.admin, o.business, OFFER.e164, '', 'k')).toBeRejectedWithError(
      /bought once it is open/,
    );
    expect((await o.app.numbers.list(o.app.platform.db, o.business)).length).toBe(1);
  });

  it('takes the monthly fee on its day, pauses a number it cannot take it for, and wakes it after a top-up', async () => {
    const n = await o.app.orders.order(o.admin, o.business, OFFER.e164, '', 'key-1');
    await o.hear({ kind: 'order.filled', key: n.id, e164: OFFER.e164 });
    const state = async (): Promise<string> => (await o.app.numbers.get(o.app.platform.db, o.business, n.id)).state;
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
    const draft = await o.app.registration.addCampaign(o.admin, o.business, 'Draft', 'marketing');
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
    await expectAsync(o.app.registration.submitBrand(o.admin, o.business, 'k1')).toBeRejectedWith(
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
    const saved = await o.app.registration.saveBrand(o.admin, o.business, d.brand.version, body, '36-1234567');
    expect(saved.findings).toEqual([]);
    expect(saved.taxNumberMasked).toBe('••-•••4567');
    await expectAsync(
      o.app.registration.saveBrand(o.admin, o.business, d.brand.version, body, undefined),
    ).toBeRejectedWith(jasmine.objectContaining({ status: 412 }));
    const before = await balance();
    await Promise.all([
      o.app.registration.submitBrand(o.admin, o.business, 'k2'),
      o.app.registration.submitBrand(o.admin, o.business, 'k2'),
    ]);
    expect(before - (await balance())).toBe(46_000_000);
    await expectAsync(
      o.app.registration.saveBrand(o.admin, o.business, saved.version + 1, body, undefined),
    ).toBeRejectedWithError(/in review/);
    await o.hear({
      kind: 'brand.declined',
      key: `${saved.id}:1`,
      reasons: [{ field: 'taxNumber', code: 'name-number-mismatch', message: 'Another name.' }],
    });
    const declined = (await o.app.registration.dossier(o.business)).brand;
    expect([declined.state, declined.reasons[0]?.field]).toEqual(['declined', 'taxNumber']);
    await o.app.businesses.topUp(o.admin, o.business, 90_000_000, 'more');
    await o.app.registration.submitBrand(o.admin, o.business, 'k3');
    await o.hear({ kind: 'brand.registered', key: `${saved.id}:1`, score: 10 });
    expect((await o.app.registration.dossier(o.business)).brand.state)
      .withContext('an answer to an older try')
      .toBe('in review');
    await o.hear({ kind: 'brand.registered', key: `${saved.id}:2`, score: 71 });
    const registered = (await o.app.registration.dossier(o.business)).brand;
    expect([registered.state, registered.score]).toEqual(['registered', 71]);
    await expectAsync(
      o.app.registration.saveBrand(
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
    await o.app.registration.saveBrand(
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
    await o.app.registration.submitBrand(o.admin, o.business, 'k');
    for (const table of ['audit', 'outbox', 'brand', 'job']) {
      const rows = await o.app.platform.db.all(`SELECT * FROM ${table}`);
      expect(JSON.stringify(rows)).withContext(table).not.toContain('1234567');
    }
  });
});
