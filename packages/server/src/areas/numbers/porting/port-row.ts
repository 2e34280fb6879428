import {
  dayIn,
  PORT_ZONE,
  type CustomerRecord,
  type PortFacts,
  type PortNumber,
  type PortRequest,
} from '@long-gate/core';
import type { Reader } from '../../../platform/db.js';
import { RecordAnswer } from '@long-gate/gateways';
import { DateTime } from 'luxon';
import { z } from 'zod';
import type { KeptLetter } from '../letters/letter-shape.js';
import { notFound } from '../../../platform/problem.js';
import type { Vault } from '../../../platform/vault.js';
import type { PortModel, PortNumberModel } from './model.js';
import { portById } from './port-store.js';

export type PortRow = PortModel;
export type PortNumberRow = PortNumberModel;

const SecretsShape = z.object({ accountNumber: z.string(), pin: z.string() });
type Secrets = z.infer<typeof SecretsShape>;

/** One request with its numbers, unsealed, as the rules read it. */
export interface Port {
  row: PortRow;
  numbers: PortNumberRow[];
  facts: PortFacts;
  /** As submitted last; null where that is not known. */
  lastSecrets: Secrets | null;
  record: CustomerRecord | null;
  letter: KeptLetter | null;
}

/** Days of a port are those of the losing carriers' offices in the demo's part of the world. */
export const portDay = (moment: number): string => dayIn(moment, PORT_ZONE);
/** The moment at which such a day begins. */
export const dayStart = (day: string): number => DateTime.fromISO(day, { zone: PORT_ZONE }).toMillis();

/** @throws Problem 404 where the business has no such request. */
export async function readPort(r: Reader, vault: Vault, businessId: string, id: string): Promise<Port> {
  const row = await portById(r, id);
  if (row?.businessId !== businessId) throw notFound('port request');
  return unsealed(vault, row);
}

/** A request with its numbers, as it was read, with what is sealed of it. */
export function unsealed(vault: Vault, row: PortRow): Port {
  const open = <S extends z.ZodType>(shape: S, sealed: string): z.output<S> | null =>
    sealed === '' ? null : shape.parse(JSON.parse(vault.unseal(sealed)));
  return {
    row,
    numbers: row.numbers ?? [],
    facts: { ...row.facts, ...(open(SecretsShape, row.secrets) ?? { accountNumber: '', pin: '' }) },
    lastSecrets: open(SecretsShape, row.lastSecrets),
    record: open(RecordAnswer, row.record),
    letter: row.letter,
  };
}

/** How facts are stored: names and addresses plainly, account number and PIN sealed. */
export function storedFacts(vault: Vault, facts: PortFacts): Pick<PortRow, 'facts' | 'secrets'> {
  const { accountNumber, pin, ...plain } = facts;
  return { facts: plain, secrets: vault.seal(JSON.stringify({ accountNumber, pin })) };
}

export function numbersOf(port: Port): PortNumber[] {
  return port.numbers.map((n) => ({
    e164: n.e164,
    kind: n.kind,
    losingCarrier: n.losingCarrier,
    portable: n.portable,
    whyNot: n.whyNot,
  }));
}

/** The request as core reviews it. */
export function requestOf(port: Port): PortRequest {
  return {
    numbers: numbersOf(port),
    facts: port.facts,
    letter: port.letter,
    billDated: port.row.billDated === '' ? null : port.row.billDated,
    acknowledged: port.row.acknowledged,
  };
}
