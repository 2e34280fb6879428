import { literal, type CreationAttributes, type OrderItem } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { portNumberTable, portTable, type PortModel, type PortNumberModel } from './model.js';

const NUMBERS = { association: 'numbers' } as const;
/** The numbers of a request stand in their order. */
const IN_ORDER: OrderItem[] = [['numbers', 'e164', 'ASC']];

/** A request as it stands now, with its numbers. */
export async function portById(r: Reader, id: string): Promise<PortModel | null> {
  return r.of(portTable).findByPk(id, { include: NUMBERS, order: IN_ORDER });
}

/** The numbers of requests, in their order, by the requests' ids. */
export async function portNumbers(
  r: Reader,
  businessId: string,
  ids: readonly string[],
): Promise<Map<string, string[]>> {
  const ports = await r
    .of(portTable)
    .findAll({ where: { businessId, id: [...ids] }, include: NUMBERS, order: IN_ORDER });
  return new Map(ports.map((p) => [p.id, (p.numbers ?? []).map((n) => n.e164)]));
}

/** Numbers of requests that are under way or being prepared, of every business. */
export async function numbersOnTheirWay(r: Reader): Promise<string[]> {
  return (await r.of(portNumberTable).findAll({ where: { open: true }, attributes: ['e164'] })).map((n) => n.e164);
}

/** All requests of a business with their numbers, the last begun first. */
export async function portsOf(r: Reader, businessId: string): Promise<PortModel[]> {
  return r
    .of(portTable)
    .findAll({ where: { businessId }, include: NUMBERS, order: [['begunAt', 'DESC'], ['id', 'ASC'], ...IN_ORDER] });
}

/** Requests that landed after a moment, with their numbers. */
export async function portsLanded(r: Reader, businessId: string, since: number): Promise<PortModel[]> {
  return r
    .of(portTable)
    .scope({ method: ['landed', since] })
    .findAll({ where: { businessId }, include: NUMBERS, order: IN_ORDER });
}

/** Requests on which something may wait to be done, those that landed after a moment among them, with their numbers. */
export async function portsUnderWay(r: Reader, businessId: string, since: number): Promise<PortModel[]> {
  return r
    .of(portTable)
    .scope({ method: ['underWay', since] })
    .findAll({ where: { businessId }, include: NUMBERS, order: IN_ORDER });
}

/** Requests that have a day, by it, with their numbers. */
export async function portsWithDay(r: Reader, businessId: string): Promise<PortModel[]> {
  return r
    .of(portTable)
    .scope('dated')
    .findAll({ where: { businessId }, include: NUMBERS, order: [['focAt', 'ASC'], ...IN_ORDER] });
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

/** The open request in which a number stands, whoever's it is. */
export async function openPortOf(r: Reader, e164: string): Promise<{ portId: string; businessId: string } | null> {
  const number = await r.of(portNumberTable).findOne({ where: { e164, open: true }, attributes: ['portId'] });
  const port = number && (await portById(r, number.portId));
  return port && { portId: port.id, businessId: port.businessId };
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
