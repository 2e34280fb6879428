import type { TextabilityPolicyView } from '@long-gate/contracts';
import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

const LOOKUP = 5_500;

describe('who pays for questions about numbers', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  let agency: string;
  beforeEach(async () => {
    o = await Office.open();
    agency = await o.app.platform.db.write(async (w) => {
      const id = await o.app.businesses.add(
        w,
        { id: o.admin.id, name: o.admin.name },
        { legalName: 'Larch Desk LLC', nameLine: 'Larch Desk', form: 'private company' },
      );
      await o.member(w, o.admin.id, 'administrator', id);
      return id;
    });
    await o.app.businesses.topUp(o.admin, agency, 1_000_000, 'first');
    door = await o.door();
    v = await door.visitor(o.admin.id);
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const at = (id = o.business): string => `/businesses/${id}/textability`;
  type Policy = TextabilityPolicyView & { version: number; payer: string; paysFor: { id: string; name: string }[] };
  const policy = async (id = o.business): Promise<Policy> => (await v.ask('GET', at(id))).body as unknown as Policy;
  const paidBy = async (payer: string, as = v) => {
    const { version, payer: _, paysFor: __, ...kept } = await policy();
    return as.ask('PUT', at(), { ...kept, paidBy: payer }, { 'if-match': `"${version}"` });
  };
  const balances = async (): Promise<number[]> => {
    const of = async (id: string): Promise<number> => (await o.app.businesses.row(o.app.platform.db, id)).balance;
    return [await of(o.business), await of(agency)];
  };
  const statement = async (id: string): Promise<string[]> => {
    const { items } = await o.app.money.page(id, { limit: 50 });
    return items.filter((e) => e.objectKind === 'lookups').map((e) => `${e.what} | ${e.amount}`);
  };
  const strangers = (n: number): Promise<void> =>
    o.app.platform.db.write(async (w) => {
      for (let i = 0; i < n; i++)
        await o.app.contacts.ensure(w, o.admin, o.business, `+1212555${String(100 + i).padStart(4, '0')}`, {
          firstName: 'Ada',
        });
    });

  it('is the business itself, on whose statement they stand', async () => {
    await strangers(3);
    const [own = 0, other = 0] = await balances();
    await o.app.lookups.start(o.admin, o.business, {}, 'wish-one');
    await o.settle();
    expect(await balances()).toEqual([own - 3 * LOOKUP, other]);
    expect(await statement(o.business)).toEqual([`lookups | ${-3 * LOOKUP}`]);
  });

  it('is another where its administrator says so: both statements tell, and the money is the payer’s', async () => {
    expect((await paidBy(agency)).status).toBe(200);
    expect((await policy()).payer).toBe('Larch Desk LLC');
    expect((await policy(agency)).paysFor).toEqual([{ id: o.business, name: 'Heron Lane Bakery LLC' }]);
    await strangers(130);
    const [own = 0, other = 0] = await balances();
    expect((await o.app.lookups.estimate(o.business, {})).balance).toBe(other);
    await o.app.lookups.start(o.admin, o.business, {}, 'wish-one');
    await o.later(60_000);
    expect(await balances()).toEqual([own, other - 130 * LOOKUP]);
    expect(await statement(agency)).toEqual([`lookups for Heron Lane Bakery LLC | ${-130 * LOOKUP}`]);
    expect(await statement(o.business)).toEqual(['lookups: 130 for 0.715, paid by Larch Desk LLC | 0']);
    await o.app.lookups.one(o.business, '+12125550100', 'optin:1');
    await o.app.lookups.one(o.business, '+12125550100', 'optin:1');
    expect(await balances()).toEqual([own, other - 131 * LOOKUP]);
    // Whoever pays by now: what was paid once is not paid again.
    await paidBy('');
    await o.app.lookups.one(o.business, '+12125550100', 'optin:1');
    expect(await balances()).toEqual([own, other - 131 * LOOKUP]);
  });

  it('is never a business that whoever says so does not administer', async () => {
    const stranger = await o.person('Quill', 'administrator');
    const refused = await paidBy(agency, await door.visitor(stranger.id));
    expect([refused.status, JSON.stringify(refused.body)]).toEqual([422, jasmine.stringContaining('paidBy')] as never);
    expect((await paidBy(o.business)).status).toBe(422);
    expect((await policy()).payer).toBe('');
    // What stands is left as it is by others who save.
    expect((await paidBy(agency)).status).toBe(200);
    expect((await paidBy(agency, await door.visitor(stranger.id))).status).toBe(200);
  });

  it('pauses where the payer’s money ends, says whose it is, and goes on with it', async () => {
    await paidBy(agency);
    await strangers(4);
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = $1 WHERE id = $2', [LOOKUP, agency]));
    const { jobId } = await o.app.lookups.start(o.admin, o.business, {}, 'wish-one');
    await o.settle();
    const job = () =>
      o.app.platform.db.one<{ state: string; error: string }>('SELECT state, error FROM job WHERE id = $1', [jobId]);
    expect((await job())?.state).toBe('paused');
    expect((await job())?.error).toContain('Larch Desk LLC pays for this');
    await o.app.businesses.topUp(o.admin, agency, 1_000_000, 'more');
    await o.settle();
    expect((await job())?.state).toBe('done');
  });

  it('ends by the payer’s wish, and both trails tell', async () => {
    await paidBy(agency);
    expect((await v.ask('POST', `${at(agency)}/paid/${o.business}/end`)).status).toBe(200);
    expect((await policy()).payer).toBe('');
    expect((await v.ask('POST', `${at(agency)}/paid/${o.business}/end`)).status).toBe(404);
    const trail = await o.app.platform.db.all<{ b: string }>(
      `SELECT business_id AS b FROM audit WHERE action = 'lookups paid by themselves again'`,
    );
    expect(trail.map((x) => x.b).sort()).toEqual([agency, o.business].sort());
  });
});
