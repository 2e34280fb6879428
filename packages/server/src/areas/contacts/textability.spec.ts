import type { TextabilityPolicyView } from '@long-gate/contracts';
import type { LineType } from '@long-gate/core';
import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

const DAY = 86_400_000;
const phone = (i: number): string => `+1212555${String(100 + i).padStart(4, '0')}`;

describe('what a business counts as textable', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    v = await door.visitor(o.admin.id);
    for (const [i, line] of (['mobile', 'voip', 'voip', 'toll-free', 'landline'] as LineType[]).entries()) {
      o.outside.lineTypes.set(phone(i), line);
      await o.contact(phone(i), ['informational'], { firstName: `N${i}` });
      await o.app.lookups.one(o.business, phone(i), `first ${i}`);
    }
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const at = (): string => `/businesses/${o.business}/textability`;
  const policy = async () => (await v.ask('GET', at())).body as unknown as TextabilityPolicyView & { version: number };
  const save = async (over: Partial<TextabilityPolicyView>, version?: number) => {
    const { version: now, ...kept } = await policy();
    return v.ask('PUT', at(), { ...kept, ...over }, { 'if-match': `"${version ?? now}"` });
  };
  const preview = async (over: Partial<TextabilityPolicyView>) => {
    const { version: _, ...kept } = await policy();
    return (await v.ask('POST', `${at()}/preview`, { ...kept, ...over })).body;
  };
  const textable = async (): Promise<string> =>
    (await o.app.platform.db.all<{ t: string }>('SELECT textable AS t FROM contact_number ORDER BY e164'))
      .map((x) => x.t)
      .join(' ');

  it('is VoIP and no toll-free number as shipped; what changes sides is counted before it is saved, and follows', async () => {
    expect(await textable()).toBe('yes yes yes no no');
    expect(await preview({ voip: false, tollFree: true })).toEqual(
      jasmine.objectContaining({ opens: 1, bars: 2, stale: 0 }),
    );
    expect((await save({ voip: false, tollFree: true })).status).toBe(200);
    await o.settle();
    expect(await textable()).toBe('yes no no yes no');
    const unreached = (await v.ask('GET', `/businesses/${o.business}/unreached/numbers?cause=not-textable`)).body;
    expect(unreached['total']).toBe(3);
    expect((await save({ voip: true })).status).toBe(200);
    await o.settle();
    expect(await textable()).toBe('yes yes yes yes no');
    expect((await v.ask('GET', `/businesses/${o.business}/unreached/numbers?cause=not-textable`)).body['total']).toBe(
      1,
    );
  });

  it('is outranked by what came from a number itself, in the count too', async () => {
    await o.text(phone(1), 'Is there rye?');
    expect(await preview({ voip: false })).toEqual(jasmine.objectContaining({ bars: 1 }));
    await save({ voip: false });
    await o.settle();
    expect(await textable()).toBe('yes yes no no no');
  });

  it('is heeded by lookups that come later, and by how long their answers stay good', async () => {
    await save({ voip: false, staleDays: 10 });
    o.outside.lineTypes.set(phone(9), 'voip');
    await o.contact(phone(9), [], { firstName: 'New' });
    await o.app.lookups.one(o.business, phone(9), 'new');
    expect((await o.app.contacts.byAddress(o.app.platform.db, o.business, phone(9)))?.textable).toBe('no');
    await o.later(11 * DAY);
    expect((await o.app.lookups.estimate(o.business, {})).numbers).toBe(6);
    await save({ staleDays: 180 });
    expect((await o.app.lookups.estimate(o.business, {})).numbers).toBe(0);
  });

  it('has new numbers asked about by themselves where it says so, and only then', async () => {
    const asked = (): string[] => o.outside.lookups.map((l) => l.e164);
    await o.app.platform.db.write((w) => o.app.contacts.ensure(w, o.admin, o.business, phone(20)));
    await o.settle();
    expect(asked()).not.toContain(phone(20));
    await save({ automatic: true });
    await o.app.platform.db.write((w) => o.app.contacts.ensure(w, o.admin, o.business, phone(21)));
    await o.settle();
    expect(asked()).toContain(phone(21));
    expect(asked().filter((e) => e === phone(21)).length).toBe(1);
  });

  it('has what is stale asked about again, once a day, where it says so', async () => {
    const before = o.outside.lookups.length;
    await save({ recheck: true, staleDays: 3 });
    await o.later(2 * DAY);
    expect(o.outside.lookups.length).toBe(before);
    await o.later(3 * DAY);
    await o.settle();
    expect(o.outside.lookups.length).toBe(before + 5);
  });

  it('is an administrator’s to change, and two do not overwrite each other', async () => {
    const c = await door.visitor((await o.person('Cora', 'coordinator')).id);
    const { version, ...kept } = await policy();
    expect((await c.ask('PUT', at(), kept, { 'if-match': `"${version}"` })).status).toBe(403);
    expect((await save({ voip: false })).status).toBe(200);
    expect((await save({ tollFree: true }, version)).status).toBe(412);
    expect((await save({ staleDays: 0 })).status).toBe(422);
  });
});
