import { Op } from 'sequelize';
import { ruleData } from '@long-gate/core';
import type { Db, Reader } from './db.js';
import { stoodTable, type StoodModel } from './model.js';

/** The rules are everybody's. */
const EVERYBODY = '';

/** From its moment on, until another took its place. */
const standing = (at: number) => ({
  fromAt: { [Op.lte]: at },
  toAt: { [Op.or]: [{ [Op.is]: null }, { [Op.gt]: at }] },
});

/**
 * What the gate read of a business, its numbers and its filings at a moment, by kind of object and object, kept by the
 * database as it changes (`migrations/kept-history.ts`); and the rules it judged by.
 */
export async function stoodAt(r: Reader, businessId: string, at: number): Promise<StoodModel[]> {
  return r.of(stoodTable).findAll({
    where: { businessId: [businessId, EVERYBODY], ...standing(at) },
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

/** What stood of a business at a moment, to be asked fact by fact; the rules are asked for by {@link rulesAt}. */
export class Stood {
  private readonly values = new Map<string, string | null>();

  private constructor(
    readonly at: number,
    rows: readonly Pick<StoodModel, 'objectKind' | 'objectId' | 'fact' | 'value'>[],
  ) {
    for (const { objectKind, objectId, fact, value } of rows)
      this.values.set(`${objectKind}\n${objectId}\n${fact}`, value);
  }

  static async read(r: Reader, businessId: string, at: number): Promise<Stood> {
    const rows = await r.of(stoodTable).findAll({
      where: { businessId, ...standing(at) },
      attributes: ['objectKind', 'objectId', 'fact', 'value'],
      order: ['id'],
      raw: true,
    });
    return new Stood(at, rows);
  }

  /** @returns undefined where nothing was kept of it then, null where it was nothing. */
  value(kind: string, id: string, fact: string): string | null | undefined {
    return this.values.get(`${kind}\n${id}\n${fact}`);
  }

  /** Of which objects of a kind something stood. */
  ids(kind: string): string[] {
    return [
      ...new Set([...this.values.keys()].flatMap((k) => (k.startsWith(`${kind}\n`) ? [k.split('\n')[1] ?? ''] : []))),
    ];
  }
}

/** What the rules of one area read at a moment, and of which areas it has changed since; undefined for before the first start. */
export async function rulesAt(
  r: Reader,
  area: string,
  at: number,
): Promise<{ value: string | undefined; changedSince: string[] }> {
  const known = { businessId: EVERYBODY, objectKind: 'rules' };
  const row = await r
    .of(stoodTable)
    .findOne({ where: { ...known, fact: area, ...standing(at) }, order: [['id', 'DESC']] });
  const later = await r.of(stoodTable).findAll({
    where: { ...known, toAt: { [Op.gt]: at } },
    attributes: ['fact'],
    order: ['fact'],
    raw: true,
  });
  return { value: row?.value ?? undefined, changedSince: [...new Set(later.map((x) => x.fact))] };
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
