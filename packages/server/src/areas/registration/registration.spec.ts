import { Office } from '../../testing/office.js';
import { Registering, SAMPLES } from '../../testing/registering.js';

const HOUR = 3_600_000;
const LONGEST_MONTH = 31 * 24 * HOUR;

describe('registration', () => {
  let o: Office;
  let r: Registering;
  beforeEach(async () => {
    r = await Registering.open();
    ({ o } = r);
  });
  afterEach(() => o.close());

  it('of a brand is refused with its findings before anything is paid or filed', async () => {
    const before = await r.balance();
    await expectAsync(o.app.registration.brands.submit(o.admin, o.business, 'wish-1')).toBeRejectedWith(
      jasmine.objectContaining({ code: 'findings' }),
    );
    expect([await r.balance(), (await r.brand()).state]).toEqual([before, 'draft']);
  });

  it('is of what the confirmation named: a version that changed meanwhile is refused, and nothing is paid', async () => {
    await o.app.businesses.topUp(o.admin, o.business, 100_000_000, 'more');
    await r.readyBrand();
    const seen = (await r.brand()).version;
    await o.app.registration.brands.save(
      o.admin,
      o.business,
      seen,
      { ...(await r.brand()).body, city: 'Northbank' },
      undefined,
    );
    const before = await r.balance();
    const changed = jasmine.objectContaining({ status: 412 });
    await expectAsync(o.app.registration.brands.submit(o.admin, o.business, 'k1', seen)).toBeRejectedWith(changed);
    expect([await r.balance(), (await r.brand()).state]).toEqual([before, 'draft']);
    const { id } = await o.app.registration.brands.submit(o.admin, o.business, 'k1', (await r.brand()).version);
    // The same wish again, whose answer was lost: the version has gone on by the submission itself.
    await o.app.registration.brands.submit(o.admin, o.business, 'k1', seen + 1);
    await o.hear({ kind: 'brand.registered', key: `${id}:1` });
    const campaign = await r.readyCampaign();
    await expectAsync(o.app.registration.campaigns.submit(o.admin, o.business, campaign, 'k2', 1)).toBeRejectedWith(
      changed,
    );
    expect((await o.app.registration.campaigns.one(o.business, campaign)).state).toBe('draft');
  });

  it('of a brand is paid once, locked while it is looked at, and locks name and tax number once verified', async () => {
    await r.readyBrand();
    const before = await r.balance();
    const { id } = await o.app.registration.brands.submit(o.admin, o.business, 'wish-1');
    await o.app.registration.brands.submit(o.admin, o.business, 'wish-1');
    await o.app.registration.brands.submit(o.admin, o.business, 'wish-2');
    expect(before - (await r.balance())).toBe(4_500_000);
    const b = await r.brand();
    await expectAsync(
      o.app.registration.brands.save(o.admin, o.business, b.version, b.body, undefined),
    ).toBeRejectedWithError(/in review/);
    await o.hear({ kind: 'brand.registered', key: `${id}:1` });
    const done = await r.brand();
    expect([done.state, done.score]).toEqual(['registered', null]);
    for (const [body, tax] of [
      [{ ...done.body, legalName: 'Another Bakery LLC' }, undefined],
      [{ ...done.body, form: 'non-profit' as const }, undefined],
      [done.body, '36-7654321'],
    ] as const)
      await expectAsync(
        o.app.registration.brands.save(o.admin, o.business, done.version, body, tax),
      ).toBeRejectedWithError(/locked/);
    await o.app.registration.brands.save(
      o.admin,
      o.business,
      done.version,
      { ...done.body, email: 'desk@heron.example' },
      undefined,
    );
  });

  it('that was declined says why, is mended and paid anew; an answer to an earlier attempt changes nothing', async () => {
    await r.readyBrand();
    const { id } = await o.app.registration.brands.submit(o.admin, o.business, 'wish-1');
    await o.hear({
      kind: 'brand.declined',
      key: `${id}:1`,
      reasons: [{ field: 'legalName', code: 'name-differs', message: 'Not as in the tax record.' }],
    });
    expect([(await r.brand()).state, (await r.brand()).reasons[0]?.field]).toEqual(['declined', 'legalName']);
    await o.app.businesses.topUp(o.admin, o.business, 60_000_000, 'more');
    const before = await r.balance();
    await o.app.registration.brands.submit(o.admin, o.business, 'wish-1');
    expect([(await r.brand()).state, await r.balance()])
      .withContext('the first wish, repeated after its answer')
      .toEqual(['declined', before]);
    await o.app.registration.brands.submit(o.admin, o.business, 'wish-2');
    await o.hear({ kind: 'brand.registered', key: `${id}:1` });
    expect((await r.brand()).state)
      .withContext('the answer to the first attempt')
      .toBe('in review');
    await o.hear({ kind: 'brand.registered', key: `${id}:2` });
    await o.hear({ kind: 'brand.declined', key: `${id}:2`, reasons: [] });
    expect((await r.brand()).state).toBe('registered');
  });

  it('of a campaign waits for the brand, is paid once, and costs its fee each month from the answer on', async () => {
    const id = await r.readyCampaign();
    await expectAsync(o.app.registration.campaigns.submit(o.admin, o.business, id, 'wish-1')).toBeRejectedWithError(
      /once it is registered/,
    );
    await o.app.businesses.topUp(o.admin, o.business, 100_000_000, 'more');
    await r.registeredBrand();
    const before = await r.balance();
    const submitted = await o.app.registration.campaigns.submit(o.admin, o.business, id, 'wish-2');
    await o.app.registration.campaigns.submit(o.admin, o.business, id, 'wish-2');
    expect([submitted.state, before - (await r.balance())]).toEqual(['in review', 15_000_000]);
    for (let i = 0; i < 2; i++) await o.hear({ kind: 'campaign.registered', key: `${id}:1` });
    expect((await o.app.registration.campaigns.one(o.business, id)).state).toBe('registered');
    expect(before - (await r.balance()))
      .withContext('and the first month')
      .toBe(25_000_000);
    await o.later(LONGEST_MONTH + HOUR);
    await o.later(HOUR);
    expect(before - (await r.balance())).toBe(35_000_000);
    // The numbers area's own campaign of the office is registered too, but pays nothing here.
    expect((await o.app.fees.running(o.app.platform.db, o.business)).map((f) => f.kind)).toContain('campaigns');
  });

  it('of a campaign for others than its form is refused, and two people do not overwrite each other', async () => {
    await expectAsync(o.app.registration.campaigns.add(o.admin, o.business, 'Alms', 'charity')).toBeRejectedWithError(
      /only for a non-profit/,
    );
    const c = await o.app.registration.campaigns.add(o.admin, o.business, 'News', 'marketing');
    await o.app.registration.campaigns.save(o.admin, o.business, c.id, c.version, 'First', c.body);
    await expectAsync(
      o.app.registration.campaigns.save(o.admin, o.business, c.id, c.version, 'Second', c.body),
    ).toBeRejectedWith(jasmine.objectContaining({ status: 412 }));
    expect((await o.app.registration.campaigns.one(o.business, c.id)).name).toBe('First');
  });

  it('keeps each version that was submitted with its decision, and a late answer to an earlier one changes none', async () => {
    await o.app.businesses.topUp(o.admin, o.business, 100_000_000, 'more');
    await r.registeredBrand();
    const { campaigns } = o.app.registration;
    const id = await r.readyCampaign();
    const tries = async () =>
      (await campaigns.tries(o.business, id)).map((t) => [
        t.attempt,
        t.state,
        t.body.samples[0] === SAMPLES[0],
        t.reasons.map((r) => r.message),
      ]);
    expect(await tries()).toEqual([]);
    await campaigns.submit(o.admin, o.business, id, 'wish-1');
    await campaigns.submit(o.admin, o.business, id, 'wish-1');
    expect(await tries()).toEqual([[1, 'in review', true, []]]);
    const reasons = [{ field: 'agreement', code: 'x', message: 'Say where.' }];
    await o.hear({ kind: 'campaign.declined', key: `${id}:1`, reasons });
    const before = await r.balance();
    await campaigns.submit(o.admin, o.business, id, 'wish-1');
    expect([(await r.campaign(id)).state, await r.balance()])
      .withContext('the first wish, repeated after its answer')
      .toEqual(['declined', before]);
    const now = await campaigns.one(o.business, id);
    await campaigns.save(o.admin, o.business, id, now.version, 'News', {
      ...now.body,
      samples: ['Heron Lane: rolls at six. Reply STOP to end.', SAMPLES[1] ?? ''],
    });
    await campaigns.submit(o.admin, o.business, id, 'wish-2');
    await o.hear({ kind: 'campaign.registered', key: `${id}:1` });
    expect(await tries()).toEqual([
      [1, 'declined', true, ['Say where.']],
      [2, 'in review', false, []],
    ]);
    await o.hear({ kind: 'campaign.registered', key: `${id}:2` });
    expect((await tries())[1]).toEqual([2, 'registered', false, []]);
    await expectAsync(campaigns.tries('biz_other', id)).toBeRejectedWithError(/does not exist/);
  });

  it('is not begun by an account that is not open', async () => {
    await r.readyBrand();
    await o.app.platform.db.write((w) => w.run(`UPDATE business SET account_state = 'in review'`));
    await expectAsync(o.app.registration.brands.submit(o.admin, o.business, 'wish-1')).toBeRejectedWithError(
      /once it is open/,
    );
  });
});
