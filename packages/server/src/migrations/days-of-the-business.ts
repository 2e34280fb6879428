import type { QueryInterface } from 'sequelize';
import { addColumn, dropTrigger, maybe, trigger, whole } from '../platform/table.js';
import { latencyMoved, moment, textDays } from './first/counts.js';

/**
 * Texts are counted on the day of their business's time zone. The day stands in the row, put there by who lets a text
 * leave or takes one in, since no database is asked about time zones here; one that has none counts on the day in UTC.
 * What was counted before is cut anew by a job, as it is when a business's time zone is changed.
 */
export async function daysOfTheBusiness(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'message', 'day', maybe(whole()));
  const day = (r: 'NEW' | 'OLD'): string => `coalesce(${r}.day, (${moment(r)}) / 86400000)`;
  for (const t of textDays(day)) {
    await dropTrigger(qi, t);
    // A text that is put on another day counts there.
    await trigger(qi, t.name === 'text_day_update' ? { ...t, when: `${t.when}, day` } : t);
  }
  await trigger(qi, latencyMoved(day));
  await askForCuts(qi);
}

/** Has a job put the texts of each business that has any on the days of its zone. */
export async function askForCuts(qi: QueryInterface): Promise<void> {
  await qi.sequelize.query(
    `INSERT INTO job (id, key, kind, business_id, payload, title, run_at, created_at)
     SELECT 'job_days_' || id, 'text days:' || id || ':0', 'text days', id, '{"after":"","cut":0}', 'Counting texts by the days of ' || time_zone, 0, coalesce((SELECT max(at) FROM audit), created_at)
     FROM business WHERE EXISTS (SELECT 1 FROM message WHERE message.business_id = business.id)`,
  );
}
