import type { QueryInterface } from 'sequelize';
import { index } from '../platform/table.js';

const NAMED = ['sort_name', 'contact_id', 'id'];
const FILTERS = ['textable', 'consent_informational', 'consent_promotional'];

/**
 * The indexes in which contacts are walked held each other's filters too, so that one change of consent moved eight
 * entries of four indexes, which took longer than all the rest of recording it. What a second filter says stands in the
 * row; how many rows it leaves is counted, and decides what is walked.
 */
export async function narrowContactIndexes(qi: QueryInterface): Promise<void> {
  const again = async (name: string, columns: string[], figures: string): Promise<void> => {
    await qi.removeIndex('contact_number', name);
    await index(qi, 'contact_number', name, columns);
    if (qi.sequelize.getDialect() !== 'sqlite') return;
    await qi.sequelize.query('DELETE FROM sqlite_stat1 WHERE idx = $1', { bind: [name] });
    await qi.sequelize.query(`INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES ('contact_number', $1, $2)`, {
      bind: [name, figures],
    });
  };
  await again('contact_number_order', ['business_id', ...NAMED], '1000000 500000 300 1 1');
  for (const filter of FILTERS)
    await again(`contact_number_by_${filter}`, ['business_id', filter, ...NAMED], '1000000 500000 150000 100 1 1');
  if (qi.sequelize.getDialect() === 'sqlite') await qi.sequelize.query('ANALYZE sqlite_schema');
}
