import { placeOf } from '@long-gate/core';
import { contactFieldTable, contactNumberTable, contactTable, numberTroubleTable } from '../areas/contacts/model.js';
import { messageTable } from '../areas/dispatch/model.js';
import { insertMany } from '../platform/bulk.js';
import { idFrom } from '../platform/ids.js';
import { Seeded } from './random.js';
import { CONTACT_AREAS, type DemoBusiness } from './scenario.data.js';
import type { MadeBusiness } from './seed-business.js';
import type { DemoContact } from './seed-contacts.js';
import type { Seeding } from './seed.js';

interface DemoField {
  key: string;
  name: string;
  kind: 'choice' | 'number' | 'text';
  choices?: string[];
  outcome?: boolean;
  /** What stands in it for somebody whom texts reach, or do not; empty for nothing. */
  value: (random: Seeded, reached: boolean) => string;
}
const FIELDS: Record<string, DemoField[]> = {
  saltmarsh: [
    {
      key: 'booking',
      name: 'Last booking',
      kind: 'choice',
      choices: ['kept', 'moved', 'missed'],
      outcome: true,
      value: (r, reached) =>
        r.chance(0.55) ? (r.chance(reached ? 0.07 : 0.19) ? 'missed' : r.chance(0.1) ? 'moved' : 'kept') : '',
    },
    {
      key: 'vehicle',
      name: 'Vehicle',
      kind: 'choice',
      choices: ['on foot', 'bicycle', 'car', 'van'],
      value: (r) => (r.chance(0.4) ? r.pick(['on foot', 'on foot', 'bicycle', 'car', 'van']) : ''),
    },
    {
      key: 'crossings',
      name: 'Crossings a year',
      kind: 'number',
      value: (r) => (r.chance(0.35) ? String(r.int(1, 140)) : ''),
    },
  ],
  northbank: [
    {
      key: 'workshop',
      name: 'Last workshop',
      kind: 'choice',
      choices: ['came', 'did not come'],
      outcome: true,
      value: (r, reached) => (r.chance(0.5) ? (r.chance(reached ? 0.1 : 0.3) ? 'did not come' : 'came') : ''),
    },
  ],
  orrin: [
    {
      key: 'shelf',
      name: 'Shelf',
      kind: 'text',
      value: (r) => (r.chance(0.6) ? `${r.pick(['A', 'B', 'C'])}${r.int(1, 12)}` : ''),
    },
  ],
};
/** So many people have a second number, and so many are here twice. */
const SECOND_NUMBERS: Record<string, number> = { saltmarsh: 26, northbank: 5, orrin: 1 };
const TWICE: Record<string, number> = { saltmarsh: 4, northbank: 1 };

/** What is known of people beside their number: own fields, second numbers, people who are here twice, and what lookups taught. */
export async function seedPeople(
  { w, start, app }: Seeding,
  b: DemoBusiness,
  made: MadeBusiness,
  contacts: readonly DemoContact[],
): Promise<void> {
  // Draws of their own: what the rest of the demo draws stays as it is.
  const random = new Seeded(`people of ${b.key}`);
  const fields = FIELDS[b.key] ?? [];
  await insertMany(
    w,
    contactFieldTable,
    fields.map((f, i) => ({
      id: idFrom('fld', b.key, f.key),
      businessId: made.id,
      name: f.name,
      kind: f.kind,
      choices: f.choices ?? [],
      outcome: f.outcome ?? false,
      createdAt: start - 200 * 86_400_000 + i,
    })),
  );
  const numbers = await w.of(contactNumberTable).findAll({ where: { businessId: made.id } });
  const byContact = new Map(numbers.map((n) => [n.contactId, n]));
  for (const c of contacts) {
    const n = byContact.get(c.id);
    const reached = n?.textable === 'yes' && n.reachable && n.trouble === 'none';
    const own = Object.fromEntries(
      fields.map((f) => [idFrom('fld', b.key, f.key), f.value(random, reached)]).filter(([, value]) => value !== ''),
    ) as Record<string, string>;
    const language = random.chance(0.06) ? 'es' : '';
    if (Object.keys(own).length > 0 || language !== '')
      await w
        .of(contactTable)
        .update({ own, ownWords: Object.values(own).join('\n'), language }, { where: { id: c.id } });
  }
  await insertMany(
    w,
    numberTroubleTable,
    numbers
      .filter((n) => n.lookedUpAt !== null && (n.textable === 'no' || !n.reachable))
      .map((n) => ({
        contactNumberId: n.id,
        cause: n.textable === 'no' ? 'not-textable' : 'passing-fault',
        businessId: made.id,
        source: 'lookup',
        carrier: n.carrier,
        detail: n.lineType,
        firstAt: n.lookedUpAt ?? 0,
        lastAt: n.lookedUpAt ?? 0,
      })),
  );
  // Some left at their carrier, which says so when a text is tried.
  for (const c of contacts
    .filter((x) => x.revokedAt !== null && x.backAt === null)
    .slice(0, b.key === 'saltmarsh' ? 9 : 1))
    await app.contacts.learnTrouble(
      w,
      made.id,
      [{ e164: c.e164, carrier: c.carrier, detail: 'blocked by the subscriber' }],
      'refused-by-owner',
      (c.revokedAt ?? start) - 3_600_000,
    );
  await seedSecondNumbers(w, random, b, made, numbers);
  await seedTwice(w, random, b, contacts);
  const replies = await w.of(messageTable).findAll({
    where: { businessId: made.id, direction: 'in' },
    attributes: ['e164', 'createdAt'],
    order: ['createdAt'],
    raw: true,
  });
  for (const { e164, createdAt } of replies)
    await w.of(contactNumberTable).update({ lastReplyAt: createdAt }, { where: { businessId: made.id, e164 } });
}

async function seedSecondNumbers(
  w: Seeding['w'],
  random: Seeded,
  b: DemoBusiness,
  made: MadeBusiness,
  numbers: readonly { e164: string; contactId: string; sortName: string }[],
): Promise<void> {
  const taken = new Set(numbers.map((n) => n.e164));
  const free = CONTACT_AREAS.flatMap(([code]) =>
    Array.from({ length: 100 }, (_, i) => `+1${code}55501${String(i).padStart(2, '0')}`),
  ).filter((e) => !taken.has(e));
  for (const n of random.shuffle([...numbers]).slice(0, Math.min(SECOND_NUMBERS[b.key] ?? 0, free.length))) {
    const e164 = free.pop() ?? '';
    const place = placeOf(e164, '');
    await w.of(contactNumberTable).create({
      businessId: made.id,
      contactId: n.contactId,
      e164,
      sortName: n.sortName,
      label: random.pick(['home', 'work', 'daughter']),
      country: place.country,
      zones: place.zones.join(','),
      states: place.states.join(','),
      preferred: false,
    });
  }
}

/** People who gave their e-mail twice, with a number each time. */
async function seedTwice(
  w: Seeding['w'],
  random: Seeded,
  b: DemoBusiness,
  contacts: readonly DemoContact[],
): Promise<void> {
  const named = await w.of(contactTable).findAll({
    where: {
      id: random
        .shuffle([...contacts])
        .slice(0, 60)
        .map((c) => c.id),
    },
    order: ['id'],
  });
  const known = named.filter((c) => c.email !== '');
  for (let i = 0; i < (TWICE[b.key] ?? 0); i++) {
    const [one, other] = [known[2 * i], known[2 * i + 1]];
    if (!one || !other) continue;
    const { email, firstName, lastName, sortName } = one;
    await other.update({ email, firstName, lastName, sortName });
  }
}
