import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { calendarFeedTable, type CalendarFeedModel } from './model.js';

/** The sealed secret of a person's calendar feed, where there is one. */
export async function feedOf(r: Reader, businessId: string, userId: string): Promise<string | undefined> {
  return (await r.of(calendarFeedTable).findOne({ where: { businessId, userId } }))?.token;
}

export async function feedByHash(r: Reader, tokenHash: string): Promise<CalendarFeedModel | null> {
  return r.of(calendarFeedTable).findByPk(tokenHash);
}

/** Keeps a person's feed; one that is there already stays. */
export async function addFeed(w: Writer, feed: CreationAttributes<CalendarFeedModel>): Promise<void> {
  await w.of(calendarFeedTable).bulkCreate([feed], { ignoreDuplicates: true, validate: true });
}

export async function endFeed(w: Writer, businessId: string, userId: string): Promise<void> {
  await w.of(calendarFeedTable).destroy({ where: { businessId, userId } });
}
