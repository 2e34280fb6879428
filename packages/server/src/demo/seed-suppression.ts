import { SUPPRESSION_PART } from '@long-gate/contracts';
import type { SuppressionKind } from '@long-gate/core';
import { consentStateTable } from '../areas/consent/model.js';
import type { App } from '../app.js';
import type { Actor } from '../platform/audit.js';
import { lotsOf } from '../platform/bulk.js';
import { firstDesk } from './first-desk.js';

/** Area codes in which the first business knows nobody: most of a registry is about others. */
const ELSEWHERE = [303, 307, 405, 406, 501, 505, 605, 701, 801, 907, 913, 970];

/** The first business’s lists: a registry that has grown too old, and numbers its desk was asked never to write to. */
export async function seedSuppression(app: App): Promise<void> {
  const { db } = app.platform;
  const desk = await firstDesk(app);
  if (!desk) return;
  const { businessId, administrator } = desk;
  const pick = async (promotional: string, n: number): Promise<string[]> =>
    (
      await db
        .of(consentStateTable)
        .findAll({ where: { businessId, promotional }, order: [['e164', 'DESC']], limit: n })
    )
      .map((x) => x.e164)
      .filter((e164) => /^\+1[2-9]/.test(e164));
  const bring = async (
    wish: { name: string; kind: SuppressionKind; source: string; datedOn: string },
    lines: readonly string[],
  ): Promise<void> => {
    const list = await app.suppression.add(administrator, businessId, wish, `demo-${wish.kind}`);
    const edition = list.reading?.edition;
    if (edition === undefined) return;
    const parts = [...lotsOf(lines, SUPPRESSION_PART)];
    for (const [n, part] of parts.entries())
      await app.suppression.take(businessId, list.id, { edition, part: n, lines: part });
    await app.suppression.finish(administrator, businessId, list.id, { edition, parts: parts.length });
  };
  const ten = (e164: string): string => `${e164.slice(2, 5)},${e164.slice(5)}`;
  const known = [...(await pick('granted', 60)), ...(await pick('unproven', 20)), ...(await pick('lapsed', 12))];
  const others = ELSEWHERE.flatMap((npa) => Array.from({ length: 100 }, (_, i) => `${npa},5550${String(100 + i)}`));
  await bring(
    {
      name: 'National do-not-call list',
      kind: 'national',
      source: 'downloaded from the registry under our account number',
      datedOn: '2027-02-03',
    },
    [...others, ...known.map(ten)].sort(),
  );
  await bring(
    {
      name: 'Asked at the desk',
      kind: 'own',
      source: 'a sheet kept at the ticket counter',
      datedOn: '2027-01-19',
    },
    await pick('revoked', 9),
  );
  await seedRelationships(app, desk, {
    bought: await pick('unproven', 8),
    asked: await pick('lapsed', 2),
    left: await pick('revoked', 2),
  });
}

/** What the ticket office knows: some on the registry bought a ticket, or asked about one; some of them left since. */
async function seedRelationships(
  app: App,
  { businessId, administrator }: { businessId: string; administrator: Actor },
  { bought, asked, left }: Record<'bought' | 'asked' | 'left', readonly string[]>,
): Promise<void> {
  const sold = [...bought, ...left].map(
    (e164, i) =>
      `${e164},${i === 0 ? '2025-08-30' : `2026-0${String(1 + (i % 9))}-1${i % 10}`},purchase,ticket ${4400 + i}`,
  );
  await app.relationships.take(administrator, businessId, {
    ...{ file: 'demo-tickets', name: 'ticket-office.csv', part: 0 },
    lines: ['phone,day,what,about', ...sold],
  });
  for (const [i, phone] of asked.entries())
    await app.relationships.record(administrator, businessId, {
      phone,
      kind: 'inquiry',
      happenedOn: `2027-02-0${2 + i}`,
      reference: i === 0 ? 'group fares' : 'a bicycle on board',
    });
}
