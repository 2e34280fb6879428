import { PAGE_COLOURS } from '@long-gate/core';
import { OnSiteShape, PageAsks } from '@long-gate/contracts';
import type { QueryInterface } from 'sequelize';
import { addColumn, createTable, json, key, maybe, refers, text, whole } from '../platform/table.js';

const AGREED = `FROM consent_event g JOIN optin_page p ON p.business_id = g.business_id AND p.slug = g.evidence->>'page'`;
/** Events name the words as “slug, version 3”. */
const VERSION = `CAST(substr(g.disclosure_version, length(p.slug) + 11) AS INTEGER)`;

/** How opt-in pages look, what they ask, where they are shown, and what came of each version, from the ledger so far. */
export async function pageBuilder(qi: QueryInterface): Promise<void> {
  const page = 'optin_page';
  await addColumn(qi, page, 'language', text('en'));
  await addColumn(qi, page, 'ground', text(PAGE_COLOURS.ground));
  await addColumn(qi, page, 'accent', text(PAGE_COLOURS.accent));
  for (const column of ['button', 'thanks', 'thanks_code', 'picture_name', 'picture_sha256', 'picture_words'])
    await addColumn(qi, page, column, text(''));
  await addColumn(qi, page, 'asks', json('asks', PageAsks, '{"firstName":"asked","lastName":"no","email":"no"}'));
  await addColumn(qi, page, 'picture_id', maybe(text()));
  await addColumn(qi, page, 'on_site', maybe(json('onSite', OnSiteShape)));
  await createTable(qi, 'page_version_count', {
    pageId: refers(key(text()), page),
    pageVersion: key(whole()),
    agreed: whole(0),
    confirmed: whole(0),
  });
  await createTable(qi, 'page_visit', {
    pageId: refers(key(text()), page),
    pageVersion: key(whole()),
    week: key(whole()),
    seen: whole(0),
    begun: whole(0),
  });
  await qi.sequelize.query(
    `INSERT INTO page_version_count (page_id, page_version, agreed, confirmed)
     SELECT page_id, page_version, sum(agreed), sum(confirmed) FROM (
       SELECT p.id AS page_id, ${VERSION} AS page_version, 1 AS agreed, CASE WHEN g.awaits_confirmation THEN 0 ELSE 1 END AS confirmed ${AGREED}
       WHERE g.how = 'web page' AND g.kind = 'granted'
       UNION ALL
       SELECT p.id, ${VERSION}, 0, length(e.purposes) - length(replace(e.purposes, ',', '')) + 1 ${AGREED}
       JOIN consent_event e ON e.business_id = g.business_id AND e.e164 = g.e164 AND e.how = 'reply' AND e.kind = 'confirmed'
       WHERE g.seq = (SELECT max(x.seq) FROM consent_event x WHERE x.business_id = e.business_id AND x.e164 = e.e164 AND x.seq < e.seq AND x.awaits_confirmation AND x.kind = 'granted')
     ) said GROUP BY 1, 2`,
  );
}
