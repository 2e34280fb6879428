import { Office } from '../../testing/office.js';

describe('the inbox', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const people = Array.from({ length: 7 }, (_, i) => `+1212555015${i}`);
  const page = (cursor?: string, unread = false) => o.app.inbox.threads(o.business, unread, cursor, 3);

  it('goes on after the conversation a page ended with, whatever comes to its head meanwhile', async () => {
    for (const e164 of people) await o.text(e164, 'Is the rye loaf back?');
    const first = await page();
    expect([first.items.length, first.total, first.unread]).toEqual([3, 7, 7]);
    // Somebody new, and one who stood further down.
    await o.text('+12125550160', 'Hello');
    await o.text(people[0] ?? '', 'And the seeded one?');
    const second = await page(first.next ?? '');
    const seen = [...first.items, ...second.items].map((t) => t.e164);
    expect(new Set(seen).size).withContext('none comes twice').toBe(seen.length);
    expect([...seen].sort())
      .withContext('none that stayed is passed over')
      .toEqual(people.slice(1).sort());
    expect(second.next).toBeNull();
    expect((await page()).items.map((t) => t.e164).slice(0, 2)).toEqual([people[0] ?? '', '+12125550160']);
  });

  it('keeps conversations of one moment apart, by their numbers', async () => {
    for (const e164 of people) await o.text(e164, 'Hello');
    await o.app.platform.db.write((w) => w.run('UPDATE thread SET last_at = $1', [o.now]));
    const seen: string[] = [];
    for (let cursor: string | null | undefined; cursor !== null;) {
      const { items, next } = await page(cursor);
      seen.push(...items.map((t) => t.e164));
      cursor = next;
    }
    expect(seen).toEqual(people);
  });

  it('shows those alone that wait to be read, and counts them', async () => {
    for (const e164 of people) await o.text(e164, 'Hello');
    for (const e164 of people.slice(0, 5)) await o.app.inbox.markRead(o.admin, o.business, e164, true);
    const { items, total, unread, next } = await page(undefined, true);
    expect([items.map((t) => t.e164), total, unread, next]).toEqual([people.slice(5).reverse(), 2, 2, null]);
  });

  it('refuses a place in a list that is none of its own', async () => {
    for (const cursor of ['7', 'x', Buffer.from('["a","b"]').toString('base64url')])
      await expectAsync(page(cursor)).toBeRejectedWithError(/no place in this list/);
  });
});
