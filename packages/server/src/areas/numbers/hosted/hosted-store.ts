import type { Writer } from '../../../platform/db.js';

/** The line is called: earlier codes are worthless, and tries begin anew. */
export async function noteCall(w: Writer, id: string, at: number): Promise<void> {
  await w.run('UPDATE hosted SET called_at = $2, code_confirmed = 0, code_tries = 0 WHERE id = $1', [id, at]);
}

export async function countCodeTry(w: Writer, id: string): Promise<void> {
  await w.run('UPDATE hosted SET code_tries = code_tries + 1 WHERE id = $1', [id]);
}
