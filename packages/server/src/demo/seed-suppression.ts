import { SUPPRESSION_PART } from '@long-gate/contracts';
import type { SuppressionKind } from '@long-gate/core';
import { consentStateTable } from '../areas/consent/model.js';
import type { App } from '../app.js';
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
}
