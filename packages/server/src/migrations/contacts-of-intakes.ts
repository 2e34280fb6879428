import type { QueryInterface } from 'sequelize';
import { addColumn, maybe, text } from '../platform/table.js';

/** By which intake a contact came; of those that are there already it is not known any more. */
export async function contactsOfIntakes(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'contact', 'intakeId', maybe(text()));
}
