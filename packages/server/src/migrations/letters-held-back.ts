import type { QueryInterface } from 'sequelize';
import { addColumn, text } from '../platform/table.js';

/** What became of a letter that asks for a better number is kept as with invitations. */
export async function lettersHeldBack(qi: QueryInterface): Promise<void> {
  for (const column of ['failed', 'why']) await addColumn(qi, 'number_request', column, text(''));
}
