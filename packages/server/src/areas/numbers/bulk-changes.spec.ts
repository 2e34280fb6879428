import { Office } from '../../testing/office.js';

describe('changes of several numbers', () => {
  let o: Office;
  let other = '';
  beforeEach(async () => {
    o = await Office.open();
    other = (await o.app.registration.campaigns.add(o.admin, o.business, 'Alerts', 'marketing')).id;
    await set(`UPDATE campaign SET state = 'registered'`);
    for (const [id, state, campaign] of [
      ['num_free', 'active', null],
      ['num_paused', 'paused', null],
    ] as const)
      await o.app.platform.db.write((w) =>
        w.run(
          `INSERT INTO number (id, business_id, e164, state, campaign_id, ordered_at, active_at) VALUES ($1,$2,$3,$4,$5,0,0)`,
          [id, o.business, `+1973555010${id.length % 10}`, state, campaign],
        ),
      );
  });
  afterEach(() => o.close());

  const set = (sql: string) => o.app.platform.db.write((w) => w.run(sql));
  const number = (id: string) => o.app.numbers.get(o.app.platform.db, o.business, id);
  const ids = ['num_free', 'num_paused', 'num_spec'];

  it('say beforehand what is skipped and why, and what is out of service for moving', async () => {
    const would = await o.app.bulk.preview(o.business, { ids, campaignId: other });
    expect(would).toEqual({
      change: 2,
      skipped: [{ e164: (await number('num_paused')).e164, why: 'Only an active number can be tied to a campaign.' }],
      interrupted: [o.ours],
      undoable: false,
    });
    const same = await o.app.bulk.preview(o.business, { ids: ['num_spec'], campaignId: o.campaign });
    expect(same.skipped[0]?.why).toContain('in “News” already');
  });

  it('count the room there is over all that are chosen', async () => {
    const [brand] = await o.app.platform.db.all<{ body: string }>(`SELECT body FROM brand`);
    const body = JSON.stringify({ ...(JSON.parse(brand?.body ?? '{}') as object), form: 'sole proprietor' });
    await o.app.platform.db.write((w) => w.run(`UPDATE brand SET state = 'registered', body = $1`, [body]));
    await set(`UPDATE number SET campaign_id = NULL, state = 'active'`);
    const would = await o.app.bulk.preview(o.business, { ids, campaignId: other });
    expect([would.change, would.skipped.length]).toEqual([1, 2]);
    const done = await o.app.bulk.change(o.admin, o.business, { ids, campaignId: other });
    expect([done.changed, done.refused.length]).toEqual([1, 2]);
  });

  it('skip what single ones refuse, and are taken back where that is possible', async () => {
    const done = await o.app.bulk.change(o.admin, o.business, { ids, campaignId: other });
    expect([done.changed, done.refused.map((r) => r.why)]).toEqual([
      2,
      ['Only an active number can be tied to a campaign.'],
    ]);
    expect(done.undo).toEqual([{ id: 'num_free', outOf: other }]);
    await o.app.bulk.undo(o.admin, o.business, done.undo);
    expect((await number('num_free')).campaignId).toBeNull();
    expect((await number('num_spec')).campaignId).toBe(other);
  });

  it('give labels back as they were', async () => {
    await o.app.numbers.edit(o.admin, o.business, 'num_free', null, { label: 'Quay', description: 'kept' });
    const done = await o.app.bulk.change(o.admin, o.business, { ids, label: 'Counter' });
    expect(done.changed).toBe(3);
    await o.app.bulk.undo(o.admin, o.business, done.undo);
    const back = await number('num_free');
    expect([back.label, back.description]).toEqual(['Quay', 'kept']);
  });
});
