import type { Reader, Writer } from './db.js';

/** How many acts under this name stand since a wall moment. */
export async function actsSince(r: Reader, who: string, since: number): Promise<number> {
  const row = await r.one<{ n: number }>('SELECT count(*) AS n FROM public_act WHERE who = $1 AND wall_at >= $2', [
    who,
    since,
  ]);
  return row?.n ?? 0;
}

export async function noteAct(w: Writer, who: string, wallAt: number): Promise<void> {
  await w.run('INSERT INTO public_act (who, wall_at) VALUES ($1,$2)', [who, wallAt]);
}

export async function forgetActs(w: Writer, before: number): Promise<void> {
  await w.run('DELETE FROM public_act WHERE wall_at < $1', [before]);
}

/** Forgets what was counted under one name, as when the right password was given at last. */
export async function forgiveActs(w: Writer, who: string): Promise<void> {
  await w.run('DELETE FROM public_act WHERE who = $1', [who]);
}
