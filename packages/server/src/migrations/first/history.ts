import type { QueryInterface } from 'sequelize';
import { keepHistory, type KeptFacts } from '../kept-history.js';

/** What the gate reads of a business and its numbers and filings. */
const KEPT: readonly KeptFacts[] = [
  {
    table: 'business',
    business: 'id',
    since: 'created_at',
    facts: [
      'legal_name',
      'name_line',
      'account_state',
      'texts_off',
      'transactional_any_hour',
      'open_countries',
      'time_zone',
    ],
    flags: ['texts_off', 'transactional_any_hour'],
  },
  {
    table: 'number',
    business: 'business_id',
    since: 'ordered_at',
    facts: ['state', 'campaign_id', 'tie_state', 'countries', 'signature'],
  },
  { table: 'campaign', business: 'business_id', since: 'created_at', facts: ['state', 'body'] },
  { table: 'brand', business: 'business_id', since: '', facts: ['state', 'score', 'body'] },
];

/** These keep their history from the beginning. */
export async function history(qi: QueryInterface): Promise<void> {
  for (const kept of KEPT) await keepHistory(qi, kept);
}
