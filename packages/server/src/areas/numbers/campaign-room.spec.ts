import { Office } from '../../testing/office.js';

describe('the room of a campaign', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
    await o.app.platform.db.write(async (w) => {
      // With the office's own that makes 49.
      for (let i = 0; i < 48; i++)
        await w.run(
          `INSERT INTO number (id, business_id, e164, state, campaign_id, tie_state, ordered_at, active_at) VALUES ($1,$2,$3,'active',$4,'attached',0,0)`,
          [`num_${i}`, o.business, `+1201555${String(2000 + i)}`, o.campaign],
        );
      await w.run(
        `INSERT INTO number (id, business_id, e164, state, ordered_at, active_at) VALUES ('num_next',$1,'+12015550143','active',0,0)`,
        [o.business],
      );
    });
  });
  afterEach(() => o.close());

  const tie = () => o.app.ties.tie(o.admin, o.business, 'num_next', o.campaign);
  const use = async (code: string): Promise<void> => {
    const { body } = await o.app.registration.campaigns.one(o.business, o.campaign);
    await o.app.platform.db.write((w) =>
      w.run('UPDATE campaign SET body = $1', [JSON.stringify({ ...body, useCase: code })]),
    );
  };

  it('is 49 numbers, and any number of them in a pool', async () => {
    await expectAsync(tie()).toBeRejectedWithError(/at most 49 numbers/);
    await use('number-pool');
    expect((await tie()).campaignId).toBe(o.campaign);
    const { steps } = await o.app.basket.basket(o.admin, o.business);
    expect(steps.map((s) => s.title).join(' ')).not.toContain('another campaign');
  });

  it('is not exceeded by a release that is taken back', async () => {
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    await tie();
    await o.app.releases.takeBack(o.admin, o.business, o.number);
    const back = await o.app.numbers.get(o.app.platform.db, o.business, o.number);
    expect([back.state, back.campaignId, back.tieState, back.note]).toEqual([
      'active',
      null,
      'none',
      jasmine.stringContaining('at most 49 numbers'),
    ] as never);
  });

  it('of a sole proprietor is one number', async () => {
    await o.app.registration.brands.ensure(o.business);
    const { brand } = await o.app.registration.dossier(o.business);
    await o.app.platform.db.write((w) =>
      w.run('UPDATE brand SET body = $1', [JSON.stringify({ ...brand.body, form: 'sole proprietor' })]),
    );
    await expectAsync(tie()).toBeRejectedWithError(/at most 1 number\./);
  });
});
