import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { erasedNumber, numberDigest } from '../areas/contacts/number-digest.js';
import { Db } from '../platform/db.js';
import { emptyDatabase } from '../testing/database.js';
import { forgetLeft } from './left-of-the-erased.js';

describe('what was left of people, in a database that was there before', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'left-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
  });
  afterEach(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  it('goes with jobs that are over, with contacts that are gone, and with whoever was erased', async () => {
    await db.write(async (w) => {
      await w.run(
        `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ('b', 'x', 'x', 'private company', 1)`,
      );
      await w.run(
        `INSERT INTO contact (id, business_id, first_name, last_name, email, state_code, sort_name, created_at) VALUES ('here', 'b', '', '', '', '', 'x', 1)`,
      );
      await w.run(
        `INSERT INTO audit (id, at, business_id, actor_id, actor_name, action, object_kind, object_id, "after") VALUES ('a', 1, 'b', 'x', 'x', 'person erased', 'contact', 'y', $1)`,
        [JSON.stringify({ request: 'a letter', digests: [numberDigest('b', '+1')] })],
      );
      for (const [id, state] of [
        ['j1', 'done'],
        ['j2', 'waiting'],
      ])
        await w.run(
          `INSERT INTO job (id, key, kind, business_id, payload, state, run_at, created_at) VALUES ($1, $1, 'k', 'b', '{"e164s":["+1"],"formId":"f"}', $2, 1, 1)`,
          [id, state],
        );
      for (const contact of ['here', 'gone'])
        await w.run(
          `INSERT INTO intake_change (intake_id, contact_id, before, version) VALUES ('i', $1, '{"name":"Ada"}', 1)`,
          [contact],
        );
      for (const e164 of ['+1', '+2']) {
        await w.run(
          `INSERT INTO reply_review (id, business_id, e164, message_id, reading, state, at) VALUES ($1, 'b', $1, 'm', '{"matched":"no more","confidence":1,"purposes":[],"stopped":false}', 'open', 1)`,
          [e164],
        );
        await w.run(
          `INSERT INTO opt_in_request (message_id, business_id, e164, programmes, asked_at) VALUES ($1, 'b', $1, '[]', 1)`,
          [e164],
        );
      }
    });
    await db.alone(() => forgetLeft(db.migrationConnection.getQueryInterface()));
    const all = async (sql: string): Promise<string[]> => (await db.all<{ v: string }>(sql)).map((x) => x.v);
    expect(await all('SELECT payload AS v FROM job ORDER BY id')).toEqual([
      '{"formId":"f"}',
      '{"e164s":["+1"],"formId":"f"}',
    ]);
    expect(await all('SELECT contact_id AS v FROM intake_change')).toEqual(['here']);
    expect(await all('SELECT e164 AS v FROM opt_in_request')).toEqual(['+2']);
    expect(await all(`SELECT e164 || ' ' || state || ' ' || reading AS v FROM reply_review ORDER BY id`)).toEqual([
      `${erasedNumber(numberDigest('b', '+1'))} erased {"matched":"","confidence":1,"purposes":[],"stopped":false}`,
      `+2 open {"matched":"no more","confidence":1,"purposes":[],"stopped":false}`,
    ]);
  });
});
