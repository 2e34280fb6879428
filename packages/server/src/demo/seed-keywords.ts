import { keywordCodeTable, keywordTable, keywordWordTable } from '../areas/consent/keywords/model.js';
import { consentEventTable } from '../areas/consent/model.js';
import { numberTable } from '../areas/numbers/model.js';
import { KEYWORD, keywordOf } from './demo-keyword.js';
import { BUSINESSES, type DemoBusiness } from './scenario.data.js';
import type { Seeding } from './seed.js';

/** The ferries’ keyword, with what came of it as the ledger says, and a code for each who said YES. */
export async function seedKeywords({ w }: Seeding, b: DemoBusiness, made: { id: string }): Promise<void> {
  if (b.key !== BUSINESSES[0]?.key) return;
  const number = await w
    .of(numberTable)
    .findOne({ where: { businessId: made.id, e164: b.numbers[1]?.e164 ?? '' }, rejectOnEmpty: true });
  const events = await w
    .of(consentEventTable)
    .findAll({ where: { businessId: made.id }, order: ['happenedAt', 'seq'] });
  const joined = events.filter((e) => (JSON.parse(e.evidence) as { programme?: string }).programme === KEYWORD.id);
  const yes = new Map<string, number>();
  for (const { e164, kind, happenedAt } of events)
    if (kind === 'confirmed' && joined.some((j) => j.e164 === e164)) yes.set(e164, happenedAt);
  const keyword = keywordOf(b);
  await w.of(keywordTable).create({
    ...keyword,
    businessId: made.id,
    numberId: number.id,
    came: { new: joined.length, already: 0, back: 0 },
    confirmed: yes.size,
    lastAt: joined.at(-1)?.happenedAt ?? null,
    createdAt: (joined[0]?.happenedAt ?? 0) - 86_400_000,
  });
  await w
    .of(keywordWordTable)
    .bulkCreate(keyword.words.map((word) => ({ numberId: number.id, word, keywordId: keyword.id })));
  const holders = [...yes];
  await w.of(keywordCodeTable).bulkCreate(
    KEYWORD.codes.map((code, i) => ({
      keywordId: keyword.id,
      no: i + 1,
      code,
      givenTo: holders[i]?.[0] ?? null,
      givenAt: holders[i]?.[1] ?? null,
    })),
  );
}
