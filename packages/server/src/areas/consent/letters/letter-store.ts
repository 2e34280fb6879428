import type { Reader, Writer } from '../../../platform/db.js';
import { letterWordsTable, type LetterWordsModel } from './model.js';

/** Keeps words that are sent; those that are kept already stay as they are. */
export async function keepWords(w: Writer, words: LetterWordsModel['_creationAttributes']): Promise<void> {
  await w.of(letterWordsTable).bulkCreate([words], { ignoreDuplicates: true, validate: true });
}

/** The words with these digests. */
export async function wordsOf(
  r: Reader,
  businessId: string,
  digests: readonly string[],
): Promise<Map<string, LetterWordsModel>> {
  if (digests.length === 0) return new Map();
  const rows = await r.of(letterWordsTable).findAll({ where: { businessId, sha256: [...digests] } });
  return new Map(rows.map((x) => [x.sha256, x]));
}
