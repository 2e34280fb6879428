import type { QueryInterface } from 'sequelize';
import { z } from 'zod';
import {
  addColumn,
  big,
  createTable,
  dropTrigger,
  flag,
  index,
  json,
  key,
  maybe,
  once,
  oneOf,
  refers,
  text,
  trigger,
  whole,
  type Trigger,
} from '../platform/table.js';

const NAMED = ['sort_name', 'contact_id', 'id'];
/** Indexes over the few that stand apart, in the order of names, with what SQLite's planner is to reckon with. */
const FEW: { name: string; columns: string[]; where: string; figures: string }[] = [
  {
    name: 'contact_number_by_trouble',
    columns: ['business_id', 'trouble', ...NAMED],
    where: `trouble <> 'none'`,
    figures: '50000 25000 8000 50 1 1',
  },
  {
    name: 'contact_number_by_country',
    columns: ['business_id', 'country', ...NAMED],
    where: `country <> 'US'`,
    figures: '50000 25000 8000 50 1 1',
  },
  {
    name: 'contact_number_by_consent_conversational',
    columns: ['business_id', 'consent_conversational', ...NAMED],
    where: `consent_conversational <> 'none'`,
    figures: '50000 25000 8000 50 1 1',
  },
  {
    name: 'contact_number_replied',
    columns: ['business_id', ...NAMED],
    where: 'last_reply_at IS NOT NULL',
    figures: '50000 25000 50 1 1',
  },
  {
    name: 'contact_number_further',
    columns: ['contact_id'],
    where: 'NOT preferred',
    figures: '20000 1',
  },
];

const COUNTED = {
  business_id: 'business_id',
  looked_up: 'looked_up_at IS NOT NULL',
  textable: 'textable',
  line_type: 'line_type',
  conversational: 'consent_conversational',
  informational: 'consent_informational',
  promotional: 'consent_promotional',
  trouble: 'trouble',
  faults_in_review: 'faults_in_review',
  country: 'country',
  preferred: 'preferred',
  staged_no: 'staged_no',
};
const COLUMNS = Object.keys(COUNTED).join(', ');
const counted = (r: 'NEW' | 'OLD'): string =>
  Object.values(COUNTED)
    .map((c) => `${r}.${c}`)
    .join(', ');
const add = `INSERT INTO contact_count (${COLUMNS}, n) VALUES (${counted('NEW')}, 1) ON CONFLICT (${COLUMNS}) DO UPDATE SET n = contact_count.n + 1`;
const take = `UPDATE contact_count SET n = n - 1 WHERE (${COLUMNS}) = (${counted('OLD')})`;
const COUNTS: Trigger[] = [
  { name: 'contact_count_insert', table: 'contact_number', when: 'AFTER INSERT', run: [add] },
  { name: 'contact_count_delete', table: 'contact_number', when: 'AFTER DELETE', run: [take] },
  {
    name: 'contact_count_update',
    table: 'contact_number',
    when: `AFTER UPDATE OF ${Object.values(COUNTED)
      .slice(1)
      .map((c) => c.split(' ')[0])
      .join(', ')}`,
    only: `(${counted('NEW')}) IS DISTINCT FROM (${counted('OLD')})`,
    run: [take, add],
  },
];

/**
 * What a search looks through has one row a contact, by its preferred number: names both ways round, e-mail, all its
 * numbers, and what stands in own fields.
 */
async function searchByContact(qi: QueryInterface): Promise<void> {
  const sqlite = qi.sequelize.getDialect() === 'sqlite';
  const id = sqlite ? 'rowid' : 'id';
  const numbers = `(SELECT ${sqlite ? 'group_concat' : 'string_agg'}(x.e164, ' ') FROM contact_number x WHERE x.contact_id = c.id)`;
  const words = `lower(c.first_name || ' ' || c.last_name || ' ' || c.first_name || '\n' || c.email || '\n' || coalesce(${numbers}, '') || '\n' || c.own_words)`;
  /** The rows of these contacts, written anew. */
  const anew = (contacts: string): string[] => [
    `DELETE FROM contact_search WHERE ${id} IN (SELECT x.id FROM contact_number x WHERE x.contact_id IN (${contacts}))`,
    `INSERT INTO contact_search (${id}, words) SELECT cn.id, ${words} FROM contact c JOIN contact_number cn ON cn.contact_id = c.id AND cn.preferred WHERE c.id IN (${contacts})`,
  ];
  for (const name of ['contact_search_insert', 'contact_search_delete'])
    await dropTrigger(qi, { name, table: 'contact_number' });
  await dropTrigger(qi, { name: 'contact_search_update', table: 'contact' });
  await trigger(qi, {
    name: 'contact_search_insert',
    table: 'contact_number',
    when: 'AFTER INSERT',
    only: 'NEW.preferred',
    run: [
      `INSERT INTO contact_search (${id}, words) SELECT NEW.id, ${words} FROM contact c WHERE c.id = NEW.contact_id`,
    ],
  });
  await trigger(qi, {
    name: 'contact_search_further',
    table: 'contact_number',
    when: 'AFTER INSERT',
    only: 'NOT NEW.preferred',
    run: anew('NEW.contact_id'),
  });
  await trigger(qi, {
    name: 'contact_search_delete',
    table: 'contact_number',
    when: 'AFTER DELETE',
    run: [`DELETE FROM contact_search WHERE ${id} = OLD.id`, ...anew('OLD.contact_id')],
  });
  await trigger(qi, {
    name: 'contact_search_moved',
    table: 'contact_number',
    when: 'AFTER UPDATE OF preferred, contact_id, e164',
    only: 'NEW.preferred <> OLD.preferred OR NEW.contact_id <> OLD.contact_id OR NEW.e164 <> OLD.e164',
    run: anew('OLD.contact_id, NEW.contact_id'),
  });
  await trigger(qi, {
    name: 'contact_search_update',
    table: 'contact',
    when: 'AFTER UPDATE OF first_name, last_name, email, own_words',
    only: 'NEW.first_name <> OLD.first_name OR NEW.last_name <> OLD.last_name OR NEW.email <> OLD.email OR NEW.own_words <> OLD.own_words',
    run: anew('NEW.id'),
  });
}

/**
 * A contact has several numbers, of which one is preferred, an address, a language and fields of the business's own;
 * what keeps texts from a number is kept with its times; contacts are merged, and a merge can be taken back.
 */
export async function contactsInDepth(qi: QueryInterface): Promise<void> {
  for (const column of ['language', 'street', 'city', 'postalCode', 'ownWords'])
    await addColumn(qi, 'contact', column, text(''));
  await addColumn(qi, 'contact', 'own', json('own', z.record(z.string(), z.string()), '{}'));
  await addColumn(qi, 'contact_number', 'preferred', flag(true));
  await addColumn(qi, 'contact_number', 'label', text(''));
  await addColumn(qi, 'contact_number', 'lastReplyAt', maybe(big()));
  await addColumn(qi, 'contact_number', 'refusedElsewhere', whole(0));
  await addColumn(qi, 'contact_number', 'stagedNo', whole(0));
  // Who may be answered wrote or called a day before that ends (rules.md, conversational).
  await qi.sequelize.query(
    `UPDATE contact_number SET last_reply_at = conversation_until - 86400000 WHERE conversation_until IS NOT NULL`,
  );
  for (const { name, columns, where, figures } of FEW) {
    await index(qi, 'contact_number', name, columns, { where });
    if (qi.sequelize.getDialect() === 'sqlite')
      await qi.sequelize.query(`INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES ('contact_number', $1, $2)`, {
        bind: [name, figures],
      });
  }
  // By the e-mail in whatever case it was written; the helper knows columns alone.
  await qi.sequelize.query(`CREATE INDEX contact_email ON contact (business_id, lower(email)) WHERE email <> ''`);
  for (const t of COUNTS) await dropTrigger(qi, t);
  await qi.dropTable('contact_count');
  await createTable(qi, 'contact_count', {
    businessId: key(text()),
    lookedUp: key(flag()),
    textable: key(text()),
    lineType: key(text()),
    conversational: key(text()),
    informational: key(text()),
    promotional: key(text()),
    trouble: key(text()),
    faultsInReview: key(flag()),
    country: key(text()),
    preferred: key(flag()),
    stagedNo: key(whole()),
    n: whole(),
  });
  await qi.sequelize.query(
    `INSERT INTO contact_count (${COLUMNS}, n) SELECT ${Object.values(COUNTED).join(', ')}, count(*) FROM contact_number GROUP BY ${Object.keys(
      COUNTED,
    )
      .map((_, i) => i + 1)
      .join(', ')}`,
  );
  for (const t of COUNTS) await trigger(qi, t);
  await searchByContact(qi);
  // Several numbers of a contact could not be brought in before; where there are, the first is preferred. Counts and
  // search follow by their triggers.
  await qi.sequelize.query(
    `UPDATE contact_number SET preferred = FALSE WHERE id NOT IN (SELECT min(id) FROM contact_number GROUP BY contact_id)`,
  );
  await createTable(qi, 'contact_field', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    name: text(),
    kind: oneOf(['text', 'number', 'date', 'choice'], 'text'),
    choices: json('choices', z.array(z.string()), '[]'),
    /** Whether it says how appointments or bookings fared. */
    outcome: flag(false),
    createdAt: big(),
  });
  await index(qi, 'contact_field', 'contact_field_once', ['business_id', 'name'], { unique: true });
  await createTable(qi, 'contact_merge', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    keptId: text(),
    goneId: text(),
    snapshot: json('snapshot', z.unknown()),
    mergedBy: text(),
    mergedAt: big(),
    undoneAt: maybe(big()),
  });
  await index(qi, 'contact_merge', 'contact_merge_kept', ['business_id', 'kept_id']);
  await createTable(qi, 'number_trouble', {
    contactNumberId: key(whole()),
    cause: key(text()),
    businessId: text(),
    source: text(),
    carrier: text(''),
    detail: text(''),
    firstAt: big(),
    lastAt: big(),
    times: whole(1),
    stands: flag(true),
  });
  await index(
    qi,
    'number_trouble',
    'number_trouble_standing',
    ['business_id', 'cause', 'last_at', 'contact_number_id'],
    {
      where: 'stands',
    },
  );
  // What stands already was learnt when the number was last asked about, or a text to it last failed.
  const learnt = (cause: string, source: string, at: string, detail: string, where: string): Promise<unknown> =>
    qi.sequelize.query(
      `INSERT INTO number_trouble (contact_number_id, cause, business_id, source, carrier, detail, first_at, last_at, times, stands)
       SELECT id, ${cause}, business_id, '${source}', carrier, ${detail}, coalesce(${at}, 0), coalesce(${at}, 0), 1, TRUE FROM contact_number WHERE ${where}`,
    );
  await learnt(`'not-textable'`, 'lookup', 'looked_up_at', 'line_type', `textable = 'no'`);
  await learnt(
    'trouble',
    'receipt',
    'trouble_at',
    `''`,
    `trouble <> 'none' AND (trouble <> 'not-textable' OR textable <> 'no')`,
  );
  await createTable(qi, 'number_request', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    contactId: text(),
    pageId: text(),
    tokenHash: once(text()),
    email: text(),
    oldE164: text(),
    newE164: maybe(text()),
    state: oneOf(['sent', 'answered', 'confirmed', 'lapsed'], 'sent'),
    refused: text(''),
    askedBy: text(),
    askedAt: big(),
    expiresAt: big(),
    answeredAt: maybe(big()),
    confirmedAt: maybe(big()),
  });
  await index(qi, 'number_request', 'number_request_business', ['business_id', 'asked_at', 'id']);
  await index(qi, 'number_request', 'number_request_contact', ['contact_id', 'asked_at']);
  await index(qi, 'number_request', 'number_request_new', ['business_id', 'new_e164'], { where: `state = 'answered'` });
  await addColumn(qi, 'intake', 'no', whole(0));
  for (const column of ['attestation', 'documentId', 'documentDigest', 'undo'])
    await addColumn(qi, 'intake', column, text(''));
  await addColumn(qi, 'intake', 'region', text('US'));
  await addColumn(qi, 'intake', 'purposes', json('purposes', z.array(z.string()), '[]'));
  await addColumn(qi, 'intake', 'tags', json('tags', z.array(z.string()), '[]'));
  await addColumn(qi, 'intake', 'known', json('known', z.record(z.string(), z.string()), '{}'));
  await addColumn(qi, 'intake_row', 'more', text('{}'));
  await qi.sequelize.query(
    `UPDATE intake SET no = (SELECT count(*) FROM intake i WHERE i.created_at < intake.created_at OR (i.created_at = intake.created_at AND i.id <= intake.id))`,
  );
  await index(qi, 'intake', 'intake_storing', ['business_id', 'no'], { where: `state = 'storing'` });
  await index(qi, 'contact', 'contact_intake', ['intake_id', 'id'], { where: 'intake_id IS NOT NULL' });
  await createTable(qi, 'intake_change', {
    intakeId: key(text()),
    contactId: key(text()),
    before: text(),
    /** The contact's version after it: with another one it was touched since. */
    version: whole(),
  });
  await createTable(qi, 'intake_join', {
    intakeId: key(text()),
    listId: key(text()),
    contactId: key(text()),
  });
  await createTable(qi, 'textability_policy', {
    businessId: refers(key(text()), 'business'),
    voip: flag(),
    tollFree: flag(),
    staleDays: whole(),
    staleUnreachableDays: whole(),
    automatic: flag(),
    recheck: flag(),
    version: whole(1),
  });
  await createTable(qi, 'kept_refusal', { businessId: key(text()), digest: key(text()), at: big() });
  if (qi.sequelize.getDialect() === 'sqlite') await qi.sequelize.query('ANALYZE sqlite_schema');
}
