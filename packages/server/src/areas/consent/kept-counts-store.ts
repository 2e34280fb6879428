import { keptColumn, keptTable, type Kept } from '../../platform/kept-counts-store.js';
import { CLAIM_COUNTS } from './claims/claim-store.js';
import { consentCountTable } from './model.js';
import { pageVersionCountTable, pageWeekTable } from './pages/model.js';
import { SOURCE_COUNTS } from './sources/source-store.js';
import { TEXT_LINK_COUNTS } from './text-links/text-link-store.js';

/** The week of the moment at which something was agreed to: see `weekOf` beside the pages. */
const WEEK = '(g.recorded_at / 86400000 + 3) / 7';
/** Events name the words as “slug, version 3”. */
const VERSION = `CAST(substr(g.disclosure_version, length(p.slug) + ${', version '.length + 1}) AS INTEGER)`;
const AGREED = `FROM consent_event g JOIN optin_page p ON p.business_id = g.business_id AND p.slug = g.evidence->>'page'`;
const ON_A_PAGE = `g.how = 'web page' AND g.kind = 'granted'`;

/** What is counted of consent: events as they are appended, pages where people agree on them. */
export const CONSENT_COUNTS: readonly Kept[] = [
  keptTable({
    what: 'events of the ledger by kind, way, purposes and words',
    table: consentCountTable,
    values: ['n'],
    counted:
      'SELECT business_id, kind, how, purposes, disclosure_version AS words, count(*) AS n FROM consent_event GROUP BY 1, 2, 3, 4, 5',
  }),
  keptTable({
    what: 'what came of each opt-in page, by week',
    table: pageWeekTable,
    values: ['agreed', 'confirmed'],
    // A YES confirms all that was last asked, on a page or by a word; it may be several kinds, and counts in the week of
    // what it was for.
    counted: `SELECT page_id, week, sum(agreed) AS agreed, sum(confirmed) AS confirmed FROM (
      SELECT p.id AS page_id, ${WEEK} AS week, 1 AS agreed, CASE WHEN g.awaits_confirmation THEN 0 ELSE 1 END AS confirmed ${AGREED} WHERE ${ON_A_PAGE}
      UNION ALL
      SELECT p.id, ${WEEK}, 0, length(e.purposes) - length(replace(e.purposes, ',', '')) + 1 ${AGREED}
      JOIN consent_event e ON e.business_id = g.business_id AND e.e164 = g.e164 AND e.how = 'reply' AND e.kind = 'confirmed'
      WHERE g.seq = (SELECT max(x.seq) FROM consent_event x WHERE x.business_id = e.business_id AND x.e164 = e.e164 AND x.seq < e.seq AND x.awaits_confirmation AND x.kind = 'granted')
    ) said GROUP BY 1, 2`,
  }),
  keptTable({
    what: 'what came of each version of an opt-in page',
    table: pageVersionCountTable,
    values: ['agreed', 'confirmed'],
    counted: `SELECT page_id, page_version, sum(agreed) AS agreed, sum(confirmed) AS confirmed FROM (
      SELECT p.id AS page_id, ${VERSION} AS page_version, 1 AS agreed, CASE WHEN g.awaits_confirmation THEN 0 ELSE 1 END AS confirmed ${AGREED} WHERE ${ON_A_PAGE}
      UNION ALL
      SELECT p.id, ${VERSION}, 0, length(e.purposes) - length(replace(e.purposes, ',', '')) + 1 ${AGREED}
      JOIN consent_event e ON e.business_id = g.business_id AND e.e164 = g.e164 AND e.how = 'reply' AND e.kind = 'confirmed'
      WHERE g.seq = (SELECT max(x.seq) FROM consent_event x WHERE x.business_id = e.business_id AND x.e164 = e.e164 AND x.seq < e.seq AND x.awaits_confirmation AND x.kind = 'granted')
    ) said GROUP BY 1, 2`,
  }),
  keptColumn({
    what: 'how often people agreed on each opt-in page',
    table: 'optin_page',
    column: 'opt_ins',
    counted: `SELECT p.id, count(*) AS n ${AGREED} WHERE ${ON_A_PAGE} GROUP BY 1`,
  }),
  SOURCE_COUNTS,
  CLAIM_COUNTS,
  TEXT_LINK_COUNTS,
];
