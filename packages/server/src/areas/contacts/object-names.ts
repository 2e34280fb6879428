import { formatPhone } from '@long-gate/core';
import { z } from 'zod';
import { namedIn, type Thing } from '../../platform/objects.js';
import type { Platform } from '../../platform/platform.js';
import { namesById, namesByAddress, numbersOf, contactById } from './contact-store.js';
import { contactFieldTable, contactListTable, intakeTable } from './model.js';

const OfIntake = z.object({ intakeId: z.string() });
const OfList = z.object({ listId: z.string() });

/** What the trail calls contacts, lists and intakes, and what belongs to the history of a contact and of a job. */
export function nameContacts({ objects, jobs }: Platform): void {
  objects.name('contact', async (r, businessId, ids) => {
    const rows = await namesById(r, businessId, ids);
    return new Map(rows.map(({ id, name, e164 }) => [id, name || formatPhone(e164)]));
  });
  // Conversations, wishes and numbers are known by the number of the person.
  for (const kind of ['contact number', 'thread', 'consent'])
    objects.name(kind, async (r, businessId, e164s) => {
      const names = new Map((await namesByAddress(r, businessId, e164s)).map((x) => [x.e164, x.name]));
      return new Map(e164s.map((e164) => [e164, [names.get(e164), formatPhone(e164)].filter(Boolean).join(', ')]));
    });
  objects.name(
    'list',
    namedIn(contactListTable, (list) => list.name),
  );
  objects.name(
    'intake',
    namedIn(intakeTable, (intake) => intake.fileName),
  );
  objects.name(
    'field',
    namedIn(contactFieldTable, (field) => field.name),
  );
  objects.name('lookups', (r, businessId, keys) => jobs.titles(r, businessId, 'key', keys));
  objects.also('contact', async (r, businessId, id) => {
    const contact = await contactById(r, businessId, id);
    if (!contact) return [];
    const numbers = await numbersOf(r, id);
    return [
      ...numbers.flatMap(({ e164 }) => ['contact number', 'thread', 'consent'].map((kind) => ({ kind, id: e164 }))),
      ...(contact.intakeId === null ? [] : [{ kind: 'intake', id: contact.intakeId }]),
    ];
  });
  objects.also('job', async (r, businessId, id): Promise<Thing[]> => {
    const job = await jobs.one(r, businessId, id);
    const intake = OfIntake.safeParse(job?.payload);
    const list = OfList.safeParse(job?.payload);
    if (job?.kind === 'lookups') return [{ kind: 'lookups', id: job.key }];
    if (job?.kind === 'intake.store' && intake.success) return [{ kind: 'intake', id: intake.data.intakeId }];
    if (job?.kind === 'list change' && list.success) return [{ kind: 'list', id: list.data.listId }];
    return [];
  });
}
