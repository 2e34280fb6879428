import type { Db, Reader, Writer } from './db.js';
import { keepFirst } from './setting-store.js';
import type { Vault } from './vault.js';

/** Every column that holds something sealed. A spec looks through the whole database for one that is not named here. */
export const SEALED: readonly { table: string; column: string; kind: 'text' | 'bytes' | 'json' }[] = [
  { table: 'user', column: 'mobile_code', kind: 'text' },
  { table: 'user', column: 'factor_secret', kind: 'text' },
  { table: 'user', column: 'factor_pending', kind: 'text' },
  { table: 'brand', column: 'tax_number', kind: 'text' },
  { table: 'port', column: 'secrets', kind: 'text' },
  { table: 'port', column: 'last_secrets', kind: 'text' },
  { table: 'port', column: 'record', kind: 'text' },
  { table: 'number', column: 'release_pin', kind: 'text' },
  { table: 'calendar_feed', column: 'token', kind: 'text' },
  { table: 'document', column: 'body', kind: 'bytes' },
  { table: 'setting', column: 'value', kind: 'text' },
  // Mail that waits: `{ sealed }`.
  { table: 'outbox', column: 'payload', kind: 'json' },
];
const CHECK = 'vault.check';
const CHUNK = 100;
/** Of two tables only some rows are sealed. */
const ONLY: Record<string, string> = { setting: `name = '${CHECK}'`, outbox: `kind = 'mail' AND payload <> '{}'` };

/** Some sealed value of the database, or undefined where nothing is sealed. */
export async function anySealed(r: Reader): Promise<Buffer | undefined> {
  for (const { table, column, kind } of SEALED) {
    if (kind === 'json') continue;
    const row = await r.one<{ value: string | Buffer }>(
      `SELECT "${column}" AS value FROM "${table}" WHERE length("${column}") > 0 AND ${ONLY[table] ?? 'TRUE'} LIMIT 1`,
    );
    if (row) return asBytes(row.value);
  }
  return undefined;
}

/** Leaves something sealed, so that a missing key is noticed also before anything else is sealed. */
export async function keepCheck(w: Writer, vault: Vault): Promise<void> {
  await keepFirst(w, CHECK, vault.seal('Long Gate'));
}

/** Seals everything under the present key that is not yet; in steps, and again from where it was after a crash. */
export async function sealAnew(db: Db, vault: Vault, say: (line: string) => void): Promise<number> {
  let total = 0;
  for (const { table, column, kind } of SEALED) {
    let after = '';
    for (;;) {
      const done = await db.write(async (w) => {
        const rows = await w.all<{ key: string; value: string | Buffer }>(
          `SELECT ${keyOf(table)} AS key, "${column}" AS value FROM "${table}" WHERE length("${column}") > 0 AND ${ONLY[table] ?? 'TRUE'} AND ${keyOf(table)} > $1 ORDER BY 1 LIMIT ${CHUNK}`,
          [after],
        );
        for (const row of rows) {
          const anew = sealedAnew(vault, kind, row.value);
          if (anew === null) continue;
          await w.run(`UPDATE "${table}" SET "${column}" = $2 WHERE ${keyOf(table)} = $1`, [row.key, anew]);
          total++;
        }
        after = rows.at(-1)?.key ?? '';
        return rows.length < CHUNK;
      });
      if (done) break;
    }
    say(`${table}.${column}`);
  }
  return total;
}

/** The column that names a row. */
function keyOf(table: string): string {
  return { calendar_feed: 'token_hash', setting: 'name', outbox: 'key' }[table] ?? 'id';
}

/** The value sealed under the present key; null where it is already. */
function sealedAnew(vault: Vault, kind: 'text' | 'bytes' | 'json', value: string | Buffer): string | Buffer | null {
  if (kind === 'bytes') {
    const raw = asBytes(value);
    return vault.isPresent(raw) ? null : vault.sealBytes(vault.unsealBytes(raw));
  }
  if (kind === 'json') {
    const { sealed } = JSON.parse(String(value)) as { sealed: string };
    const anew = sealedAnew(vault, 'text', sealed);
    return anew === null ? null : JSON.stringify({ sealed: anew });
  }
  const text = String(value);
  return vault.isPresent(Buffer.from(text, 'base64')) ? null : vault.seal(vault.unseal(text));
}

function asBytes(value: string | Buffer): Buffer {
  return typeof value === 'string' ? Buffer.from(value, 'base64') : value;
}
