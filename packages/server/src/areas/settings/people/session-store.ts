import type { Reader, Writer } from '../../../platform/db.js';

export interface SessionRow {
  id: string;
  user_id: string;
  csrf: string;
  /** Wall moments. */
  opened_wall: number;
  seen_wall: number;
  expires_wall: number;
  address: string;
  agent: string;
}

export async function addSession(w: Writer, s: SessionRow & { token_hash: string }): Promise<void> {
  await w.run('DELETE FROM session WHERE expires_wall < $1', [Date.now()]);
  await w.run(
    'INSERT INTO session (id, token_hash, user_id, csrf, opened_wall, seen_wall, expires_wall, address, agent) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9)',
    [s.id, s.token_hash, s.user_id, s.csrf, s.opened_wall, s.seen_wall, s.expires_wall, s.address, s.agent],
  );
}

export async function sessionByToken(r: Reader, tokenHash: string): Promise<SessionRow | undefined> {
  return r.one<SessionRow>('SELECT * FROM session WHERE token_hash = $1 AND expires_wall > $2', [
    tokenHash,
    Date.now(),
  ]);
}

export async function sessionsOf(r: Reader, userId: string): Promise<SessionRow[]> {
  return r.all<SessionRow>('SELECT * FROM session WHERE user_id = $1 AND expires_wall > $2 ORDER BY seen_wall DESC', [
    userId,
    Date.now(),
  ]);
}

export async function seeSession(w: Writer, id: string, at: number): Promise<void> {
  await w.run('UPDATE session SET seen_wall = $2 WHERE id = $1', [id, at]);
}

export async function endSessionByToken(w: Writer, tokenHash: string): Promise<void> {
  await w.run('DELETE FROM session WHERE token_hash = $1', [tokenHash]);
}

/** Ends one session of a person, or all but one (`except`); returns how many ended. */
export async function endSessions(
  w: Writer,
  userId: string,
  which: { id: string } | { except: string },
): Promise<number> {
  const [sql, bind] =
    'id' in which ? ['user_id = $1 AND id = $2', which.id] : ['user_id = $1 AND id <> $2', which.except];
  const row = await w.one<{ n: number }>(`SELECT count(*) AS n FROM session WHERE ${sql}`, [userId, bind]);
  await w.run(`DELETE FROM session WHERE ${sql}`, [userId, bind]);
  return row?.n ?? 0;
}
