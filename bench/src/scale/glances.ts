import { atMost, time } from '../measure.js';
import type { World } from './world.js';

/** What is looked at all day, beside all the contacts there are and all the texts that were ever sent. */
export async function glances(world: World): Promise<void> {
  const { app, business, n } = world;
  const { db } = app.platform;
  const p95 = async (name: string, times: number, ask: () => Promise<unknown>): Promise<void> =>
    atMost(n, name, (await time(ask, times)).p95, 50);
  await p95('Today and course, 95 of 100', 100, () => app.today.get(business));
  await p95('Watch over 90 days', 20, () =>
    Promise.all([
      app.watch.numbers(business, 90),
      app.watch.reasons(business, 90, undefined),
      app.watch.carriers(business, 90, undefined),
      app.watch.days(business, 90, undefined),
    ]),
  );
  await p95('what each number carried in 30 days', 20, () => app.watch.carried(business, 30));
  await p95('Inbox', 20, () => app.inbox.threads(business, undefined, undefined, 50));
  await p95('Inbox, those that wait', 20, () => app.inbox.threads(business, 'waiting', undefined, 50));
  const { items } = await app.inbox.threads(business, undefined, undefined, 50);
  let i = 0;
  const next = (): string => items[i++ % items.length]?.e164 ?? '';
  if (items.length > 0) await p95('a conversation', 50, () => app.inbox.thread(business, next()));
  await p95('dispatches', 20, () => app.drafts.page(business, { limit: 50 }));
  const contacts = (await app.contacts.page(business, { q: 'sea' }, undefined, 100)).items;
  await p95('one contact', 50, () => app.edits.detail(db, business, contacts[i++ % contacts.length]?.id ?? ''));
}
