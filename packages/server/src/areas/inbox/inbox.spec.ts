import type { Thread } from '@long-gate/contracts';
import type { Standing } from '@long-gate/core';
import { Office } from '../../testing/office.js';

const HOUR = 3_600_000;

describe('the inbox', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const people = Array.from({ length: 7 }, (_, i) => `+1212555015${i}`);
  const page = (cursor?: string, which?: Standing) => o.app.inbox.threads(o.business, which, cursor, 3);

  it('goes on after the conversation a page ended with, whatever comes to its head meanwhile', async () => {
    for (const e164 of people) await o.text(e164, 'Is the rye loaf back?');
    const first = await page();
    expect([first.items.length, first.total, first.counts.waiting]).toEqual([3, 7, 7]);
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

  const whoIn = async (which: Standing): Promise<string[]> => (await page(undefined, which)).items.map((t) => t.e164);

  it('has that with the least time left first, until it is too late, and each standing with its count', async () => {
    const [first = '', second = '', third = ''] = people;
    await o.text(first, 'Is the rye loaf back?');
    await o.later(HOUR);
    await o.text(second, 'And the seeded one?');
    await o.later(HOUR);
    // Whoever writes again has the whole time again.
    await o.text(first, 'Hello?');
    await o.text(third, 'Do you open on Sunday?');
    expect(await whoIn('waiting')).toEqual([second, first, third]);
    const [matter] = (await o.app.today.get(o.business)).matters.filter((m) => m.area === 'inbox');
    expect([matter?.title, matter?.count]).toEqual(['3 conversations wait for an answer', 3]);
    await o.app.inbox.answer(o.admin, o.business, third, 'Heron Lane: yes, until noon.', 'answer-1');
    await o.later(23 * HOUR + 1);
    expect((await page()).counts).toEqual({ waiting: 1, 'too late': 1, answered: 1, 'by itself': 0 });
    expect([await whoIn('waiting'), await whoIn('too late'), await whoIn('answered')]).toEqual([
      [first],
      [second],
      [third],
    ]);
  });

  it('keeps apart what was carried out by itself: nobody has to read it', async () => {
    const [stops = '', asks = '', starts = '', both = ''] = people;
    for (const e164 of people.slice(0, 4)) await o.contact(e164, ['informational']);
    await o.text(stops, 'STOP');
    await o.text(asks, 'HELP');
    await o.text(starts, 'Quit');
    await o.text(starts, 'START');
    await o.text(both, 'Is the rye loaf back?');
    await o.text(both, 'HELP');
    const { items } = await page(undefined, 'by itself');
    expect(items.map((t) => [t.e164, t.handled, t.unread]).sort()).toEqual([
      [stops, 'opt-out', 0],
      [asks, 'help', 0],
      [starts, 'start', 0],
    ]);
    expect(await whoIn('waiting'))
      .withContext('HELP answers no other question')
      .toEqual([both]);
    await o.text(both, 'STOP');
    expect(await whoIn('waiting'))
      .withContext('no answer may go any more')
      .toEqual([]);
  });

  it('leaves a wish that somebody has to read with what waits', async () => {
    const [doubtful = ''] = people;
    await o.contact(doubtful, ['informational', 'promotional']);
    await o.text(doubtful, 'please stop sending me offers');
    expect([await whoIn('waiting'), await whoIn('by itself')]).toEqual([[doubtful], []]);
  });

  it('is told that something needs no answer, and that it waits after all, with the time that is left', async () => {
    const [thanks = ''] = people;
    await o.text(thanks, 'Thanks!');
    const until = (await page()).items[0]?.waitsUntil;
    await o.later(HOUR);
    const wait = (waits: boolean): Promise<Thread> => o.app.inbox.setWaiting(o.admin, o.business, thanks, waits);
    expect((await wait(false)).standing).toBe('answered');
    expect((await wait(false)).standing)
      .withContext('twice')
      .toBe('answered');
    expect([(await wait(true)).standing, (await page()).items[0]?.waitsUntil]).toEqual(['waiting', until ?? 0]);
  });

  it('refuses a place in a list that is none of its own', async () => {
    for (const cursor of ['7', 'x', Buffer.from('["a","b"]').toString('base64url')])
      await expectAsync(page(cursor)).toBeRejectedWithError(/no place in this list/);
  });
});
