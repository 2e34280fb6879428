import type { QueryInterface } from 'sequelize';
import { createTable, key, text, trigger, whole, type Trigger } from '../platform/table.js';
import { add, take } from './first/counts.js';

const COLUMNS = 'business_id, standing';
/** How a conversation stands, whatever the time is. */
const stands = (r: string): string =>
  `CASE WHEN ${r}waits_until IS NOT NULL THEN 'open' WHEN ${r}handled = '' THEN 'answered' ELSE 'by itself' END`;
const thread = (r: 'NEW' | 'OLD'): string => `${r}.business_id, ${stands(`${r}.`)}`;

const TRIGGERS: Trigger[] = [
  {
    name: 'thread_count_insert',
    table: 'thread',
    when: 'AFTER INSERT',
    run: [add('thread_count', COLUMNS, thread('NEW'))],
  },
  {
    name: 'thread_count_delete',
    table: 'thread',
    when: 'AFTER DELETE',
    run: [take('thread_count', COLUMNS, thread('OLD'))],
  },
  {
    name: 'thread_count_update',
    table: 'thread',
    when: 'AFTER UPDATE OF waits_until, handled',
    only: `(${thread('NEW')}) IS DISTINCT FROM (${thread('OLD')})`,
    run: [take('thread_count', COLUMNS, thread('OLD')), add('thread_count', COLUMNS, thread('NEW'))],
  },
];

/** Conversations were counted for each page of the inbox, by how they stand; among 200,000 that took longer than the page. */
export async function conversationCounts(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'thread_count', { businessId: key(text()), standing: key(text()), n: whole() });
  await qi.sequelize.query(
    `INSERT INTO thread_count (business_id, standing, n) SELECT business_id, ${stands('')}, count(*) FROM thread GROUP BY 1, 2`,
  );
  for (const t of TRIGGERS) await trigger(qi, t);
}
