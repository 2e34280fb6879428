import type { ReassignedAnswer } from '@long-gate/core';
import type { CreationAttributes } from 'sequelize';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { reassignedAnswerTable, type ReassignedAnswerModel } from './model.js';

/** Keeps what was answered; the same answer kept twice is kept once. */
export async function addAnswers(
  w: Writer,
  answers: readonly CreationAttributes<ReassignedAnswerModel>[],
): Promise<void> {
  await w.of(reassignedAnswerTable).bulkCreate([...answers], { ignoreDuplicates: true });
}

export async function answersOf(r: Reader, businessId: string, e164: string): Promise<ReassignedAnswerModel[]> {
  return r.of(reassignedAnswerTable).findAll({
    where: { businessId, e164 },
    order: [
      ['askedAt', 'DESC'],
      ['id', 'DESC'],
    ],
    limit: 100,
  });
}

/** Everything that was answered about these numbers, the first first. */
export async function allAnswers(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<Pick<ReassignedAnswerModel, 'id' | 'e164' | 'day' | 'answer' | 'askedAt'>[]> {
  return r
    .of(reassignedAnswerTable)
    .findAll({ where: { businessId, e164: [...e164s] }, order: ['askedAt', 'id'], raw: true });
}

/** The last answer about each of these; by number or by what stands in its place since its owner was erased. */
export async function lastAnswers(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<{ e164: string; answer: ReassignedAnswer; askedAt: number }[]> {
  return r.all(
    `SELECT a.e164, a.answer, a.asked_at AS "askedAt" FROM jsonb_each($2) j CROSS JOIN reassigned_answer a ON a.business_id = $1 AND a.e164 = j.value
     WHERE a.asked_at = (SELECT max(b.asked_at) FROM reassigned_answer b WHERE b.business_id = $1 AND b.e164 = a.e164)`,
    [businessId, jsonRows(e164s)],
  );
}

/** A person was erased: what was answered stays, under what stands in the number's place. */
export async function putInPlace(w: Writer, businessId: string, e164: string, digest: string): Promise<void> {
  await w.of(reassignedAnswerTable).update({ e164: digest }, { where: { businessId, e164 } });
}
