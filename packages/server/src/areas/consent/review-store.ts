import type { Reader, Writer } from '../../platform/db.js';

/** A reply a person has to read. `reading` is JSON of what the reader made of it. */
export interface ReviewRow {
  id: string;
  e164: string;
  message_id: string;
  reading: string;
  about: 'stop' | 'yes';
  at: number;
}

export async function addReview(w: Writer, businessId: string, r: ReviewRow): Promise<void> {
  await w.run(
    `INSERT INTO reply_review (id, business_id, e164, message_id, reading, about, at) VALUES ($1,$2,$3,$4,$5,$6,$7)`,
    [r.id, businessId, r.e164, r.message_id, r.reading, r.about, r.at],
  );
}

export async function openReview(r: Reader, businessId: string, id: string): Promise<ReviewRow | undefined> {
  return r.one<ReviewRow>(`SELECT * FROM reply_review WHERE id = $1 AND business_id = $2 AND state = 'open'`, [
    id,
    businessId,
  ]);
}

/** Closes all that is open about a number. */
export async function closeReviewsOf(
  w: Writer,
  businessId: string,
  e164: string,
  state: string,
  at: number,
): Promise<void> {
  await w.run(
    `UPDATE reply_review SET state = $3, decided_at = $4 WHERE business_id = $1 AND e164 = $2 AND state = 'open'`,
    [businessId, e164, state, at],
  );
}

export async function closeReview(w: Writer, id: string, state: string, at: number): Promise<void> {
  await w.run(`UPDATE reply_review SET state = $2, decided_at = $3 WHERE id = $1`, [id, state, at]);
}

/** True where something this number wrote may still be a wish to stop. */
export async function inDoubt(r: Reader, businessId: string, e164: string): Promise<boolean> {
  return (
    (await r.one(
      `SELECT 1 FROM reply_review WHERE business_id = $1 AND e164 = $2 AND state = 'open' AND about = 'stop' LIMIT 1`,
      [businessId, e164],
    )) !== undefined
  );
}

/** What waits to be read, oldest first. */
export async function openReviews(r: Reader, businessId: string, limit: number): Promise<ReviewRow[]> {
  return r.all<ReviewRow>(
    `SELECT * FROM reply_review WHERE business_id = $1 AND state = 'open' ORDER BY at LIMIT ${limit}`,
    [businessId],
  );
}

/** How many wait to be read, and since when the oldest does. */
export async function waitingReviews(r: Reader, businessId: string): Promise<{ count: number; oldest: number | null }> {
  const row = await r.one<{ count: number; oldest: number | null }>(
    `SELECT count(*) AS count, min(at) AS oldest FROM reply_review WHERE business_id = $1 AND state = 'open'`,
    [businessId],
  );
  return row ?? { count: 0, oldest: null };
}

/** How many were decided by people, and how many of them were wishes. */
export async function decidedReviews(r: Reader, businessId: string): Promise<{ decided: number; right: number }> {
  const row = await r.one<{ decided: number; right: number }>(
    `SELECT count(*) AS decided, coalesce(sum(CASE WHEN state IN ('stop','offers') THEN 1 ELSE 0 END), 0) AS "right" FROM reply_review WHERE business_id = $1 AND about = 'stop' AND state IN ('stop','offers','no wish')`,
    [businessId],
  );
  return row ?? { decided: 0, right: 0 };
}
