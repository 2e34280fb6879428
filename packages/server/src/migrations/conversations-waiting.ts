import type { QueryInterface } from 'sequelize';
import { addColumn, big, index, maybe, text } from '../platform/table.js';

/** Until when a conversation waits for an answer, and what carried its last word out by itself. */
export async function conversationsWaiting(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'thread', 'waitsUntil', maybe(big()));
  await addColumn(qi, 'thread', 'handled', text(''));
  await index(qi, 'thread', 'thread_waiting', ['business_id', 'waits_until'], { where: 'waits_until IS NOT NULL' });
  await index(qi, 'thread', 'thread_handled', ['business_id', 'last_at DESC'], { where: "handled <> ''" });
  // What nobody had read was taken for waiting.
  await qi.sequelize.query('UPDATE thread SET waits_until = last_at + 86400000 WHERE unread > 0');
}
