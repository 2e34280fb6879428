import { keptColumn, keptTable, type Kept } from '../../platform/kept-counts-store.js';
import { contactCountTable } from './model.js';

/** What is counted of contacts as they come, change and go, by triggers (`migrations/contacts-in-depth.ts`). */
export const CONTACT_COUNTS: readonly Kept[] = [
  keptTable({
    what: 'contacts by what they are filtered by',
    table: contactCountTable,
    values: ['n'],
    counted: `SELECT business_id, looked_up_at IS NOT NULL AS looked_up, textable, line_type, consent_conversational AS conversational, consent_informational AS informational, consent_promotional AS promotional, trouble, faults_in_review, country, preferred, staged_no, count(*) AS n
      FROM contact_number GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12`,
  }),
  keptColumn({
    what: 'members of lists and tags',
    table: 'contact_list',
    column: 'members',
    counted: 'SELECT list_id AS id, count(*) AS n FROM list_member GROUP BY 1',
  }),
];
