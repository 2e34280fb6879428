import type { QueryInterface } from 'sequelize';

/** Offers are counted by the number they went to, with the index of conversations; the one by contact is read by nobody. */
export async function offersByNumber(qi: QueryInterface): Promise<void> {
  await qi.removeIndex('message', 'message_promotional');
}
