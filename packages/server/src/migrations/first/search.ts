import type { QueryInterface } from 'sequelize';
import { key, text, createTable, trigger, whole } from '../../platform/table.js';

/** A contact's name both ways round, e-mail and number: what a search looks through, by any three characters in a row. */
const words = (c: string, e164: string): string =>
  `lower(${c}.first_name || ' ' || ${c}.last_name || ' ' || ${c}.first_name || '\n' || ${c}.email || '\n' || ${e164})`;

/** The trigram index over contact numbers, kept by the database itself; its rows go by the contact number's id. */
export async function search(qi: QueryInterface): Promise<void> {
  const sqlite = qi.sequelize.getDialect() === 'sqlite';
  const id = sqlite ? 'rowid' : 'id';
  if (sqlite)
    // Which trigrams a row has is enough: what matches is looked at again in the row itself.
    await qi.sequelize.query(
      `CREATE VIRTUAL TABLE contact_search USING fts5(words, tokenize='trigram', content='', contentless_delete=1, detail=none)`,
    );
  else {
    await createTable(qi, 'contact_search', { id: key(whole()), words: text() });
    await qi.addIndex('contact_search', {
      name: 'contact_search_words',
      using: 'GIN',
      fields: [{ name: 'words', operator: 'gin_trgm_ops' }],
    });
  }
  const add = (c: string, n: string, from: string): string =>
    `INSERT INTO contact_search (${id}, words) SELECT ${n}.id, ${words(c, `${n}.e164`)} FROM ${from}`;
  await trigger(qi, {
    name: 'contact_search_insert',
    table: 'contact_number',
    when: 'AFTER INSERT',
    run: [add('c', 'NEW', 'contact c WHERE c.id = NEW.contact_id')],
  });
  await trigger(qi, {
    name: 'contact_search_delete',
    table: 'contact_number',
    when: 'AFTER DELETE',
    run: [`DELETE FROM contact_search WHERE ${id} = OLD.id`],
  });
  await trigger(qi, {
    name: 'contact_search_update',
    table: 'contact',
    when: 'AFTER UPDATE OF first_name, last_name, email',
    only: 'NEW.first_name <> OLD.first_name OR NEW.last_name <> OLD.last_name OR NEW.email <> OLD.email',
    run: [
      `DELETE FROM contact_search WHERE ${id} IN (SELECT id FROM contact_number WHERE contact_id = NEW.id)`,
      add('NEW', 'cn', 'contact_number cn WHERE cn.contact_id = NEW.id'),
    ],
  });
}
