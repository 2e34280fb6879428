import { businessTable } from '../areas/settings/model.js';
import { membershipTable } from '../areas/settings/people/model.js';
import type { App } from '../app.js';
import type { Actor } from '../platform/audit.js';
import { BUSINESSES, PEOPLE } from './scenario.data.js';

export interface Desk {
  businessId: string;
  administrator: Actor;
}

/** The demo's first business and its administrator, for what is seeded by the application's own doing; null before they are. */
export async function firstDesk(app: App): Promise<Desk | null> {
  const { db } = app.platform;
  const [first] = BUSINESSES;
  const business = await db.of(businessTable).findOne({ where: { legalName: first?.legalName ?? '' } });
  if (!business) return null;
  const { userId } = await db
    .of(membershipTable)
    .findOne({ where: { businessId: business.id, role: 'administrator' }, rejectOnEmpty: true });
  return { businessId: business.id, administrator: { id: userId, name: PEOPLE[0].name } };
}
