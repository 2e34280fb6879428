import type { QueryInterface } from 'sequelize';
import { dropTrigger, index } from '../platform/table.js';
import { tellFigures } from './figures-of-indexes.js';

/** Its index holds the three that decide, in this order. */
const STANDING = ['textable', 'consent_informational', 'consent_promotional'];

/**
 * Contacts had an index in the order of names for each of the three that decide who may be texted, and the ledger one
 * for kinds and one for ways. One index of all three has a stretch for each way to stand; stretches are merged, so that
 * any filter by these is answered by it alone, and who changes has one entry moved instead of one in each. So with kinds
 * and ways of events, which are counted once for all that are appended together, no more by a trigger for each.
 */
export async function fewerIndexes(qi: QueryInterface): Promise<void> {
  for (const column of STANDING) await qi.removeIndex('contact_number', `contact_number_by_${column}`);
  const names = ['sort_name', 'contact_id', 'id'];
  await index(qi, 'contact_number', 'contact_number_standing', ['business_id', ...STANDING, ...names]);
  for (const by of ['kind', 'how']) await qi.removeIndex('consent_event', `consent_event_${by}`);
  await index(qi, 'consent_event', 'consent_event_way', ['business_id', 'kind', 'how', 'seq']);
  await dropTrigger(qi, { name: 'consent_count_insert', table: 'consent_event' });
  await tellFigures(qi, {
    contact_number: { contact_number_standing: '1000000 500000 150000 60000 25000 25 1 1' },
    consent_event: { consent_event_way: '2000000 1000000 400000 200000 1' },
  });
}
