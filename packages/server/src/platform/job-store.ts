import { Op, type WhereOptions } from 'sequelize';
import { jsonRows, type Flag, type Reader, type Writer } from './db.js';
import { jobTable, type JobModel } from './model.js';

/** Those whose moment has come, and those whose worker has not been heard of since its lease ran out. */
const due = (now: number, wall: number): WhereOptions<JobModel> => ({
  [Op.or]: [
    { state: 'waiting', runAt: { [Op.lte]: now } },
    { state: 'running', leaseUntil: { [Op.lt]: wall } },
  ],
});

export interface NewJob {
  id: string;
  key: string;
  kind: string;
  businessId: string;
  payload: unknown;
  runAt: number;
  title: string;
  totalCount: number;
  createdAt: number;
}
/** Adds a job; one whose key there is already stays as it is. */
export async function addJob(w: Writer, job: NewJob): Promise<void> {
  await w.of(jobTable).bulkCreate([job], { ignoreDuplicates: true, validate: true });
}

export async function freeRunning(w: Writer): Promise<void> {
  await w.of(jobTable).update({ state: 'waiting', leaseUntil: null }, { where: { state: 'running' } });
}

/**
 * When the next waiting job is due; null where none waits. Asked again and again, as {@link isAnyDue} is, and so in words
 * that are prepared once: a model makes its statement anew each time, which takes five times as long as asking it.
 */
export async function nextRun(r: Reader, kinds?: Kinds): Promise<number | null> {
  const { sql, bind } = amongKinds(kinds);
  return (
    (await r.one<{ at: number | null }>(`SELECT min(run_at) AS at FROM job WHERE state = 'waiting'${sql}`, bind))?.at ??
    null
  );
}

/** What kind the job is that runs next. */
export async function nextKind(r: Reader): Promise<string | null> {
  const where = { state: 'waiting' };
  return (await r.of(jobTable).findOne({ where, order: ['runAt'], attributes: ['kind'], raw: true }))?.kind ?? null;
}

/** Jobs of one kind of a business that are not over. */
export async function jobsUnderWay(r: Reader, businessId: string, kind: string): Promise<JobModel[]> {
  return r.of(jobTable).findAll({ where: { businessId, kind, state: ['waiting', 'running', 'paused'] } });
}

/** Only such jobs as are long, or all others. */
export interface Kinds {
  long: readonly string[];
  only: boolean;
}
const ofKinds = (k: Kinds | undefined) => (k ? { kind: { [k.only ? Op.in : Op.notIn]: [...k.long] } } : {});

const amongKinds = (k: Kinds | undefined): { sql: string; bind: Record<string, string> } =>
  k
    ? {
        sql: ` AND kind ${k.only ? 'IN' : 'NOT IN'} (SELECT value FROM jsonb_each($kinds))`,
        bind: { kinds: jsonRows(k.long) },
      }
    : { sql: '', bind: {} };

/** Whether a job is {@link due}. */
export async function isAnyDue(r: Reader, now: number, wall: number, kinds?: Kinds): Promise<boolean> {
  const { sql, bind } = amongKinds(kinds);
  const any = (which: string): string => `EXISTS (SELECT 1 FROM job WHERE ${which}${sql})`;
  const row = await r.one<{ due: Flag }>(
    `SELECT ${any(`state = 'waiting' AND run_at <= $now`)} OR ${any(`state = 'running' AND lease_until < $wall`)} AS due`,
    { ...bind, now, wall },
  );
  return Boolean(row?.due);
}

/** Leases the job that has been due longest. */
export async function leaseDue(
  w: Writer,
  now: number,
  wall: number,
  lease: { owner: string; until: number },
  kinds?: Kinds,
): Promise<JobModel | null> {
  const where = { ...due(now, wall), ...ofKinds(kinds) };
  const job = await w.of(jobTable).findOne({ where, order: ['runAt', 'createdAt'] });
  await job?.update({ state: 'running', woken: false, leaseOwner: lease.owner, leaseUntil: lease.until });
  return job;
}

export async function renewLease(w: Writer, id: string, owner: string, until: number): Promise<void> {
  await w.of(jobTable).update({ leaseUntil: until }, { where: { id, leaseOwner: owner } });
}

export type JobState = JobModel['state'];
/** A job of a business, if it is in one of these states. */
export async function jobIn(
  r: Reader,
  businessId: string,
  id: string,
  states: readonly JobState[],
): Promise<JobModel | null> {
  return r.of(jobTable).findOne({ where: { id, businessId, state: [...states] } });
}

/** The last jobs of a business that are shown, the newest first. */
export async function shownJobs(r: Reader, businessId: string): Promise<JobModel[]> {
  return r.of(jobTable).findAll({
    where: { businessId, title: { [Op.ne]: '' } },
    order: [['createdAt', 'DESC']],
    limit: 30,
  });
}

/** Jobs of a business by their ids or keys. */
export async function jobsBy(
  r: Reader,
  businessId: string,
  by: 'id' | 'key',
  values: readonly string[],
): Promise<JobModel[]> {
  return r.of(jobTable).findAll({ where: { businessId, [by]: [...values] } });
}

export async function jobById(r: Reader, id: string): Promise<JobModel | null> {
  return r.of(jobTable).findByPk(id);
}

export async function jobIdOf(r: Reader, key: string): Promise<string | undefined> {
  return (await r.of(jobTable).findOne({ where: { key }, attributes: ['id'], raw: true }))?.id;
}

/** Changes a job. @param only only while it is in this state. @returns whether it was. */
export async function changeJob(
  w: Writer,
  which: { id: string } | { key: string },
  change: Partial<JobModel['_attributes']>,
  only?: JobState,
): Promise<void> {
  await w.of(jobTable).update(change, { where: { ...which, ...(only ? { state: only } : {}) } });
}

/** Brings waiting jobs forward to now; one that is running is marked, to come back at once. */
export async function wakeJobs(
  w: Writer,
  which: { key: string } | { businessId: string; kind: string },
  now: number,
): Promise<void> {
  await w.of(jobTable).update({ woken: true }, { where: { ...which, state: { [Op.in]: ['waiting', 'running'] } } });
  await w.of(jobTable).update({ runAt: now }, { where: { ...which, state: 'waiting', runAt: { [Op.gt]: now } } });
}

/** A job goes on later, or at once where it was woken meanwhile; nothing where it was paused or cancelled. */
export async function putBack(w: Writer, id: string, at: number, now: number): Promise<void> {
  const back = { state: 'waiting', leaseUntil: null, attempts: 0 } as const;
  const woken = { id, state: 'running', woken: true } as const;
  await w.of(jobTable).update({ ...back, runAt: Math.min(at, now) }, { where: woken });
  await w.of(jobTable).update({ ...back, runAt: at }, { where: { id, state: 'running' } });
}
