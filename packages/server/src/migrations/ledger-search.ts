import type { QueryInterface } from 'sequelize';
import { index } from '../platform/table.js';

/** The ledger by the words that were shown, and by when something happened. */
export async function ledgerSearch(qi: QueryInterface): Promise<void> {
  await index(qi, 'consent_event', 'consent_event_words', ['business_id', 'disclosure_version', 'seq']);
  await index(qi, 'consent_event', 'consent_event_happened', ['business_id', 'happened_at', 'seq']);
}
