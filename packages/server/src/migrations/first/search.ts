import type { QueryInterface } from 'sequelize';

/** A contact's name both ways round, e-mail and number: what a search looks through, by any three characters in a row. */
const words = (c: string, e164: string): string =>
  `${c}.first_name || ' ' || ${c}.last_name || ' ' || ${c}.first_name || char(10) || ${c}.email || char(10) || ${e164}`;

/** The trigram index over contact numbers, kept by the database itself; its rows go by the contact number's id. */
export async function search(qi: QueryInterface): Promise<void> {
  const sqlite = [
    // Which trigrams a row has is enough: what matches is looked at again in the row itself.
    `CREATE VIRTUAL TABLE contact_search USING fts5(words, tokenize='trigram', content='', contentless_delete=1, detail=none)`,
    `CREATE TRIGGER contact_search_insert AFTER INSERT ON contact_number
     BEGIN INSERT INTO contact_search (rowid, words) SELECT NEW.id, ${words('c', 'NEW.e164')} FROM contact c WHERE c.id = NEW.contact_id; END`,
    `CREATE TRIGGER contact_search_delete AFTER DELETE ON contact_number BEGIN DELETE FROM contact_search WHERE rowid = OLD.id; END`,
    `CREATE TRIGGER contact_search_update AFTER UPDATE OF first_name, last_name, email ON contact
     WHEN NEW.first_name <> OLD.first_name OR NEW.last_name <> OLD.last_name OR NEW.email <> OLD.email
     BEGIN
       DELETE FROM contact_search WHERE rowid IN (SELECT id FROM contact_number WHERE contact_id = NEW.id);
       INSERT INTO contact_search (rowid, words) SELECT cn.id, ${words('NEW', 'cn.e164')} FROM contact_number cn WHERE cn.contact_id = NEW.id;
     END`,
  ];
  for (const statement of sqlite) await qi.sequelize.query(statement);
}
