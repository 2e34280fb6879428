import { dayIn } from '@long-gate/core';
import { consentEventTable, reassignedAnswerTable } from '../areas/consent/model.js';
import { contactNumberTable } from '../areas/contacts/model.js';
import { businessTable } from '../areas/settings/model.js';
import { insertMany } from '../platform/bulk.js';
import { idFrom } from '../platform/ids.js';
import { changedAt } from './past-facts.js';
import { Seeded } from './random.js';
import type { DemoBusiness } from './scenario.data.js';
import type { MadeBusiness } from './seed-business.js';
import { REASSIGNED_DAYS_AGO, type DemoContact } from './seed-contacts.js';
import type { Seeding } from './seed.js';

const DAY = 86_400_000;
/** Whoever was on one of these was asked about that day. */
const ASKED_LISTS = ['Fare list'];
/** So many others changed hands since, which nobody has asked about yet. */
const NOT_YET_FOUND = 3;

/**
 * A round of queries about reassigned numbers eleven days ago: for whom it said yes, the ledger is void since; of a few
 * nothing is known. Some changed hands that were not asked about.
 */
export async function seedReassigned(
  { w, past, start }: Seeding,
  b: DemoBusiness,
  made: MadeBusiness,
  contacts: readonly DemoContact[],
): Promise<void> {
  const random = new Seeded(`reassigned of ${b.key}`);
  const { timeZone } = await w.of(businessTable).findByPk(made.id, { rejectOnEmpty: true });
  const at = Math.round(start - REASSIGNED_DAYS_AGO * DAY);
  const voided = new Set(
    (
      await w.of(consentEventTable).findAll({ where: { businessId: made.id, kind: 'voided' }, attributes: ['e164'] })
    ).map((e) => e.e164),
  );
  const agreed = (c: DemoContact): number => Math.max(0, c.granted.informational ?? 0, c.granted.promotional ?? 0);
  const asked = contacts.filter(
    (c) =>
      voided.has(c.e164) ||
      (agreed(c) > 0 && agreed(c) < at && c.revokedAt === null && c.lists.some((l) => ASKED_LISTS.includes(l))),
  );
  const answers = asked.map((c) => ({
    id: idFrom('rnd', b.key, c.e164),
    businessId: made.id,
    e164: c.e164,
    day: dayIn(agreed(c), timeZone),
    answer: voided.has(c.e164) ? ('yes' as const) : random.chance(0.008) ? ('no data' as const) : ('no' as const),
    askedAt: at,
  }));
  await insertMany(w, reassignedAnswerTable, answers);
  for (const { e164, answer } of answers)
    await w
      .of(contactNumberTable)
      .update(
        { reassignment: answer === 'no data' ? 'no data' : 'clear', reassignmentAskedAt: at },
        { where: { businessId: made.id, e164 } },
      );
  const rows = new Map(contacts.map((c) => [c.e164, c.row]));
  await changedAt(
    w,
    answers.map((a) => rows.get(a.e164) ?? 0),
    at,
    start,
  );
  const others = contacts.filter(
    (c) => agreed(c) > 0 && c.revokedAt === null && !asked.includes(c) && c.lineType === 'mobile' && c.reachable,
  );
  past.givenUp.push(
    ...asked.filter((c) => voided.has(c.e164)).map((c) => ({ e164: c.e164, day: dayIn(at - 20 * DAY, timeZone) })),
    ...others.slice(0, NOT_YET_FOUND).map((c) => ({ e164: c.e164, day: dayIn(start - 40 * DAY, timeZone) })),
  );
}
