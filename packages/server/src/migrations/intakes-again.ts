import type { QueryInterface } from 'sequelize';
import { addColumn, text } from '../platform/table.js';

/** What an intake was read from, by which its file is known again. */
export async function intakesAgain(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'intake', 'digest', text(''));
}
