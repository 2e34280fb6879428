import type { ContactList } from '@long-gate/contracts';
import { jsonRows, manyRows, type Reader, type Writer } from '../../platform/db.js';
import { among, hiddenIntakes, type ContactFilter, type Membership } from './filter-store.js';
import { contactListTable, type ContactListModel } from './model.js';

const shown = (l: ContactListModel): ContactList => ({ id: l.id, name: l.name, kind: l.kind, count: l.members });

export async function listsOf(r: Reader, businessId: string): Promise<ContactList[]> {
  const rows = await r.of(contactListTable).findAll({ where: { businessId }, order: ['kind', 'name'] });
  return rows.map(shown);
}

/**
 * How many are on each list, and have each tag, of those a filter leaves, where its own lists (or tags) are left out:
 * counted as they come and go, and gone through where it narrows by anything else.
 * @returns by the ids of lists; those with nobody on them are left out.
 */
export async function membersAmong(
  r: Reader,
  businessId: string,
  { sort: _, ...f }: ContactFilter,
  now: number,
): Promise<Record<Membership, Record<string, number>>> {
  const hidden = await hiddenIntakes(r, businessId);
  const lists = await r.of(contactListTable).findAll({ where: { businessId } });
  const walk = async (of: readonly Membership[]): Promise<Map<string, number>> => {
    const rest = { ...f, ...Object.fromEntries(of.map((x) => [x, undefined])) };
    if (hidden.length === 0 && Object.values(rest).every((x) => !x))
      return new Map(lists.flatMap((l) => (l.members > 0 ? [[l.id, l.members]] : [])));
    const binds: Record<string, unknown> = {
      businessId,
      lists: jsonRows(lists.filter((l) => of.includes(l.kind)).map((l) => l.id)),
    };
    const where = among(r, rest, binds, { now, hidden });
    const rows = await r.all<{ id: string; n: number }>(
      `SELECT m.list_id AS id, count(*) AS n FROM contact_number cn JOIN list_member m ON m.contact_id = cn.contact_id
       WHERE cn.business_id = $businessId AND m.list_id IN (SELECT value FROM jsonb_each($lists)) AND ${where} GROUP BY 1`,
      binds,
    );
    return new Map(rows.map((x) => [x.id, x.n]));
  };
  // Where neither is filtered by, both are counted by going through the same people once.
  const both = !f.list && !f.tag ? await walk(['list', 'tag']) : null;
  const of = async (kind: Membership): Promise<Record<string, number>> => {
    const counts = both ?? (await walk([kind]));
    return Object.fromEntries(
      lists.flatMap((l) => (l.kind === kind && counts.has(l.id) ? [[l.id, counts.get(l.id) ?? 0]] : [])),
    );
  };
  return { list: await of('list'), tag: await of('tag') };
}

export async function listById(r: Reader, businessId: string, id: string): Promise<ContactList | null> {
  const row = await r.of(contactListTable).findOne({ where: { id, businessId } });
  return row && shown(row);
}

export async function listByName(
  r: Reader,
  businessId: string,
  kind: 'list' | 'tag',
  name: string,
): Promise<ContactList | null> {
  const row = await r.of(contactListTable).findOne({ where: { businessId, kind, name } });
  return row && shown(row);
}

export async function addList(
  w: Writer,
  list: { id: string; businessId: string; name: string; kind: 'list' | 'tag'; createdAt: number },
): Promise<void> {
  await w.of(contactListTable).create(list);
}

/** The names of the lists and tags each of these contacts is on, in their order. */
export async function listNames(r: Reader, contactIds: readonly string[]): Promise<Map<string, string[]>> {
  const rows = await manyRows<{ contact_id: string; name: string }>(
    r,
    ['contact_id', 'name'],
    `FROM (SELECT m.contact_id, l.name FROM jsonb_each($1) j CROSS JOIN list_member m ON m.contact_id = j.value JOIN contact_list l ON l.id = m.list_id) AS listed`,
    [jsonRows([...new Set(contactIds)])],
  );
  const out = new Map<string, string[]>();
  for (const { contact_id, name } of rows) {
    const names = out.get(contact_id);
    if (names) names.push(name);
    else out.set(contact_id, [name]);
  }
  for (const names of out.values()) names.sort();
  return out;
}

/**
 * Puts contacts of the business on a list; who is on it already stays. A set, since a selection may be thousands.
 * @returns those who were not on it.
 */
export async function putOnList(
  w: Writer,
  businessId: string,
  listId: string,
  contactIds: readonly string[],
): Promise<string[]> {
  if (contactIds.length === 0) return [];
  const put = await w.all<{ contact_id: string }>(
    `INSERT INTO list_member (list_id, contact_id, sort_name) SELECT $1, c.id, c.sort_name FROM jsonb_each($3) j CROSS JOIN contact c ON c.id = j.value AND c.business_id = $2 WHERE true ON CONFLICT DO NOTHING RETURNING contact_id`,
    [listId, businessId, jsonRows(contactIds)],
  );
  return put.map((x) => x.contact_id);
}

export async function joinList(w: Writer, listId: string, contactId: string): Promise<void> {
  await w.run(
    'INSERT INTO list_member (list_id, contact_id, sort_name) SELECT $1, c.id, c.sort_name FROM contact c WHERE c.id = $2 ON CONFLICT DO NOTHING',
    [listId, contactId],
  );
}

/** Takes contacts off a list. @returns those who were on it. */
export async function takeOffList(w: Writer, listId: string, contactIds: readonly string[]): Promise<string[]> {
  if (contactIds.length === 0) return [];
  const taken = await w.all<{ contact_id: string }>(
    'DELETE FROM list_member WHERE list_id = $1 AND contact_id IN (SELECT value FROM jsonb_each($2)) RETURNING contact_id',
    [listId, jsonRows(contactIds)],
  );
  return taken.map((x) => x.contact_id);
}
