import { literal, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { hostedTable, type HostedModel } from './model.js';

export async function hostedById(r: Reader, id: string): Promise<HostedModel | null> {
  return r.of(hostedTable).findByPk(id);
}

/** The set-up by which texting is on for a number of ours; null where it is on by none. */
export async function hostedOn(r: Reader, numberId: string): Promise<HostedModel | null> {
  return r.of(hostedTable).findOne({ where: { numberId, state: 'on' } });
}

/** All set-ups of a business, the last begun first. */
export async function hostedOf(r: Reader, businessId: string): Promise<HostedModel[]> {
  return r.of(hostedTable).findAll({ where: { businessId }, order: [['begunAt', 'DESC'], 'id'] });
}

/** Numbers that are text-enabled here or being prepared for it, of every business. */
export async function hostedNumbers(r: Reader): Promise<string[]> {
  const where = { state: ['draft', 'submitted', 'refused', 'on'] };
  return (await r.of(hostedTable).findAll({ where, attributes: ['e164'] })).map((h) => h.e164);
}

/** Whether texting is on for a number, or on its way to be. */
export async function isHosted(r: Reader, e164: string): Promise<boolean> {
  const where = { e164, state: ['draft', 'submitted', 'refused', 'on'] };
  return (await r.of(hostedTable).count({ where })) > 0;
}

export async function addHosted(w: Writer, hosted: CreationAttributes<HostedModel>): Promise<void> {
  await w.of(hostedTable).create(hosted);
}

type Change = Partial<Omit<CreationAttributes<HostedModel>, 'id' | 'version'>>;
/** Keeps a change of a set-up; its version goes up. */
export async function saveHosted(w: Writer, id: string, change: Change): Promise<void> {
  await w.of(hostedTable).update({ ...change, version: literal('version + 1') }, { where: { id } });
}
/** Keeps a change that is part of a larger one, whose version goes up once. */
export async function keepHosted(w: Writer, id: string, change: Change): Promise<void> {
  await w.of(hostedTable).update(change, { where: { id } });
}

/** The line is called: earlier codes are worthless, and tries begin anew. */
export async function noteCall(w: Writer, id: string, at: number): Promise<void> {
  await keepHosted(w, id, { calledAt: Math.round(at), codeConfirmed: false, codeTries: 0 });
}

export async function countCodeTry(w: Writer, id: string): Promise<void> {
  await w.of(hostedTable).increment('codeTries', { where: { id } });
}
