import { QueryTypes, type QueryInterface } from 'sequelize';
import { erasedNumber, numberDigest } from '../areas/contacts/number-digest.js';
import { index } from '../platform/table.js';
import { erasedDigests } from './numbers-of-nobody.js';

const SELECT = { type: QueryTypes.SELECT } as const;

/** Replies to be read are found by their number also once they were; and see {@link forgetLeft}. */
export async function leftOfTheErased(qi: QueryInterface): Promise<void> {
  await qi.removeIndex('reply_review', 'reply_review_number');
  await index(qi, 'reply_review', 'reply_review_number', ['business_id', 'e164']);
  await forgetLeft(qi);
}

/**
 * Takes away what was left of people: whom jobs that are over were about, what lists changed of contacts that are gone,
 * and of those who were erased the words and numbers in replies that were to be read, and what they were asked by text.
 */
export async function forgetLeft(qi: QueryInterface): Promise<void> {
  const ask = <T extends object>(sql: string): Promise<T[]> => qi.sequelize.query<T>(sql, SELECT);
  const change = (sql: string, bind: Record<string, string>): Promise<unknown> => qi.sequelize.query(sql, { bind });
  for (const { id, payload } of await ask<{ id: string; payload: string }>(
    `SELECT id, payload FROM job WHERE state IN ('done', 'cancelled') AND payload LIKE '%"e164%'`,
  )) {
    const { e164: _one, e164s: _many, ...rest } = JSON.parse(payload) as Record<string, unknown>;
    await change('UPDATE job SET payload = $rest WHERE id = $id', { id, rest: JSON.stringify(rest) });
  }
  await qi.sequelize.query(
    `DELETE FROM intake_change WHERE NOT EXISTS (SELECT 1 FROM contact c WHERE c.id = intake_change.contact_id)`,
  );
  const erased = await erasedDigests(qi);
  for (const table of ['reply_review', 'opt_in_request'])
    for (const { b, e164 } of await ask<{ b: string; e164: string }>(
      `SELECT DISTINCT business_id AS b, e164 FROM ${table}`,
    )) {
      const digest = numberDigest(b, e164);
      if (!erased.has(digest)) continue;
      if (table === 'opt_in_request') {
        await change('DELETE FROM opt_in_request WHERE business_id = $b AND e164 = $e164', { b, e164 });
        continue;
      }
      for (const { id, reading } of await qi.sequelize.query<{ id: string; reading: string }>(
        'SELECT id, reading FROM reply_review WHERE business_id = $b AND e164 = $e164',
        { ...SELECT, bind: { b, e164 } },
      ))
        await change(
          `UPDATE reply_review SET e164 = $inPlace, reading = $reading, state = CASE WHEN state = 'open' THEN 'erased' ELSE state END WHERE id = $id`,
          { id, inPlace: erasedNumber(digest), reading: JSON.stringify({ ...JSON.parse(reading), matched: '' }) },
        );
    }
}
