import type { Clock } from './clock.js';
import type { Reader, Writer } from './db.js';

/** What could not be worked off and must not keep the rest waiting. */
export interface SetAsideRow {
  key: string;
  /** Where it comes from: what the outside told, what we wanted of it, or work of our own. */
  lane: 'feed' | 'outbox' | 'job';
  kind: string;
  body: string;
  cause: string;
  at: number;
  state: 'open' | 'done' | 'left';
}

/** Puts one thing aside with its cause; the same thing again only renews the cause. */
export async function setAside(
  w: Writer,
  clock: Clock,
  what: { lane: SetAsideRow['lane']; key: string; kind: string; body: unknown; cause: string },
): Promise<void> {
  await w.run(
    `INSERT INTO set_aside (key, lane, kind, body, cause, at) VALUES ($1,$2,$3,$4,$5,$6)
     ON CONFLICT (key) DO UPDATE SET cause = excluded.cause, at = excluded.at, state = 'open'`,
    [what.key, what.lane, what.kind, JSON.stringify(what.body), what.cause.slice(0, 2000), clock.now()],
  );
}

/** What waits for somebody to look, oldest first. */
export async function openSetAside(r: Reader, limit = 200): Promise<SetAsideRow[]> {
  return r.all<SetAsideRow>(`SELECT * FROM set_aside WHERE state = 'open' ORDER BY at, key LIMIT $1`, [limit]);
}

export async function closeSetAside(w: Writer, key: string, state: 'done' | 'left'): Promise<void> {
  await w.run(`UPDATE set_aside SET state = $2 WHERE key = $1`, [key, state]);
}
