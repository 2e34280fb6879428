import type { QueryInterface } from 'sequelize';
import { createTable, big, key, text, whole, index } from '../../platform/table.js';

export async function inbox(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'thread', {
    businessId: key(text()),
    e164: key(text()),
    numberId: text(),
    lastAt: big(),
    lastText: text(),
    unread: whole(0),
  });
  await index(qi, 'thread', 'thread_order', ['business_id', 'last_at DESC']);
  await index(qi, 'thread', 'thread_unread', ['business_id', 'last_at DESC'], { where: 'unread > 0' });
}
