import { Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { oneById, pageOf, type PageOrOne } from '../../../platform/keyset.js';
import { evidencePackTable, evidenceRequestTable, type EvidencePackModel, type EvidenceRequestModel } from './model.js';

const inState = (state: 'open' | 'answered' | undefined): object =>
  state === undefined ? {} : { answeredAt: state === 'open' ? null : { [Op.ne]: null } };

/** A page of the requests, the last first. */
export async function requestsOf(
  r: Reader,
  businessId: string,
  state: 'open' | 'answered' | undefined,
  { id, cursor, limit }: PageOrOne,
): Promise<{ rows: EvidenceRequestModel[]; next: string | null }> {
  return pageOf(r.of(evidenceRequestTable), {
    where: { businessId, ...inState(state), ...oneById(id) },
    order: [
      { by: 'asked_at', down: true, is: 'number' },
      { by: 'id', down: true, is: 'text' },
    ],
    cursor,
    limit,
  });
}
export async function countRequests(
  r: Reader,
  businessId: string,
  state: 'open' | 'answered' | undefined,
): Promise<number> {
  return r.of(evidenceRequestTable).count({ where: { businessId, ...inState(state) } });
}
export async function requestById(r: Reader, businessId: string, id: string): Promise<EvidenceRequestModel | null> {
  return r.of(evidenceRequestTable).findOne({ where: { id, businessId } });
}
/** Requests with a deadline that were not answered yet, the most urgent first. */
export async function dueRequests(r: Reader, businessId: string): Promise<EvidenceRequestModel[]> {
  return r
    .of(evidenceRequestTable)
    .scope('open')
    .findAll({ where: { businessId, dueOn: { [Op.ne]: null } }, order: ['dueOn', 'id'] });
}
export async function allRequests(r: Reader, businessId: string): Promise<EvidenceRequestModel[]> {
  return r.of(evidenceRequestTable).findAll({ where: { businessId } });
}
export async function addRequest(w: Writer, request: CreationAttributes<EvidenceRequestModel>): Promise<void> {
  await w.of(evidenceRequestTable).create(request);
}

export async function packsOf(r: Reader, requestIds: readonly string[]): Promise<EvidencePackModel[]> {
  return r.of(evidencePackTable).findAll({
    where: { requestId: [...requestIds] },
    order: [
      ['madeAt', 'DESC'],
      ['id', 'DESC'],
    ],
  });
}
export async function packById(r: Reader, businessId: string, id: string): Promise<EvidencePackModel | null> {
  return r.of(evidencePackTable).findOne({ where: { id, businessId } });
}
/** A pack of whatever business: for whoever clears up files. */
export async function packOfAnybody(r: Reader, id: string): Promise<EvidencePackModel | null> {
  return r.of(evidencePackTable).findByPk(id);
}
export async function addPack(w: Writer, pack: CreationAttributes<EvidencePackModel>): Promise<void> {
  await w.of(evidencePackTable).create(pack);
}
/** Packs whose file is past its time. */
export async function packsPast(r: Reader, now: number): Promise<EvidencePackModel[]> {
  return r.of(evidencePackTable).findAll({ where: { state: 'ready', keptUntil: { [Op.lte]: now } } });
}
