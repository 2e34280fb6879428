import type { QueryInterface } from 'sequelize';
import { addColumn, big, index, maybe, text } from '../platform/table.js';
import { tellFigures } from './figures-of-indexes.js';

/**
 * A charge that goes on was moved along with each amount, so that the balances behind others did not follow from it any
 * more, and a month that was over changed. It is kept in parts that stay where they began; what was left after each
 * entry is reckoned when it is read.
 */
export async function partsOfCharges(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'money_entry', 'partOf', text(''));
  await addColumn(qi, 'money_entry', 'lastAt', maybe(big()));
  await qi.sequelize.query('UPDATE money_entry SET part_of = id');
  await qi.sequelize.query('ALTER TABLE money_entry DROP COLUMN balance_after');
  await index(qi, 'money_entry', 'money_entry_part', ['part_of', 'n']);
  await index(qi, 'money_entry', 'money_entry_in', ['business_id', 'n'], { where: 'amount > 0' });
  await tellFigures(qi, { money_entry: { money_entry_part: '100000 1 1', money_entry_in: '2000 1000 1' } });
}
