import type { QueryInterface } from 'sequelize';
import { addColumn, big, createTable, index, key, maybe, oneOf, refers, text, whole } from '../platform/table.js';

/** When a dispatch is to leave and what was confirmed of it; what colleagues group dispatches by; the archive. */
export async function sendingLater(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'dispatch_schedule', {
    dispatchId: refers(key(text()), 'dispatch'),
    businessId: refers(text(), 'business'),
    local: text(),
    zone: oneOf(['business', 'own']),
    at: big(),
    reach: whole(),
    cost: big(),
    byId: text(),
    byName: text(),
    held: text(''),
  });
  await index(qi, 'dispatch_schedule', 'dispatch_schedule_business', ['business_id', 'at']);
  await addColumn(qi, 'dispatch', 'category', text(''));
  await addColumn(qi, 'dispatch', 'effort', text(''));
  await addColumn(qi, 'dispatch', 'archivedAt', maybe(big()));
  await addColumn(qi, 'dispatch', 'ownTime', maybe(text()));
}
