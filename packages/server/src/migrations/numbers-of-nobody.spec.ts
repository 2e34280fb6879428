import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { numberDigest } from '../areas/contacts/number-digest.js';
import { Db } from '../platform/db.js';
import { emptyDatabase } from '../testing/database.js';
import { markNobodys } from './numbers-of-nobody.js';

describe('numbers of nobody, of a ledger that was there before', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'nobody-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
  });
  afterEach(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  it('are those that no contact has, but of whoever was erased on their request', async () => {
    await db.write(async (w) => {
      for (const id of ['b', 'c'])
        await w.run(
          `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ($1, 'x', 'x', 'private company', 1)`,
          [id],
        );
      await w.run(
        `INSERT INTO contact (id, business_id, first_name, last_name, email, state_code, sort_name, created_at) VALUES ('con', 'b', '', '', '', '', 'x', 1)`,
      );
      await w.run(
        `INSERT INTO contact_number (business_id, contact_id, e164, country, zones, states, sort_name) VALUES ('b', 'con', '+1', 'US', '', '', 'x')`,
      );
      // Of +1 the contact is another business's; +3 was erased.
      for (const [business, e164] of [
        ['b', '+1'],
        ['c', '+1'],
        ['b', '+2'],
        ['b', '+3'],
      ])
        await w.run(
          `INSERT INTO consent_state (business_id, e164, conversational, informational, promotional, as_of) VALUES ($1, $2, 'none', 'granted', 'none', 1)`,
          [business, e164],
        );
      await w.run(
        `INSERT INTO audit (id, at, business_id, actor_id, actor_name, action, object_kind, object_id, "after") VALUES ('a', 1, 'b', 'x', 'x', 'person erased', 'contact', 'y', $1)`,
        [JSON.stringify({ request: 'a letter', digests: [numberDigest('b', '+3')] })],
      );
    });
    await db.alone(() => markNobodys(db.migrationConnection.getQueryInterface()));
    const rows = await db.all<{ of: string }>(
      `SELECT business_id || ' ' || e164 AS of FROM consent_state WHERE of_nobody ORDER BY 1`,
    );
    expect(rows.map((x) => x.of)).toEqual(['b +2', 'c +1']);
  });
});
