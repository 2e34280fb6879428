import type { Behind } from '@long-gate/contracts';
import { postNo, type ReasonCode } from '@long-gate/core';
import { Office } from '../../testing/office.js';

const LOOKUP = 5_500;
const e164s = (from: number, n: number): string[] =>
  Array.from({ length: n }, (_, i) => `+1212555${String(from + i).padStart(4, '0')}`);

describe('the people behind a count', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const which = async (over: Partial<Behind> = {}): Promise<Behind> => ({
    dispatch: { ...(await o.draft()), purpose: 'informational', when: null },
    post: 0,
    result: 'pass',
    reason: null,
    ...over,
  });
  const atConsent = (reason: ReasonCode | null = null): Promise<Behind> =>
    which({ post: postNo('consent'), result: 'stop', reason });
  const all = async (w: Behind, limit: number): Promise<{ e164: string; reason: string | null }[]> => {
    const out = [];
    for (let cursor: string | null | undefined; cursor !== null;) {
      const page = await o.app.behind.page(o.business, w, cursor, limit);
      out.push(...page.items);
      cursor = page.next;
    }
    return out;
  };
  /** On the list, who agreed and were never looked up. */
  const strangers = (numbers: readonly string[]): Promise<void> =>
    o.app.platform.db.write(async (w) => {
      for (const e164 of numbers) {
        const { contactId } = await o.app.contacts.ensure(w, o.admin, o.business, e164, { firstName: 'Ada' });
        const list = await o.app.lists.ensure(w, o.admin, o.business, 'Regulars', 'list');
        await o.app.lists.join(w, list, contactId);
        await o.app.ledger.append(w, o.business, [
          { e164, purposes: ['informational'], kind: 'granted', how: 'paper form', happenedAt: o.now - 1000 },
        ]);
      }
    });

  it('are all there, page after page, none of them twice', async () => {
    const passing = e164s(100, 7);
    for (const e164 of passing) await o.contact(e164, ['informational']);
    // Another state makes another class.
    await o.contact('+13235550144', ['informational']);
    for (const limit of [1, 3, 50]) {
      const found = await all(await which(), limit);
      expect(found.map((x) => x.e164).sort())
        .withContext(`${limit} a page`)
        .toEqual([...passing, '+13235550144'].sort());
    }
    expect((await o.app.behind.page(o.business, await which(), undefined, 2)).total).toBe(8);
  });

  it('come reason by reason, the most frequent first, each with its number and what can be done here', async () => {
    for (const e164 of e164s(100, 3)) await o.contact(e164, []);
    const [left = ''] = e164s(200, 1);
    await o.contact(left, ['informational']);
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(w, o.business, [
        { e164: left, purposes: ['informational'], kind: 'voided', how: 'carrier', happenedAt: o.now },
      ]),
    );
    const { reasons } = await o.app.behind.page(o.business, await atConsent(), undefined, 50);
    expect(reasons.map((r) => [r.reason, r.n, r.remedies])).toEqual([
      ['consent-none', 3, ['ask', 'file a form']],
      ['consent-voided', 1, ['ask']],
    ]);
    expect((await all(await atConsent(), 2)).map((x) => x.reason)).toEqual([
      'consent-none',
      'consent-none',
      'consent-none',
      'consent-voided',
    ]);
    expect((await all(await atConsent('consent-voided'), 2)).map((x) => x.e164)).toEqual([left]);
  });

  it('are those of the time that was chosen, as the count is', async () => {
    for (const e164 of e164s(100, 2)) await o.contact(e164, ['informational']);
    const { dispatch } = await which();
    const night = { local: '2030-03-13T03:00', zone: 'business' as const };
    const counts = (await o.app.preview.preview(o.business, await o.draft(), night)).counts;
    const held = await which({ dispatch: { ...dispatch, when: night }, post: postNo('hours'), result: 'hold' });
    expect([counts.hold, (await all(held, 50)).length]).toEqual([2, 2]);
    expect((await all({ ...held, dispatch: { ...dispatch, when: null } }, 50)).length)
      .withContext('now')
      .toBe(0);
  });

  it('end where the allowance does, on both sides of it, page by page', async () => {
    const people = e164s(100, 6);
    for (const e164 of people) await o.contact(e164, ['informational']);
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = $1', [7_000 * 4]));
    const { counts } = await o.app.preview.preview(o.business, await o.draft());
    const passing = await all(await which(), 1);
    const held = await all(await which({ post: postNo('allowance'), result: 'hold' }), 1);
    expect([counts.pass, counts.hold]).toEqual([passing.length, held.length]);
    expect(held.length).toBeGreaterThan(0);
    expect([...passing, ...held].map((x) => x.e164).sort()).toEqual([...people].sort());
  });

  it('go on where the reader was while others leave the count', async () => {
    const people = e164s(100, 5);
    for (const e164 of people) await o.contact(e164, []);
    const first = await o.app.behind.page(o.business, await atConsent(), undefined, 2);
    await o.text(first.items[0]?.e164 ?? '', 'STOP');
    const rest = await o.app.behind.page(o.business, await atConsent(), first.next ?? '', 50);
    expect([...first.items, ...rest.items].map((x) => x.e164).sort()).toEqual([...people].sort());
    const before = Buffer.from('[-9000000000000000,"",0,0]').toString('base64url');
    for (const cursor of ['x', before])
      await expectAsync(o.app.behind.page(o.business, await atConsent(), cursor, 2)).toBeRejectedWithError(
        /no place in this list/,
      );
  });

  it('are exported whole, with what would lift it, and no formula', async () => {
    for (const e164 of e164s(100, 2)) await o.contact(e164, [], { firstName: '=1+1' });
    let file = '';
    for await (const part of o.app.behind.csv(o.business, await atConsent())) file += part;
    const lines = file.replace('\ufeff', '').trim().split('\n');
    expect(lines.length).toBe(3);
    expect(lines[0]).toBe('phone,name,email,result,why,what would lift it,on file');
    expect(lines[1]).toContain("'=1+1");
    expect(lines[1]).toContain('never agreed to this kind of text');
  });

  it('are looked up, they alone and however lately they were, and then stand elsewhere', async () => {
    await o.contact('+12125550100', ['informational']);
    const never = e164s(200, 3);
    await strangers(never);
    // Somebody who is on no list of this audience.
    await o.app.platform.db.write((w) =>
      o.app.contacts.ensure(w, o.admin, o.business, '+12125550300', { firstName: 'Bea' }),
    );
    const w = await which({ post: postNo('textable'), result: 'hold', reason: 'never-looked-up' });
    expect(await o.app.behind.estimate(o.business, w)).toEqual(
      jasmine.objectContaining({ numbers: 3, cost: 3 * LOOKUP }),
    );
    const { jobId } = await o.app.behind.lookUp(o.admin, o.business, w, 'wish-1');
    expect((await o.app.behind.lookUp(o.admin, o.business, w, 'wish-1')).jobId)
      .withContext('the same wish')
      .toBe(jobId);
    await o.later(60_000);
    expect(o.outside.lookups.map((l) => l.e164).sort()).toEqual(never);
    expect((await all(w, 50)).length).toBe(0);
    // A wish repeated after its answer was lost asks nothing again, though nobody is behind the count any more.
    expect((await o.app.behind.lookUp(o.admin, o.business, w, 'wish-1')).jobId).toBe(jobId);
    await expectAsync(o.app.behind.lookUp(o.admin, o.business, w, 'wish-2')).toBeRejectedWithError(/Nobody is left/);
  });

  it('are put on a tag to be asked, and once only', async () => {
    const people = e164s(100, 4);
    for (const e164 of people) await o.contact(e164, []);
    const tag = async () => o.app.behind.tag(o.admin, o.business, await atConsent('consent-none'), 'to be asked');
    const { listId, added } = await tag();
    expect(added).toBe(4);
    expect(await tag()).toEqual({ listId, added: 0, people: 4 });
    const tags = (await o.app.lists.all(o.app.platform.db, o.business)).filter((l) => l.kind === 'tag');
    expect(tags.map((l) => [l.name, l.count])).toEqual([['to be asked', 4]]);
  });
});
