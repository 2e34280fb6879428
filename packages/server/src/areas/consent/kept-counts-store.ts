import { PURPOSES } from '@long-gate/core';
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
const names = (event: string): string => `${event}.purposes LIKE '%' || kind.name || '%'`;
/**
 * A YES confirms of each kind what was last asked of it, on a page or by a word: a page and a word may wait beside each
 * other. It counts in the week and the version of what it was for.
 */
const CONFIRMED = `JOIN consent_event e ON e.business_id = g.business_id AND e.e164 = g.e164 AND e.how = 'reply' AND e.kind = 'confirmed'
      CROSS JOIN (${PURPOSES.map((x) => `SELECT '${x}' AS name`).join(' UNION ALL ')}) kind ON TRUE
      WHERE ${ON_A_PAGE} AND ${names('e')} AND g.seq = (SELECT max(x.seq) FROM consent_event x WHERE x.business_id = e.business_id AND x.e164 = e.e164 AND x.seq < e.seq AND x.awaits_confirmation AND x.kind = 'granted' AND ${names('x')})`;

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
    counted: `SELECT page_id, week, sum(agreed) AS agreed, sum(confirmed) AS confirmed FROM (
      SELECT p.id AS page_id, ${WEEK} AS week, 1 AS agreed, CASE WHEN g.awaits_confirmation THEN 0 ELSE 1 END AS confirmed ${AGREED} WHERE ${ON_A_PAGE}
      UNION ALL
      SELECT p.id, ${WEEK}, 0, 1 ${AGREED} ${CONFIRMED}
    ) said GROUP BY 1, 2`,
  }),
  keptTable({
    what: 'what came of each version of an opt-in page',
    table: pageVersionCountTable,
    values: ['agreed', 'confirmed'],
    counted: `SELECT page_id, page_version, sum(agreed) AS agreed, sum(confirmed) AS confirmed FROM (
      SELECT p.id AS page_id, ${VERSION} AS page_version, 1 AS agreed, CASE WHEN g.awaits_confirmation THEN 0 ELSE 1 END AS confirmed ${AGREED} WHERE ${ON_A_PAGE}
      UNION ALL
      SELECT p.id, ${VERSION}, 0, 1 ${AGREED} ${CONFIRMED}
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
