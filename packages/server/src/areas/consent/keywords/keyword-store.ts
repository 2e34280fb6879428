import { literal, Op, type CreationAttributes } from 'sequelize';
import { insertMany } from '../../../platform/bulk.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { keywordCodeTable, keywordTable, keywordWordTable, type KeywordModel } from './model.js';

export async function keywordsOf(r: Reader, businessId: string): Promise<KeywordModel[]> {
  return r.of(keywordTable).findAll({ where: { businessId }, order: ['createdAt', 'id'] });
}
export async function keywordById(r: Reader, businessId: string, id: string): Promise<KeywordModel | null> {
  return r.of(keywordTable).findOne({ where: { id, businessId } });
}
/** The programmes of a number that are under way. */
export async function keywordsOn(r: Reader, numberId: string): Promise<KeywordModel[]> {
  return r.of(keywordTable).findAll({ where: { numberId, active: true }, order: ['createdAt', 'id'] });
}

/** Which of these words another programme of the number has. */
export async function takenWords(
  r: Reader,
  numberId: string,
  words: readonly string[],
  id: string,
): Promise<{ word: string; keywordId: string }[]> {
  return r
    .of(keywordWordTable)
    .findAll({ where: { numberId, word: [...words], keywordId: { [Op.ne]: id } }, raw: true });
}
async function keepWords(w: Writer, k: { id: string; numberId: string; words: readonly string[] }): Promise<void> {
  await w.of(keywordWordTable).destroy({ where: { keywordId: k.id } });
  await w.of(keywordWordTable).bulkCreate(k.words.map((word) => ({ numberId: k.numberId, word, keywordId: k.id })));
}
export async function addKeyword(w: Writer, k: CreationAttributes<KeywordModel>): Promise<void> {
  await w.of(keywordTable).create(k);
  await keepWords(w, k);
}
/** @param told whether what people agree to changed with it, which begins a new version of it. */
export async function saveKeyword(
  w: Writer,
  k: KeywordModel,
  change: Partial<CreationAttributes<KeywordModel>>,
  told: boolean,
): Promise<void> {
  await k.update({ ...change, toldVersion: k.toldVersion + (told ? 1 : 0), version: literal('version + 1') });
  await keepWords(w, k);
}

// -- codes -------------------------------------------------------------------------------------------------------------

export async function codesOf(
  r: Reader,
  ids: readonly string[],
): Promise<Map<string, { given: number; left: number }>> {
  if (ids.length === 0) return new Map();
  const count = async (givenTo: null | { [Op.ne]: null }): Promise<Map<string, number>> => {
    const rows = await r.of(keywordCodeTable).count({ where: { keywordId: [...ids], givenTo }, group: ['keywordId'] });
    return new Map(rows.map((x) => [String(x['keywordId']), x.count]));
  };
  const [given, left] = await Promise.all([count({ [Op.ne]: null }), count(null)]);
  return new Map(ids.map((id) => [id, { given: given.get(id) ?? 0, left: left.get(id) ?? 0 }]));
}
/** The longest code of each that is still to be given. */
export async function longestCode(r: Reader, keywordId: string): Promise<string> {
  const row = await r.of(keywordCodeTable).findOne({
    where: { keywordId, givenTo: null },
    order: [[literal('length(code)'), 'DESC']],
    raw: true,
  });
  return row?.code ?? '';
}
/** Adds codes after those there are; one that is there stays as it is. @returns how many were added. */
export async function addCodes(w: Writer, keywordId: string, codes: readonly string[]): Promise<number> {
  const all = w.of(keywordCodeTable);
  const known = new Set(
    (await all.findAll({ where: { keywordId, code: [...codes] }, attributes: ['code'], raw: true })).map((x) => x.code),
  );
  const last = Number((await all.max('no', { where: { keywordId } })) ?? 0);
  const fresh = codes.filter((code) => !known.has(code));
  await insertMany(
    w,
    keywordCodeTable,
    fresh.map((code, i) => ({ keywordId, no: last + 1 + i, code })),
  );
  return fresh.length;
}
export async function dropCodes(w: Writer, keywordId: string): Promise<number> {
  return w.of(keywordCodeTable).destroy({ where: { keywordId, givenTo: null } });
}
/** The code of a person: the one they were given, or the next; empty where none is left. */
export async function giveCode(w: Writer, keywordId: string, e164: string, at: number): Promise<string> {
  const all = w.of(keywordCodeTable);
  const mine = await all.findOne({ where: { keywordId, givenTo: e164 } });
  if (mine) return mine.code;
  const next = await all.findOne({ where: { keywordId, givenTo: null }, order: ['no'] });
  await next?.update({ givenTo: e164, givenAt: at });
  return next?.code ?? '';
}
/** Somebody was erased: their code stays given, to nobody who is named. */
export async function renameHolder(w: Writer, ids: readonly string[], e164: string, inPlace: string): Promise<void> {
  await w.of(keywordCodeTable).update({ givenTo: inPlace }, { where: { keywordId: [...ids], givenTo: e164 } });
}
