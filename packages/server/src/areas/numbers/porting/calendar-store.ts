import type { Reader, Writer } from '../../../platform/db.js';

/** The sealed secret of a person's calendar feed, where there is one. */
export async function feedOf(r: Reader, businessId: string, userId: string): Promise<string | undefined> {
  const row = await r.one<{ token: string }>(
    'SELECT token FROM calendar_feed WHERE business_id = $1 AND user_id = $2',
    [businessId, userId],
  );
  return row?.token;
}

export async function feedByHash(
  r: Reader,
  tokenHash: string,
): Promise<{ business_id: string; user_id: string } | undefined> {
  return r.one('SELECT business_id, user_id FROM calendar_feed WHERE token_hash = $1', [tokenHash]);
}

export async function addFeed(
  w: Writer,
  f: { hash: string; sealed: string; businessId: string; userId: string },
): Promise<void> {
  await w.run(
    'INSERT INTO calendar_feed (token_hash, token, business_id, user_id) VALUES ($1,$2,$3,$4) ON CONFLICT (business_id, user_id) DO NOTHING',
    [f.hash, f.sealed, f.businessId, f.userId],
  );
}

export async function endFeed(w: Writer, businessId: string, userId: string): Promise<void> {
  await w.run('DELETE FROM calendar_feed WHERE business_id = $1 AND user_id = $2', [businessId, userId]);
}
