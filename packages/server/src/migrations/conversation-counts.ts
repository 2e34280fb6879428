import type { QueryInterface } from 'sequelize';
import { createTable, key, text, trigger, whole } from '../platform/table.js';
import { countRows } from './first/counts.js';

/** How a conversation stands, whatever the time is. */
const stands = (r: string): string =>
  `CASE WHEN ${r}waits_until IS NOT NULL THEN 'open' WHEN ${r}handled = '' THEN 'answered' ELSE 'by itself' END`;

/** Conversations were counted for each page of the inbox, by how they stand; among 200,000 that took longer than the page. */
export async function conversationCounts(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'thread_count', { businessId: key(text()), standing: key(text()), n: whole() });
  await qi.sequelize.query(
    `INSERT INTO thread_count (business_id, standing, n) SELECT business_id, ${stands('')}, count(*) FROM thread GROUP BY 1, 2`,
  );
  const counted = countRows('thread_count', 'business_id, standing', {
    table: 'thread',
    row: (r) => `${r}.business_id, ${stands(`${r}.`)}`,
    of: 'waits_until, handled',
  });
  for (const t of counted) await trigger(qi, t);
}
