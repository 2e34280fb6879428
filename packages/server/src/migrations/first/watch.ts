import type { QueryInterface } from 'sequelize';
import { createTable, big, index, key, text } from '../../platform/table.js';

export async function watch(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'opt_out', {
    businessId: key(text()),
    e164: key(text()),
    happenedAt: key(big()),
    numberId: text(),
  });
  await index(qi, 'opt_out', 'opt_out_when', ['business_id', 'happened_at', 'e164', 'number_id']);
}
