import type { FeeToCome, RunningFee } from '@long-gate/core';
import { literal, Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { defaultNumberTable, numberTable, type NumberModel } from './model.js';
import type { NumberRow } from './number-row.js';

/** A number with the purposes it is the default for. By hand, since it is read with every round of texts. */
const ROW = `SELECT n.*, (SELECT string_agg(d.purpose, ',') FROM default_number d WHERE d.number_id = n.id) AS default_for FROM number n`;

export async function numbersOf(r: Reader, businessId: string): Promise<NumberRow[]> {
  return r.all<NumberRow>(`${ROW} WHERE n.business_id = $1 ORDER BY n.ordered_at, n.id`, [businessId]);
}

export async function numberById(r: Reader, businessId: string, id: string): Promise<NumberRow | undefined> {
  return r.one<NumberRow>(`${ROW} WHERE n.business_id = $1 AND n.id = $2`, [businessId, id]);
}

/** The sender IDs of a business that were not given up. */
export async function senderIdsOf(r: Reader, businessId: string): Promise<NumberRow[]> {
  return r.all<NumberRow>(
    `${ROW} WHERE n.business_id = $1 AND n.kind = 'sender ID' AND n.state <> 'released' ORDER BY n.ordered_at, n.id`,
    [businessId],
  );
}

/** A number by its id alone, whoever's it is. */
export async function anyNumber(r: Reader, id: string): Promise<NumberRow | undefined> {
  return r.one<NumberRow>(`${ROW} WHERE n.id = $1`, [id]);
}

/** The numbers tied to a campaign. */
export async function numbersIn(
  r: Reader,
  campaignId: string,
): Promise<{ id: string; e164: string; label: string; tieState: string }[]> {
  const rows = await r.of(numberTable).findAll({ where: { campaignId }, order: ['activeAt'] });
  return rows.map(({ id, e164, label, tieState }) => ({ id, e164, label, tieState }));
}

export async function countIn(r: Reader, campaignId: string): Promise<number> {
  return r.of(numberTable).count({ where: { campaignId } });
}

/** Our number with this address, whoever's it is. */
export async function byAddress(r: Reader, e164: string): Promise<{ id: string; business_id: string } | undefined> {
  return r.one(`SELECT id, business_id FROM number WHERE e164 = $1 AND state IN ('active','paused')`, [e164]);
}

/** Whose number this is, or whose release of it can still be taken back. */
export async function heldBy(r: Reader, e164: string): Promise<{ id: string; business_id: string } | undefined> {
  return r.one(
    `SELECT id, business_id FROM number WHERE e164 = $1 AND (state IN ('active','paused') OR before_release IS NOT NULL) ORDER BY before_release IS NOT NULL LIMIT 1`,
    [e164],
  );
}

/**
 * Whose number this is or was until a moment ago; a number somebody has now comes first. By hand, since every text that
 * comes in asks it.
 */
export async function heardAt(
  r: Reader,
  e164: string,
  now: number,
  heardForMs: number,
): Promise<{ id: string; business_id: string; ours: number } | undefined> {
  return r.one(
    `SELECT id, business_id, state IN ('active','paused') AS ours FROM number WHERE e164 = $1 AND (state IN ('active','paused') OR (active_at IS NOT NULL AND coalesce(released_at, $2) > $2 - $3))
     ORDER BY ours DESC, coalesce(released_at, active_at) DESC LIMIT 1`,
    [e164, now, heardForMs],
  );
}

/** Active numbers that can be spoken from, the tied ones first. */
export async function speaking(r: Reader, businessId: string): Promise<{ id: string } | undefined> {
  return r.one(
    `SELECT id FROM number WHERE business_id = $1 AND state = 'active' AND kind <> 'sender ID' ORDER BY tie_state = 'attached' DESC, active_at LIMIT 1`,
    [businessId],
  );
}

/** Whether there is an active number of this business that is no sender ID. */
export async function isActiveNumber(r: Reader, businessId: string, id: string): Promise<boolean> {
  const where = { id, businessId, state: 'active', kind: { [Op.ne]: 'sender ID' } };
  return (await r.of(numberTable).count({ where })) > 0;
}

/** Local numbers of a business that are in no campaign and will want one. */
export async function untiedLocals(r: Reader, businessId: string): Promise<number> {
  const where = { businessId, kind: 'local', state: ['ordered', 'active', 'paused'], campaignId: null };
  return r.of(numberTable).count({ where });
}

export async function addNumber(w: Writer, number: CreationAttributes<NumberModel>): Promise<void> {
  await w.of(numberTable).create(number);
}

/** Saves a change of a number; whoever has its page open learns that it has changed. */
export async function saveNumber(
  w: Writer,
  id: string,
  change: Partial<Omit<CreationAttributes<NumberModel>, 'id' | 'version'>>,
): Promise<void> {
  await w.of(numberTable).update({ ...change, version: literal('version + 1') }, { where: { id } });
}

export async function noteUse(w: Writer, id: string, at: number): Promise<void> {
  await w.run('UPDATE number SET last_used_at = $2 WHERE id = $1', [id, at]);
}

/** Its fee is paid up to then. Nothing anybody edits changes with it, so whoever does is not disturbed. */
export async function noteFee(w: Writer, id: string, nextFeeAt: number): Promise<void> {
  await w.of(numberTable).update({ state: 'active', note: '', unpaidSince: null, nextFeeAt }, { where: { id } });
}

/** The business that has this number or is about to; null where none. */
export async function ownerOf(r: Reader, e164: string): Promise<string | null> {
  const row = await r.of(numberTable).findOne({ where: { e164, state: ['ordered', 'active', 'paused'] } });
  return row?.businessId ?? null;
}

/** Whether somebody has this number, or is about to. */
export async function isTaken(r: Reader, e164: string): Promise<boolean> {
  return (await ownerOf(r, e164)) !== null;
}

/** Every number somebody here has, is about to, or can still take back. */
export async function ownedNumbers(r: Reader): Promise<string[]> {
  const where = { [Op.or]: [{ state: ['ordered', 'active', 'paused'] }, { beforeRelease: { [Op.ne]: null } }] };
  return (await r.of(numberTable).findAll({ where, attributes: ['e164'] })).map((n) => n.e164);
}

/** The monthly fees that run, by kind of number. A grouped count, of few. */
export async function runningFees(r: Reader, businessId: string): Promise<RunningFee[]> {
  return r.all<RunningFee>(
    `SELECT CASE WHEN source = 'hosted' THEN 'hosted numbers' ELSE kind || ' numbers' END AS kind, count(*) AS count, sum(monthly) AS monthly
     FROM number WHERE business_id = $1 AND state IN ('active','paused') AND monthly > 0 GROUP BY 1 ORDER BY 1`,
    [businessId],
  );
}

/** When the fee of each number is due next. */
export async function feesToCome(r: Reader, businessId: string): Promise<FeeToCome[]> {
  const where = { businessId, state: ['active', 'paused'], monthly: { [Op.gt]: 0 }, nextFeeAt: { [Op.ne]: null } };
  return (await r.of(numberTable).findAll({ where })).map((n) => ({ at: n.nextFeeAt ?? 0, amount: n.monthly }));
}

export async function defaultFor(r: Reader, businessId: string, purpose: string): Promise<string | null> {
  const row = await r.of(defaultNumberTable).findOne({ where: { businessId, purpose } });
  return row?.numberId ?? null;
}

export async function setDefault(
  w: Writer,
  businessId: string,
  purpose: string,
  numberId: string | null,
): Promise<void> {
  if (numberId === null) await w.of(defaultNumberTable).destroy({ where: { businessId, purpose } });
  else await w.of(defaultNumberTable).upsert({ businessId, purpose, numberId });
}

/** A number that is given up is nobody's default any more. */
export async function dropDefaults(w: Writer, numberId: string): Promise<void> {
  await w.of(defaultNumberTable).destroy({ where: { numberId } });
}
