import { Op } from 'sequelize';
import { ruleData } from '@long-gate/core';
import type { Db, Reader } from './db.js';
import { stoodTable, type StoodModel } from './model.js';

/** The rules are everybody's. */
const EVERYBODY = '';

/**
 * What the gate read of a business, its numbers and its filings at a moment, by kind of object and object, kept by the
 * database as it changes (`migrations/kept-history.ts`); and the rules it judged by.
 */
export async function stoodAt(r: Reader, businessId: string, at: number): Promise<StoodModel[]> {
  return r.of(stoodTable).findAll({
    where: {
      businessId: [businessId, EVERYBODY],
      fromAt: { [Op.lte]: at },
      toAt: { [Op.or]: [{ [Op.is]: null }, { [Op.gt]: at }] },
    },
    order: ['objectKind', 'objectId', 'fact', 'id'],
  });
}

/** The same for all of a stretch of time: whatever stood at some moment of it, with from when to when. */
export async function stoodBetween(r: Reader, businessId: string, from: number, to: number): Promise<StoodModel[]> {
  return r.of(stoodTable).findAll({
    where: {
      businessId: [businessId, EVERYBODY],
      fromAt: { [Op.lte]: to },
      toAt: { [Op.or]: [{ [Op.is]: null }, { [Op.gt]: from }] },
    },
    order: ['fromAt', 'objectKind', 'objectId', 'fact', 'id'],
  });
}

/** Keeps what the rules read from now on, where it is other than what was kept: called at each start. */
export async function keepRules(db: Db, at: number, rules: Record<string, string> = ruleData()): Promise<void> {
  const known = { businessId: EVERYBODY, objectKind: 'rules', objectId: 'core' };
  const kept = await db.of(stoodTable).findAll({ where: { ...known, toAt: null }, raw: true });
  const changed = Object.entries(rules).filter(([fact, value]) => kept.find((k) => k.fact === fact)?.value !== value);
  const gone = kept.filter((k) => !(k.fact in rules)).map((k) => k.fact);
  if (changed.length + gone.length === 0) return;
  await db.write(async (w) => {
    const over = [...changed.map(([fact]) => fact), ...gone];
    await w.of(stoodTable).update({ toAt: at }, { where: { ...known, fact: over, toAt: null } });
    await w.of(stoodTable).bulkCreate(changed.map(([fact, value]) => ({ ...known, fact, value, fromAt: at })));
  });
}
