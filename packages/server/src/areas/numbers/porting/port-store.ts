import { literal, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { portNumberTable, portTable, type PortModel, type PortNumberModel } from './model.js';
import type { PortNumberRow, PortRow } from './port-row.js';

export async function portById(r: Reader, id: string): Promise<PortRow | undefined> {
  return r.one<PortRow>('SELECT * FROM port WHERE id = $1', [id]);
}

/** All requests of a business, the last begun first. */
export async function portsOf(r: Reader, businessId: string): Promise<PortRow[]> {
  return r.all<PortRow>('SELECT * FROM port WHERE business_id = $1 ORDER BY begun_at DESC, id', [businessId]);
}

/** Requests that landed after a moment. */
export async function portsLanded(r: Reader, businessId: string, since: number): Promise<PortRow[]> {
  return r.all<PortRow>(`SELECT * FROM port WHERE business_id = $1 AND state = 'done' AND completed_at > $2`, [
    businessId,
    since,
  ]);
}

/** Requests on which something may wait to be done, those that landed after a moment among them. */
export async function portsUnderWay(r: Reader, businessId: string, since: number): Promise<PortRow[]> {
  return r.all<PortRow>(
    `SELECT * FROM port WHERE business_id = $1 AND (state IN ('rejected','submitted','accepted','cutting over') OR (state = 'done' AND completed_at > $2))`,
    [businessId, since],
  );
}

/** Requests that have a day, by it. */
export async function portsWithDay(r: Reader, businessId: string): Promise<PortRow[]> {
  return r.all<PortRow>(
    `SELECT * FROM port WHERE business_id = $1 AND foc_at IS NOT NULL AND state IN ('accepted','cutting over','done') ORDER BY foc_at`,
    [businessId],
  );
}

export async function addPort(w: Writer, port: CreationAttributes<PortModel>): Promise<void> {
  await w.of(portTable).create(port);
}

type PortChange = Partial<Omit<CreationAttributes<PortModel>, 'id' | 'version'>>;
/** Keeps a change of a request; its version goes up where others are to see it. */
export async function savePort(w: Writer, id: string, change: PortChange): Promise<void> {
  await w.of(portTable).update({ ...change, version: literal('version + 1') }, { where: { id } });
}
/** Keeps a change that is part of a larger one, whose version goes up once. */
export async function keepPort(w: Writer, id: string, change: PortChange): Promise<void> {
  await w.of(portTable).update(change, { where: { id } });
}

// -- numbers of a request --------------------------------------------------------------------------------------------

export async function numbersOfPort(r: Reader, portId: string): Promise<PortNumberRow[]> {
  return r.all<PortNumberRow>('SELECT * FROM port_number WHERE port_id = $1 ORDER BY e164', [portId]);
}

/** The open request in which a number stands, whoever's it is. */
export async function openPortOf(
  r: Reader,
  e164: string,
): Promise<{ port_id: string; business_id: string } | undefined> {
  return r.one(
    `SELECT n.port_id, p.business_id FROM port_number n JOIN port p ON p.id = n.port_id WHERE n.e164 = $1 AND n.open`,
    [e164],
  );
}

/** Puts a number into a request; one that is there already stays as it is. */
export async function addPortNumber(w: Writer, number: CreationAttributes<PortNumberModel>): Promise<void> {
  await w.of(portNumberTable).bulkCreate([number], { ignoreDuplicates: true });
}

export async function dropPortNumber(w: Writer, portId: string, e164: string): Promise<void> {
  await w.of(portNumberTable).destroy({ where: { portId, e164 } });
}

export async function savePortNumber(
  w: Writer,
  portId: string,
  e164: string,
  change: Partial<CreationAttributes<PortNumberModel>>,
): Promise<void> {
  await w.of(portNumberTable).update(change, { where: { portId, e164 } });
}

/** The numbers of a request are on their way no more. */
export async function closeNumbers(w: Writer, portId: string): Promise<void> {
  await w.of(portNumberTable).update({ open: false }, { where: { portId } });
}
