import { Op, type CreationAttributes } from 'sequelize';
import { jsonRows, type Reader, type Writer } from '../../../platform/db.js';
import { keptTable } from '../../../platform/kept-counts-store.js';
import {
  textLinkCountTable,
  textLinkPolicyTable,
  textLinkTable,
  type TextLinkCountModel,
  type TextLinkModel,
  type TextLinkPolicyModel,
} from './model.js';

export async function policyRow(r: Reader, businessId: string): Promise<TextLinkPolicyModel | null> {
  return r.of(textLinkPolicyTable).findByPk(businessId);
}
export async function addPolicy(w: Writer, policy: CreationAttributes<TextLinkPolicyModel>): Promise<void> {
  await w.of(textLinkPolicyTable).create(policy);
}

export async function linkByHash(r: Reader, keyHash: string): Promise<TextLinkModel | null> {
  return r.of(textLinkTable).findOne({ where: { keyHash } });
}

/** Links of texts that leave; a text that leaves again keeps its link, which is good from then on. @returns whose links are new, by text. */
export async function putLinks(
  w: Writer,
  links: readonly CreationAttributes<TextLinkModel>[],
): Promise<ReadonlySet<string>> {
  const ids = links.map((x) => x.messageId);
  const known = await w.of(textLinkTable).findAll({ where: { messageId: ids }, attributes: ['messageId'], raw: true });
  const again = new Set(known.map((x) => x.messageId));
  await w.of(textLinkTable).bulkCreate([...links], { updateOnDuplicate: ['keyHash', 'sentAt', 'expiresAt'] });
  return new Set(ids.filter((id) => !again.has(id)));
}

/** Links whose owners, by these numbers, were asked for a YES. */
export async function linksAwaiting(r: Reader, businessId: string, e164s: readonly string[]): Promise<TextLinkModel[]> {
  const found = await r.all<{ id: string }>(
    `SELECT l.message_id AS id FROM jsonb_each($2) j CROSS JOIN text_link l ON l.business_id = $1 AND l.e164 = j.value AND l.chose = 'awaits YES'`,
    [businessId, jsonRows(e164s)],
  );
  return found.length === 0 ? [] : r.of(textLinkTable).findAll({ where: { messageId: found.map((x) => x.id) } });
}

/** When the owners of these numbers last said on their page, come to by a link in a text, that they keep what they get. */
export async function lastKeptByText(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<Map<string, number>> {
  const rows = await r.all<{ e164: string; at: number }>(
    `SELECT l.e164, max(l.answered_at) AS at FROM jsonb_each($2) j CROSS JOIN text_link l ON l.business_id = $1 AND l.e164 = j.value AND l.chose = 'kept' GROUP BY 1`,
    [businessId, jsonRows(e164s)],
  );
  return new Map(rows.map((x) => [x.e164, x.at] as const));
}

/** Links of a dispatch that were not answered are taken back. @returns how many. */
export async function withdrawLinks(w: Writer, businessId: string, dispatchId: string, at: number): Promise<number> {
  const [n] = await w
    .of(textLinkTable)
    .update({ withdrawnAt: at }, { where: { businessId, dispatchId, answeredAt: null, withdrawnAt: null } });
  return n;
}

/** The links of people who were erased go, and with them what was counted of them. */
export async function dropLinksOf(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
  const where = { businessId, e164: [...e164s] };
  for (const link of await w.of(textLinkTable).findAll({ where }))
    await countLinks(w, link, { sent: -1, ...(link.openedAt ? { opened: -1 } : {}), ...chosen(link.chose ?? '', -1) });
  await w.of(textLinkTable).destroy({ where });
  // Of a dispatch none of whose links is left nothing is counted.
  await w.of(textLinkCountTable).destroy({ where: { businessId, sent: 0 } });
}

/** What is counted of a dispatch's links. */
export type LinkCount = 'sent' | 'opened' | 'kept' | 'joined' | 'awaited' | 'ended';
const LINK_COUNTS: readonly LinkCount[] = ['sent', 'opened', 'kept', 'joined', 'awaited', 'ended'];
/** Which count a choice belongs to. */
export function chosen(chose: NonNullable<TextLinkModel['chose']>, by: 1 | -1): Partial<Record<LinkCount, number>> {
  switch (chose) {
    case '':
      return {};
    case 'awaits YES':
      return { awaited: by };
    case 'left':
      return { ended: by };
    default:
      return { [chose]: by };
  }
}
/** Adds to what is counted of a dispatch's links, which may not be there yet. @param lastAt when one left last; 0 for no change. */
export async function countLinks(
  w: Writer,
  of: { businessId: string; dispatchId: string },
  by: Partial<Record<LinkCount, number>>,
  lastAt = 0,
): Promise<void> {
  await w.run(
    `INSERT INTO text_link_count (business_id, dispatch_id, last_at, ${LINK_COUNTS.join(', ')}) VALUES ($1, $2, $3, ${LINK_COUNTS.map((_, i) => `$${i + 4}`).join(', ')})
     ON CONFLICT (business_id, dispatch_id) DO UPDATE SET last_at = CASE WHEN excluded.last_at > text_link_count.last_at THEN excluded.last_at ELSE text_link_count.last_at END,
     ${LINK_COUNTS.map((c) => `${c} = text_link_count.${c} + excluded.${c}`).join(', ')}`,
    [of.businessId, of.dispatchId, lastAt, ...LINK_COUNTS.map((c) => by[c] ?? 0)],
  );
}

/** Dispatches whose texts had links, the last first, from a place on. */
export async function countsAfter(
  r: Reader,
  businessId: string,
  after: { lastAt: number; dispatchId: string } | null,
  limit: number,
): Promise<TextLinkCountModel[]> {
  const beyond = after && {
    [Op.or]: [
      { lastAt: { [Op.lt]: after.lastAt } },
      { lastAt: after.lastAt, dispatchId: { [Op.lt]: after.dispatchId } },
    ],
  };
  return r.of(textLinkCountTable).findAll({
    where: { businessId, sent: { [Op.gt]: 0 }, ...(beyond ?? {}) },
    order: [
      ['lastAt', 'DESC'],
      ['dispatchId', 'DESC'],
    ],
    limit,
  });
}
export async function countDispatches(r: Reader, businessId: string): Promise<number> {
  return r.of(textLinkCountTable).count({ where: { businessId, sent: { [Op.gt]: 0 } } });
}
/** How many links of these dispatches can still be taken back. */
export async function openLinks(
  r: Reader,
  businessId: string,
  dispatchIds: readonly string[],
  now: number,
): Promise<Map<string, number>> {
  const rows = await r.all<{ id: string; n: number }>(
    `SELECT j.value AS id, (SELECT count(*) FROM text_link l WHERE l.business_id = $1 AND l.dispatch_id = j.value AND l.answered_at IS NULL AND l.withdrawn_at IS NULL AND l.expires_at > $3) AS n FROM jsonb_each($2) j`,
    [businessId, jsonRows(dispatchIds), now],
  );
  return new Map(rows.map((x) => [x.id, x.n] as const));
}

export const TEXT_LINK_COUNTS = keptTable({
  what: 'what came of links in texts, by dispatch',
  table: textLinkCountTable,
  values: ['lastAt', ...LINK_COUNTS],
  // When one left last does not go back where its person is erased.
  counted: `SELECT l.business_id, l.dispatch_id, CASE WHEN max(l.sent_at) > coalesce(max(k.last_at), 0) THEN max(l.sent_at) ELSE max(k.last_at) END AS last_at, count(*) AS sent, count(l.opened_at) AS opened, ${(
    [
      ['kept', 'kept'],
      ['joined', 'joined'],
      ['awaited', 'awaits YES'],
      ['ended', 'left'],
    ] as const
  )
    .map(([column, chose]) => `sum(CASE WHEN l.chose = '${chose}' THEN 1 ELSE 0 END) AS "${column}"`)
    .join(
      ', ',
    )} FROM text_link l LEFT JOIN text_link_count k ON k.business_id = l.business_id AND k.dispatch_id = l.dispatch_id GROUP BY 1, 2`,
});
