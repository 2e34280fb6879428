import type { CreationAttributes } from 'sequelize';
import { jsonRows, type Reader, type Writer } from '../../../platform/db.js';
import { letterWordsTable, mailRefusalTable, type LetterWordsModel, type MailRefusalModel } from './model.js';

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

/** Which of these addresses get no letter any more, each by its digest. */
export async function refusedAmong(r: Reader, businessId: string, hashes: readonly string[]): Promise<Set<string>> {
  const rows = await r.all<{ hash: string }>(
    `SELECT m.email_hash AS hash FROM jsonb_each($2) j CROSS JOIN mail_refusal m ON m.business_id = $1 AND m.email_hash = j.value`,
    [businessId, jsonRows([...new Set(hashes)])],
  );
  return new Set(rows.map((x) => x.hash));
}
/** The first reason stands. */
export async function refuseMail(w: Writer, refusal: CreationAttributes<MailRefusalModel>): Promise<void> {
  await w.of(mailRefusalTable).bulkCreate([refusal], { ignoreDuplicates: true });
}
