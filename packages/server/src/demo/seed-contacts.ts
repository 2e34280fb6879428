import { dayIn, placeOf, textableBy, type LineType, type Purpose } from '@long-gate/core';
import { sortName } from '../areas/contacts/index.js';
import { contactNumberTable, contactTable, intakeTable, listMemberTable } from '../areas/contacts/model.js';
import type { NewEvent } from '../areas/consent/index.js';
import { record } from '../platform/audit.js';
import { insertMany } from '../platform/bulk.js';
import { idFrom } from '../platform/ids.js';
import { cameByWord, KEYWORD, version as toldVersion } from './demo-keyword.js';
import { pageSeen, wordsOn } from './demo-page.js';
import { beginWithConsent, lookedUpBefore } from './past-facts.js';
import {
  ABROAD_CONTACTS,
  BUSINESSES,
  CARRIER_KINDS,
  CONTACT_AREAS,
  FIRST_NAMES,
  HOSTED,
  LAST_NAMES,
  PEOPLE,
  type DemoBusiness,
  PORTS,
} from './scenario.data.js';
import type { MadeBusiness } from './seed-business.js';
import type { Seeding } from './seed.js';

export interface DemoContact {
  id: string;
  row: number;
  e164: string;
  firstName: string;
  lists: string[];
  lineType: LineType;
  carrier: string;
  reachable: boolean;
  lookedUp: boolean;
  /** When it was looked up last; null for never. */
  lookedUpAt: number | null;
  createdAt: number;
  /** When each purpose was granted and, if so, taken back. */
  granted: Partial<Record<Purpose, number>>;
  revokedAt: number | null;
  /** The word they left with, where they did. */
  leftWith: string;
  /** When one who left came back by START; null where they stayed out. */
  backAt: number | null;
}

const DAY = 86_400_000;
/** What the counter brought in one day, by a file. */
const COUNTER_LIST = 'Counter list of January';
const COUNTER_DAYS_AGO = 59;
/** When it was last asked whether numbers changed hands. */
export const REASSIGNED_DAYS_AGO = 11;
const LISTS: Record<string, { lists: string[]; tags: string[] }> = {
  saltmarsh: {
    lists: ['Passengers', 'Fare list', 'Commuters', 'Crew', COUNTER_LIST],
    tags: ['crossed in 2026', 'season pass'],
  },
  northbank: { lists: ['Members', 'Volunteers'], tags: ['grafting'] },
  orrin: { lists: ['Students'], tags: ['wheel class'] },
};

/** Contacts with their lists, lines and the ledger of how they agreed, left and came back. */
export async function seedContacts(s: Seeding, b: DemoBusiness, made: MadeBusiness): Promise<DemoContact[]> {
  const { w, random, start } = s;
  const ours = new Set([
    ...BUSINESSES.flatMap((x) => x.numbers.map((n) => n.e164)),
    ...PEOPLE.map((x) => x.mobile as string),
    '+17325550134',
    HOSTED.e164,
    ...PORTS.flatMap((p) => [...p.numbers, ...p.record.others]),
  ]);
  const pool = random
    .shuffle(
      CONTACT_AREAS.flatMap(([code, weight]) =>
        Array.from({ length: Math.min(100, weight * 24) }, (_, i) => `+1${code}55501${String(i).padStart(2, '0')}`),
      ),
    )
    .filter((e) => !ours.has(e));
  // Some of the ferry line's passengers live abroad.
  if (b.key === 'saltmarsh') pool.splice(100, ABROAD_CONTACTS.length, ...ABROAD_CONTACTS);
  const lists = LISTS[b.key] ?? { lists: [], tags: [] };
  const listIds = new Map<string, string>();
  for (const [kind, names] of [
    ['list', lists.lists],
    ['tag', lists.tags],
  ] as const)
    for (const name of names)
      listIds.set(name, await s.app.lists.ensure(w, { id: 'demo', name: PEOPLE[0].name }, made.id, name, kind));

  const sorted = new Map<string, string>();
  const taken = new Map<string, number>();
  const contacts: DemoContact[] = pool.slice(0, b.contacts).map((e164, i) => draw(s, b, e164, i));
  const intake = await seedIntake(s, made.id, listIds.get(COUNTER_LIST), contacts);
  await insertMany(
    w,
    contactTable,
    contacts.map((c) => {
      const last = random.pick(LAST_NAMES);
      const email =
        c.firstName !== '' && random.chance(0.7) ? emailOf(`${c.firstName}.${last}`.toLowerCase(), taken) : '';
      const lastName = c.firstName === '' ? '' : last;
      const sort = sortName(c.firstName, lastName, c.e164);
      sorted.set(c.id, sort);
      const { createdAt, intakeId } = came(Math.round(start - random.between(20, 230) * DAY), c.lists, intake);
      c.createdAt = createdAt;
      return {
        id: c.id,
        businessId: made.id,
        firstName: c.firstName,
        lastName,
        email,
        sortName: sort,
        createdAt,
        intakeId,
      };
    }),
  );
  await insertMany(
    w,
    contactNumberTable,
    contacts.map((c) => {
      const place = placeOf(c.e164, '');
      const looked = c.lookedUp ? Math.round(start - random.between(20, 150) * DAY) : null;
      // Whom the counter's file brought was looked up when it had come.
      const lookedUpAt = looked && intake && c.lists.includes(COUNTER_LIST) ? intake.at + 30 * 60_000 : looked;
      c.lookedUpAt = lookedUpAt;
      return {
        businessId: made.id,
        contactId: c.id,
        e164: c.e164,
        country: place.country,
        zones: place.zones.join(','),
        states: place.states.join(','),
        sortName: sorted.get(c.id) ?? '',
        lookedUpAt,
        lineType: c.lookedUp ? c.lineType : 'unknown',
        carrier: c.lookedUp ? c.carrier : '',
        carrierKind: c.lookedUp ? (CARRIER_KINDS[c.carrier] ?? 'A') : 'A',
        reachable: !c.lookedUp || c.reachable,
        textable: c.lookedUp ? textableBy(c.lineType) : 'unknown',
      };
    }),
  );
  const rows = await w.of(contactNumberTable).findAll({ where: { businessId: made.id }, attributes: ['id', 'e164'] });
  const rowOf = new Map(rows.map((r) => [r.e164, r.id]));
  for (const c of contacts) c.row = rowOf.get(c.e164) ?? 0;
  await insertMany(
    w,
    listMemberTable,
    contacts.flatMap((c) =>
      c.lists.map((l) => ({ listId: listIds.get(l) ?? '', contactId: c.id, sortName: sorted.get(c.id) ?? '' })),
    ),
  );
  s.past.lines.push(
    ...contacts.map((c) => ({ e164: c.e164, lineType: c.lineType, carrier: c.carrier, reachable: c.reachable })),
  );
  await s.app.ledger.append(
    w,
    made.id,
    history(s, b, contacts, intake?.id ?? '').sort((x, y) => (x.recordedAt ?? 0) - (y.recordedAt ?? 0)),
  );
  await beginWithConsent(w, contacts);
  await lookedUpBefore(w, contacts);
  return contacts;
}

/** An e-mail that nobody else has: of several people of one name each has a figure of their own. */
function emailOf(name: string, taken: Map<string, number>): string {
  const n = (taken.get(name) ?? 0) + 1;
  taken.set(name, n);
  return `${name}${n === 1 ? '' : n}@post.example`;
}

/** How a contact came: by the counter's file on its day, or one by one. */
function came(
  alone: number,
  lists: readonly string[],
  intake: { id: string; at: number } | null,
): { createdAt: number; intakeId: string | null } {
  return intake && lists.includes(COUNTER_LIST)
    ? { createdAt: intake.at, intakeId: intake.id }
    : { createdAt: alone, intakeId: null };
}

/** The intake of the counter's list; null for a business that has no such list. */
async function seedIntake(
  { w, start }: Seeding,
  businessId: string,
  listId: string | undefined,
  contacts: readonly DemoContact[],
): Promise<{ id: string; at: number } | null> {
  if (listId === undefined) return null;
  const actor = { id: 'demo', name: PEOPLE[0].name };
  const intake = { id: idFrom('int', businessId, COUNTER_LIST), at: Math.round(start - COUNTER_DAYS_AGO * DAY) };
  const fileName = 'counter-list-january.csv';
  const stored = contacts.filter((c) => c.lists.includes(COUNTER_LIST)).length;
  const result = { stored, known: 3, changed: 0, revoked: 0, proven: 0, repeats: 2, refused: 4, dropped: 0 };
  const total = stored + result.known + result.repeats + result.refused;
  await w.of(intakeTable).create({
    id: intake.id,
    businessId,
    fileName,
    state: 'stored',
    total,
    received: total,
    listId,
    consentClaim: 'counter list, no forms kept',
    createdBy: actor.name,
    createdAt: intake.at,
    result: { ...result, after: total },
  });
  for (const [minutes, action, after] of [
    [0, 'intake begun', { fileName, rows: total }],
    [9, 'intake stored', result],
  ] as const)
    await record(
      w,
      { now: () => intake.at + minutes * 60_000 },
      { businessId, actor, action, objectKind: 'intake', objectId: intake.id, after },
    );
  return intake;
}

function draw(s: Seeding, b: DemoBusiness, e164: string, i: number): DemoContact {
  const { random } = s;
  const x = random.next();
  const lineType: LineType =
    x < 0.87 ? 'mobile' : x < 0.93 ? 'landline' : x < 0.975 ? 'voip' : x < 0.99 ? 'none' : 'unknown';
  const carrier =
    lineType === 'mobile'
      ? random.pick([
          'Tessary Wireless',
          'Tessary Wireless',
          'Tessary Wireless',
          'Nimbrel Mobile',
          'Nimbrel Mobile',
          'Cobalt Ridge Cellular',
        ])
      : lineType === 'landline'
        ? 'Harth Telephone'
        : lineType === 'voip'
          ? 'Voxmere'
          : '';
  const lists: string[] = [];
  if (b.key === 'saltmarsh') {
    lists.push('Passengers');
    if (random.chance(0.62)) lists.push('Fare list');
    if (random.chance(0.3)) lists.push('Commuters');
    if (random.chance(0.012)) lists.push('Crew');
    if (i >= b.contacts - 214) lists.push(COUNTER_LIST);
    if (random.chance(0.4)) lists.push('crossed in 2026');
    if (random.chance(0.18)) lists.push('season pass');
  } else if (b.key === 'northbank') {
    lists.push('Members');
    if (random.chance(0.08)) lists.push('Volunteers');
    if (random.chance(0.2)) lists.push('grafting');
  } else {
    lists.push('Students');
    if (random.chance(0.4)) lists.push('wheel class');
  }
  return {
    id: idFrom('con', 'demo', b.key, e164),
    row: 0,
    e164,
    firstName: random.chance(0.95) ? random.pick(FIRST_NAMES) : '',
    lists,
    lineType,
    carrier,
    reachable: !random.chance(0.012),
    lookedUp: !(b.key === 'saltmarsh' && i >= b.contacts - 96),
    lookedUpAt: null,
    createdAt: 0,
    granted: {},
    revokedAt: null,
    leftWith: '',
    backAt: null,
  };
}

/** Months of ledger: pages, counter forms, double opt-ins, a list of claims in January, a wave of opt-outs after an off-topic text. */
function history(s: Seeding, b: DemoBusiness, contacts: DemoContact[], intakeId: string): NewEvent[] {
  const { random, start } = s;
  const events: NewEvent[] = [];
  const at = (daysAgo: number): number => Math.round(start - daysAgo * DAY);
  const add = (e: NewEvent): void => void events.push({ ...e, recordedAt: e.recordedAt ?? (e.happenedAt ?? 0) + 400 });
  const words = (purpose: 'informational' | 'promotional'): string => wordsOn(b, purpose);
  const seen = { agent: 'Mozilla/5.0 (mobile)', page: b.page.slug, pageSha256: pageSeen(b).sha256 };
  const version = `${b.page.slug}, version 1`;
  for (const [i, c] of contacts.entries()) {
    if (c.lists.includes(COUNTER_LIST)) {
      if (random.chance(0.82))
        add({
          e164: c.e164,
          purposes: ['informational', 'promotional'],
          kind: 'claimed',
          how: 'imported record',
          happenedAt: at(COUNTER_DAYS_AGO),
          recordedBy: 'demo',
          evidence: { claim: 'counter list, no forms kept', intake: intakeId },
        });
      continue;
    }
    const joined = at(random.between(131, 229));
    const paper = random.chance(0.35);
    const evidence: Record<string, string> = paper
      ? { document: `counter form ${1000 + i}`, digest: idFrom('sha', b.key, String(i)) }
      : { ip: `192.0.2.${random.int(1, 254)}`, ...seen };
    if (random.chance(0.97)) {
      add({
        e164: c.e164,
        purposes: ['informational'],
        kind: 'granted',
        how: paper ? 'paper form' : 'web page',
        happenedAt: joined,
        disclosure: words('informational'),
        disclosureVersion: version,
        evidence,
        recordedBy: paper ? 'demo' : 'contact',
      });
      c.granted.informational = joined;
    }
    const wantsOffers =
      b.key !== 'saltmarsh' ? random.chance(0.7) : c.lists.includes('Fare list') && random.chance(0.88);
    if (wantsOffers) {
      const ip = `192.0.2.${random.int(1, 254)}`;
      const by: Pick<NewEvent, 'how' | 'disclosure' | 'disclosureVersion' | 'evidence'> = cameByWord(b, i)
        ? {
            how: 'keyword' as const,
            disclosure: KEYWORD.told,
            disclosureVersion: toldVersion,
            evidence: {
              words: KEYWORD.word,
              keyword: KEYWORD.word,
              programme: KEYWORD.id,
              comes: 'new',
              place: KEYWORD.place,
            },
          }
        : {
            how: 'web page' as const,
            disclosure: words('promotional'),
            disclosureVersion: version,
            evidence: { ip, ...seen },
          };
      add({
        e164: c.e164,
        purposes: ['promotional'],
        kind: 'granted',
        awaitsConfirmation: true,
        happenedAt: joined + 30_000,
        ...by,
      });
      if (random.chance(0.955)) {
        const yes = joined + random.int(40, 9000) * 1000;
        add({
          e164: c.e164,
          purposes: ['promotional'],
          kind: 'confirmed',
          how: 'reply',
          happenedAt: yes,
          evidence: { words: 'YES' },
        });
        c.granted.promotional = yes;
      } else
        add({
          e164: c.e164,
          purposes: ['promotional'],
          kind: 'expired',
          how: 'clock',
          happenedAt: joined + 30_000 + 72 * 3_600_000 - 1,
          recordedAt: joined + 30_000 + 72 * 3_600_000,
          recordedBy: 'system',
          evidence: { why: 'confirming text not answered in 72 hours' },
        });
    }
    if (random.chance(0.006))
      add({
        e164: c.e164,
        purposes: ['informational', 'promotional'],
        kind: 'voided',
        how: 'reassigned numbers',
        happenedAt: at(REASSIGNED_DAYS_AGO),
        recordedBy: 'system',
        evidence: { asked: dayIn(joined, 'America/New_York'), answer: 'yes', query: idFrom('rnd', b.key, c.e164) },
      });
    const offTopic = b.key === 'saltmarsh' && c.granted.promotional !== undefined && random.chance(0.062);
    const leaves = offTopic || random.chance(0.028);
    if (leaves) {
      const when = offTopic ? at(28) + random.int(60, 20_000) * 1000 : at(random.between(4, 120));
      const parting = random.pick(['STOP', 'stop', 'Stop.', 'unsubscribe', 'STOP please', 'Quit']);
      add({
        e164: c.e164,
        purposes: ['conversational', 'informational', 'promotional'],
        kind: 'revoked',
        how: 'keyword',
        happenedAt: when,
        evidence: { words: parting },
      });
      c.revokedAt = when;
      c.leftWith = parting;
      if (random.chance(0.12)) {
        const back = Object.keys(c.granted) as Purpose[];
        const again = Math.min(when + random.int(1, 14) * DAY, at(0.5));
        if (back.length > 0) {
          add({
            e164: c.e164,
            purposes: back,
            kind: 'granted',
            how: 'keyword',
            happenedAt: again,
            disclosure: words(back.includes('promotional') ? 'promotional' : 'informational'),
            disclosureVersion: version,
            evidence: { words: 'START' },
          });
          c.backAt = again;
        }
      }
    }
  }
  return events;
}
