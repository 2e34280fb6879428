import { Op } from 'sequelize';
import { contactNumberWasTable } from '../areas/contacts/history/model.js';
import { contactNumberTable, contactTable } from '../areas/contacts/model.js';
import type { Writer } from '../platform/db.js';
import { insertMany } from '../platform/bulk.js';
import type { DemoContact } from './seed-contacts.js';

/**
 * What the demo has just changed of contact numbers changed at a moment of its past, and not as it is being written.
 * @param start the moment at which the demo begins.
 */
export async function changedAt(
  w: Writer,
  contactNumberId: number | number[],
  at: number,
  start: number,
): Promise<void> {
  await w
    .of(contactNumberWasTable)
    .update({ untilAt: at }, { where: { contactNumberId, untilAt: { [Op.gte]: start } } });
}

/** What delivery taught before the lookup that is on file: it stood until that lookup, which found the number gone. */
export async function beforeLookup(w: Writer, c: DemoContact, trouble: string, at: number): Promise<void> {
  const { lookedUpAt } = c;
  if (lookedUpAt === null || lookedUpAt <= at) return;
  const was = w.of(contactNumberWasTable);
  await was.update({ trouble }, { where: { contactNumberId: c.row, untilAt: lookedUpAt } });
  await was.update({ reachable: true, lookedUpAt: firstLookup(c) }, { where: { contactNumberId: c.row, untilAt: at } });
}

/** Nobody agreed before there was such a contact. */
export async function beginWithConsent(w: Writer, contacts: readonly DemoContact[]): Promise<void> {
  for (const c of contacts) {
    const first = Math.min(...Object.values(c.granted)) - 60_000;
    if (first >= c.createdAt) continue;
    c.createdAt = first;
    await w.of(contactTable).update({ createdAt: first }, { where: { id: c.id } });
  }
}

/** Each number was looked up when it came; the lookup that is on file found it again, or found it gone. */
export async function lookedUpBefore(w: Writer, contacts: readonly DemoContact[]): Promise<void> {
  const again = new Map(contacts.flatMap((c) => ((c.lookedUpAt ?? 0) > firstLookup(c) ? [[c.row, c] as const] : [])));
  const rows = await w.of(contactNumberTable).findAll({ where: { id: [...again.keys()] } });
  await insertMany(
    w,
    contactNumberWasTable,
    rows.flatMap((x) => {
      const c = again.get(x.id);
      if (!c) return [];
      const { country, zones, states, lineType, carrier, carrierKind, textable, trouble, faultsInReview } = x;
      const { suppression, wishInReview, refusedElsewhere, reassignment } = x;
      return [
        {
          contactNumberId: x.id,
          untilAt: c.lookedUpAt ?? 0,
          ...{ country, zones, states, lineType, carrier, carrierKind, textable, trouble, faultsInReview },
          ...{ suppression, wishInReview, refusedElsewhere, reassignment },
          reachable: true,
          lookedUpAt: firstLookup(c),
        },
      ];
    }),
  );
}
const firstLookup = (c: DemoContact): number => c.createdAt + 30_000;
/** Whether a number was taken for reachable at a moment. */
export const seemedReachable = (c: DemoContact, at: number): boolean => c.reachable || at < (c.lookedUpAt ?? 0);
