import { Op } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { pageOf } from '../../platform/keyset.js';
import { threadTable, type ThreadModel } from './model.js';

export async function threadOf(r: Reader, businessId: string, e164: string): Promise<ThreadModel | null> {
  return r.of(threadTable).findOne({ where: { businessId, e164 } });
}

const unreadOnly = { unread: { [Op.gt]: 0 } };

/** A page of conversations, that with the last word first. */
export async function threadsOf(
  r: Reader,
  businessId: string,
  unread: boolean,
  cursor: string | undefined,
  limit: number,
): Promise<{ rows: ThreadModel[]; next: string | null }> {
  return pageOf(r.of(threadTable), {
    where: { businessId, ...(unread ? unreadOnly : {}) },
    order: [
      { by: 'last_at', down: true, is: 'number' },
      { by: 'e164', down: false, is: 'text' },
    ],
    cursor,
    limit,
  });
}

export async function countThreads(r: Reader, businessId: string): Promise<number> {
  return r.of(threadTable).count({ where: { businessId } });
}

export async function countUnread(r: Reader, businessId: string): Promise<number> {
  return r.of(threadTable).count({ where: { businessId, ...unreadOnly } });
}

/** Something came in: its conversation goes to the head, with one more unread. */
export async function noteIncoming(
  w: Writer,
  t: { businessId: string; e164: string; numberId: string; at: number; text: string },
): Promise<void> {
  const known = await threadOf(w, t.businessId, t.e164);
  const last = { numberId: t.numberId, lastAt: t.at, lastText: t.text };
  if (known) await known.update({ ...last, unread: known.unread + 1 });
  else await w.of(threadTable).create({ businessId: t.businessId, e164: t.e164, ...last, unread: 1 });
}
