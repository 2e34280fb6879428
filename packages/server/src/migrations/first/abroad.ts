import type { QueryInterface } from 'sequelize';
import { createTable, big, key, oneOf, refers, text, whole } from '../../platform/table.js';

export async function abroad(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'country', {
    businessId: refers(key(text()), 'business'),
    code: key(text()),
    state: oneOf(['open', 'closed', 'in review', 'refused']),
    note: text(''),
    attempt: whole(0),
    changedAt: big(),
  });
  await createTable(qi, 'sender_country', {
    numberId: refers(key(text()), 'number'),
    code: key(text()),
    state: oneOf(['free', 'in review', 'registered', 'refused']),
    note: text(''),
    attempt: whole(0),
    changedAt: big(),
  });
}
