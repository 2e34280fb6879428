import type { QueryInterface } from 'sequelize';
import { createTable, key, refers, text, whole } from '../platform/table.js';

/** The week of the moment at which something was agreed to: see `weekOf` beside the pages. */
const WEEK = '(g.recorded_at / 86400000 + 3) / 7';
const AGREED = `FROM consent_event g JOIN optin_page p ON p.business_id = g.business_id AND p.slug = g.evidence->>'page'`;

/** What came of each opt-in page by week; from here on counted as it happens, before that from the ledger. */
export async function pageWeeks(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'page_week', {
    pageId: refers(key(text()), 'optin_page'),
    week: key(whole()),
    agreed: whole(0),
    confirmed: whole(0),
  });
  await countWeeks(qi);
}

/** Counts what the ledger says, into a table that is empty. */
export async function countWeeks(qi: QueryInterface): Promise<void> {
  await qi.sequelize.query(
    `INSERT INTO page_week (page_id, week, agreed, confirmed) SELECT p.id, ${WEEK}, count(*), sum(CASE WHEN g.awaits_confirmation THEN 0 ELSE 1 END) ${AGREED}
     WHERE g.how = 'web page' AND g.kind = 'granted' GROUP BY p.id, ${WEEK}`,
  );
  // A YES confirms all that was last agreed to; it may be several kinds.
  await qi.sequelize.query(
    `INSERT INTO page_week (page_id, week, agreed, confirmed)
     SELECT p.id, ${WEEK}, 0, sum(length(e.purposes) - length(replace(e.purposes, ',', '')) + 1) ${AGREED}
     JOIN consent_event e ON e.business_id = g.business_id AND e.e164 = g.e164 AND e.how = 'reply' AND e.kind = 'confirmed'
     WHERE g.seq = (SELECT max(x.seq) FROM consent_event x WHERE x.business_id = e.business_id AND x.e164 = e.e164 AND x.seq < e.seq AND x.how = 'web page' AND x.kind = 'granted')
     GROUP BY p.id, ${WEEK} ON CONFLICT (page_id, week) DO UPDATE SET confirmed = page_week.confirmed + excluded.confirmed`,
  );
}
