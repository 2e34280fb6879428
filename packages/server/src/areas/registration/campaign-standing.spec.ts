import { GatewayRefused } from '@long-gate/gateways';
import { Office } from '../../testing/office.js';
import { Registering } from '../../testing/registering.js';

const DAY = 86_400_000;
const SORRY = 'We removed everybody who had not joined by themselves, and no longer text that list.';
const REASONS = [{ field: '', code: 'stops-too-many', message: '9 people of 40 asked for no more texts.' }];

describe('a registered campaign', () => {
  let o: Office;
  let r: Registering;
  let id: string;
  beforeEach(async () => {
    r = await Registering.open();
    ({ o } = r);
    await o.app.businesses.topUp(o.admin, o.business, 900_000_000, 'more');
    await r.registeredBrand();
    id = await r.readyCampaign();
    await o.app.registration.campaigns.submit(o.admin, o.business, id, 'wish-campaign');
    await o.hear({ kind: 'campaign.registered', key: `${id}:1` });
    await o.app.platform.db.write((w) => w.run(`UPDATE number SET campaign_id = $1 WHERE id = $2`, [id, o.number]));
  });
  afterEach(() => o.close());

  const clearance = async () => (await o.app.numbers.sender(o.app.platform.db, o.business, o.number)).clearance;

  it('that is suspended closes the gate at once, is answered once at a time, and opens when that is lifted', async () => {
    const { campaignStanding } = o.app.registration;
    expect(await clearance()).toBe('cleared');
    await expectAsync(campaignStanding.answer(o.admin, o.business, id, 'k', SORRY)).toBeRejectedWithError(
      /not suspended/,
    );
    // Told of an earlier try of the campaign's: its numbers were tied then.
    await o.hear({ kind: 'campaign.suspended', key: `${id}:0`, reasons: REASONS });
    expect([await clearance(), (await r.campaign(id)).state]).toEqual(['registration-suspended', 'suspended']);
    expect((await r.campaign(id)).halt?.reasons).toEqual(REASONS);
    await campaignStanding.answer(o.admin, o.business, id, 'k', SORRY);
    await campaignStanding.answer(o.admin, o.business, id, 'k', SORRY);
    await o.settle();
    expect(o.outside.registrarAsked.size).toBe(1);
    await expectAsync(campaignStanding.answer(o.admin, o.business, id, 'k2', `${SORRY} Truly.`)).toBeRejectedWithError(
      /with the registrar/,
    );
    const since = (await r.campaign(id)).halt?.since;
    await o.later(DAY);
    await o.hear({
      kind: 'campaign.suspended',
      key: `${id}:1`,
      reasons: [{ ...REASONS[0]!, code: 'answer-insufficient' }],
    });
    expect([(await r.campaign(id)).halt?.since, (await r.campaign(id)).halt?.answeredAt]).toEqual([since, null]);
    await campaignStanding.answer(o.admin, o.business, id, 'k3', `${SORRY} Truly.`);
    await o.hear({ kind: 'campaign.reinstated', key: `${id}:1` });
    expect([await clearance(), (await r.campaign(id)).halt]).toEqual(['cleared', null]);
  });

  it('stands for a year, can be renewed in its last thirty days, and closes the gate where it is not', async () => {
    const { campaignStanding } = o.app.registration;
    const { renewsAt } = await r.campaign(id);
    expect(Math.round(((renewsAt ?? 0) - o.now) / DAY)).toBe(365);
    await expectAsync(campaignStanding.renew(o.admin, o.business, id)).toBeRejectedWithError(/last 30 days/);
    await o.later(336 * DAY);
    const renewals = o.outside.registrar.renewCampaign;
    o.outside.registrar.renewCampaign = () => Promise.reject(new GatewayRefused('Not today.', 'closed'));
    await campaignStanding.renew(o.admin, o.business, id);
    await o.settle();
    expect((await r.campaign(id)).renewalAskedAt).toBeNull();
    o.outside.registrar.renewCampaign = renewals;
    await campaignStanding.renew(o.admin, o.business, id);
    await campaignStanding.renew(o.admin, o.business, id);
    await o.settle();
    expect(o.outside.registrarAsked.size).toBe(1);
    await o.hear({ kind: 'campaign.renewed', key: `${id}:1` });
    expect((await r.campaign(id)).renewsAt)
      .withContext('who is early loses no day')
      .toBe((renewsAt ?? 0) + 365 * DAY);
    await o.hear({ kind: 'campaign.renewed', key: `${id}:1` });
    expect((await r.campaign(id)).renewsAt).toBe((renewsAt ?? 0) + 365 * DAY);
    await o.app.platform.db.write((w) => w.run('UPDATE campaign SET renews_at = $1 WHERE id = $2', [o.now + DAY, id]));
    expect(await clearance()).toBe('cleared');
    await o.later(DAY + 1);
    expect([await clearance(), (await r.campaign(id)).state]).toEqual(['registration-expired', 'expired']);
    const { matters } = await o.app.today.get(o.business);
    expect(JSON.stringify(matters)).toContain('The year of campaign News is over');
    await campaignStanding.renew(o.admin, o.business, id);
    await o.hear({ kind: 'campaign.renewed', key: `${id}:1` });
    expect(await clearance()).toBe('cleared');
  });

  it('that is suspended stops what a queued dispatch has not sent, and Today says so', async () => {
    const people = Array.from({ length: 12 }, (_, i) => `+1212555${String(200 + i).padStart(4, '0')}`);
    for (const e164 of people) await o.contact(e164, ['informational', 'promotional']);
    const d = await o.app.drafts.add(o.admin, o.business, await o.draft());
    // The registrar suspends while the first texts are on their way.
    o.outside.beforeSend = (text) => {
      if (!o.outside.told.some((e) => e.kind === 'campaign.suspended') && text.text.includes('rye'))
        o.outside.told.push({
          seq: o.outside.told.length + 1,
          at: o.now,
          kind: 'campaign.suspended',
          key: `${id}:1`,
          reasons: REASONS,
        });
      return Promise.resolve();
    };
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    await o.settle();
    const gone = o.outside.sent.length;
    expect(gone).toBeGreaterThan(0);
    expect(gone).toBeLessThan(people.length);
    for (let i = 0; i < 5; i++) await o.later(5_000);
    expect(o.outside.sent.length).withContext('nothing leaves after the no').toBe(gone);
    const { counts } = await o.app.drafts.get(o.business, d.id);
    expect(counts['stopped']).toBe(people.length - gone);
    expect(await o.app.registration.sentTexts(o.business)).toEqual([
      {
        text: 'Heron Lane: The rye loaf is back. Reply STOP to end.',
        at: jasmine.any(Number) as never,
        campaignId: id,
      },
    ]);
    const { matters } = await o.app.today.get(o.business);
    expect(JSON.stringify(matters)).toContain('Campaign News is suspended');
  });
});
