import type { QueryInterface } from 'sequelize';
import { createTable, key, text, trigger, whole } from '../platform/table.js';

const COLUMNS = 'business_id, week, number_id, step';
const add = (r: 'NEW' | 'OLD', n: string): string =>
  `INSERT INTO text_latency_week (${COLUMNS}, n) VALUES (${r}.business_id, ${r}.day / 7, ${r}.number_id, ${r}.step, ${n})
   ON CONFLICT (${COLUMNS}) DO UPDATE SET n = text_latency_week.n + ${n}`;

/**
 * How long delivery took, also by weeks of seven days from the epoch: what is asked over a quarter would add up seven
 * times as many rows by day. Follows the counts by day, whatever changes them.
 */
export async function latencyWeeks(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'text_latency_week', {
    businessId: key(text()),
    week: key(whole()),
    numberId: key(text()),
    step: key(whole()),
    n: whole(),
  });
  await qi.sequelize.query(
    `INSERT INTO text_latency_week (${COLUMNS}, n) SELECT business_id, day / 7, number_id, step, sum(n) FROM text_latency GROUP BY 1, 2, 3, 4`,
  );
  const on = { table: 'text_latency' };
  await trigger(qi, { ...on, name: 'text_latency_week_insert', when: 'AFTER INSERT', run: [add('NEW', 'NEW.n')] });
  await trigger(qi, { ...on, name: 'text_latency_week_delete', when: 'AFTER DELETE', run: [add('OLD', '-OLD.n')] });
  await trigger(qi, {
    ...on,
    name: 'text_latency_week_update',
    when: 'AFTER UPDATE OF n',
    run: [add('NEW', '(NEW.n - OLD.n)')],
  });
  if (qi.sequelize.getDialect() !== 'sqlite') return;
  await qi.sequelize.query(
    `INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES ('text_latency_week', 'sqlite_autoindex_text_latency_week_1', '150000 75000 1000 100 1')`,
  );
  await qi.sequelize.query('ANALYZE sqlite_schema');
}
