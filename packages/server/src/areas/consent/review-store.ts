import { fn, col, Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { replyReviewTable, type ReplyReviewModel } from './model.js';

export async function addReview(w: Writer, review: CreationAttributes<ReplyReviewModel>): Promise<void> {
  await w.of(replyReviewTable).create(review);
}

export async function openReview(r: Reader, businessId: string, id: string): Promise<ReplyReviewModel | null> {
  return r.of(replyReviewTable).scope('open').findOne({ where: { id, businessId } });
}

/** Closes all that is open about a number. */
export async function closeReviewsOf(
  w: Writer,
  businessId: string,
  e164: string,
  state: string,
  at: number,
): Promise<void> {
  await w.of(replyReviewTable).update({ state, decidedAt: at }, { where: { businessId, e164, state: 'open' } });
}

/** Leaves nothing of who wrote them, nor of their words, in what was or is to be read; what was open is over. */
export async function forgetReviews(
  w: Writer,
  businessId: string,
  e164: string,
  inPlace: string,
  at: number,
): Promise<void> {
  const reviews = w.of(replyReviewTable);
  for (const row of await reviews.findAll({ where: { businessId, e164 } }))
    await row.update({
      e164: inPlace,
      reading: { ...row.reading, matched: '' },
      ...(row.state === 'open' ? { state: 'erased', decidedAt: at } : {}),
    });
}

/**
 * Which of these numbers wrote something that nobody has read yet and that may be a wish to stop: not what stopped them
 * at once.
 */
export async function unreadAmong(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<ReplyReviewModel[]> {
  const where = { businessId, e164: [...e164s], about: 'stop' };
  const rows = await r
    .of(replyReviewTable)
    .scope('open')
    .findAll({ where, order: ['at'] });
  return rows.filter((x) => !x.reading.stopped);
}

/** True where something this number wrote may still be a wish to stop. */
export async function inDoubt(r: Reader, businessId: string, e164: string): Promise<boolean> {
  const where = { businessId, e164, about: 'stop' };
  return (
    (await r
      .of(replyReviewTable)
      .scope('open')
      .findOne({ where, attributes: ['id'], raw: true })) !== null
  );
}

/** Which of these numbers wrote something that may still be a wish to stop. */
export async function inDoubtAmong(r: Reader, businessId: string, e164s: readonly string[]): Promise<string[]> {
  const rows = await r
    .of(replyReviewTable)
    .scope('open')
    .findAll({ where: { businessId, e164: [...e164s], about: 'stop' }, attributes: ['e164'], raw: true });
  return [...new Set(rows.map((x) => x.e164))];
}

/** What waits to be read, oldest first. */
export async function openReviews(r: Reader, businessId: string, limit: number): Promise<ReplyReviewModel[]> {
  return r
    .of(replyReviewTable)
    .scope('open')
    .findAll({ where: { businessId }, order: ['at'], limit });
}

/** How many wait to be read, and since when the oldest does. */
export async function waitingReviews(r: Reader, businessId: string): Promise<{ count: number; oldest: number | null }> {
  const open = r.of(replyReviewTable).scope('open');
  const oldest = await open.findOne({ where: { businessId }, order: ['at'], attributes: ['at'], raw: true });
  return { count: await open.count({ where: { businessId } }), oldest: oldest?.at ?? null };
}

/** How many were decided by people, and how many of them were wishes. */
export async function decidedReviews(r: Reader, businessId: string): Promise<{ decided: number; right: number }> {
  const rows = (await r.of(replyReviewTable).findAll({
    where: { businessId, about: 'stop', state: { [Op.in]: ['stop', 'offers', 'no wish'] } },
    attributes: ['state', [fn('count', col('id')), 'n']],
    group: ['state'],
    raw: true,
  })) as unknown as { state: string; n: number }[];
  const sum = (of: typeof rows): number => of.reduce((n, x) => n + x.n, 0);
  return { decided: sum(rows), right: sum(rows.filter((x) => x.state !== 'no wish')) };
}
