import { Office } from '../../testing/office.js';

const MOBILE = '+12015550190';

describe('a test of a draft', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
    await o.contact('+12125550123', ['informational']);
  });
  afterEach(() => o.close());

  const test = (id: string, key: string, mobile = MOBILE) =>
    o.app.sending.test(o.admin, mobile, o.business, id, key, '192.0.2.7');
  const traces = async () => {
    const { db } = o.app.platform;
    const count = async (table: string) => (await db.one<{ n: number }>(`SELECT count(*) AS n FROM ${table}`))?.n ?? 0;
    return {
      contacts: await count('contact'),
      numbers: await count('contact_number'),
      messages: await count('message'),
      money: await count('money_entry'),
      lookups: o.outside.lookups.length,
    };
  };

  it('goes to one’s own mobile, once for one key, and is paid like any text', async () => {
    const d = await o.app.drafts.add(o.admin, o.business, await o.draft());
    await test(d.id, 'wish-one');
    await test(d.id, 'wish-one').catch(() => undefined);
    await o.settle();
    await o.later(10_000);
    expect(o.sentTo(MOBILE).length).toBe(1);
    expect(new Set(o.outside.lookups.filter((l) => l.e164 === MOBILE).map((l) => l.key)).size).toBe(1);
  });

  it('that is refused costs nothing and leaves nothing', async () => {
    const unready = await o.app.drafts.add(o.admin, o.business, await o.draft({ numberId: null }));
    const before = await traces();
    await expectAsync(test('dsp_nobody', 'wish-one')).toBeRejectedWith(jasmine.objectContaining({ status: 404 }));
    await expectAsync(test(unready.id, 'wish-two')).toBeRejectedWithError(/Choose the sending number/);
    await expectAsync(test(unready.id, 'wish-three', '')).toBeRejectedWithError(/own mobile first/);
    expect(await traces()).toEqual(before);
  });

  it('is sent twenty times an hour to one person, not more', async () => {
    const d = await o.app.drafts.add(o.admin, o.business, await o.draft());
    for (let i = 0; i < 20; i++) await test(d.id, `wish-${i}`);
    await expectAsync(test(d.id, 'wish-20')).toBeRejectedWith(jasmine.objectContaining({ status: 429 }));
  });
});
