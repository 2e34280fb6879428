import {
  dayIn,
  type CustomerRecord,
  type PortFacts,
  type PortKind,
  type PortNumber,
  type PortRequest,
  type PortState,
} from '@long-gate/core';
import type { Flag, Reader } from '../../../platform/db.js';
import type { KeptLetter } from '../letters/signing.js';
import { notFound } from '../../../platform/problem.js';
import type { Vault } from '../../../platform/vault.js';
import { numbersOfPort, portById } from './port-store.js';

export interface PortRow {
  id: string;
  business_id: string;
  state: PortState;
  losing_carrier: string;
  /** The facts without account number and PIN. */
  facts: string;
  /** Account number and PIN, sealed. */
  secrets: string;
  acknowledged: string;
  record: string;
  record_state: 'not asked' | 'answered' | 'none';
  record_at: number | null;
  letter: string | null;
  bill_dated: string;
  attempt: number;
  reasons: string;
  last_submitted: string | null;
  /** Account number and PIN as they were submitted last, sealed; empty where that is not known. */
  last_secrets: string;
  /** The idempotency key of the last submission. */
  submit_key: string;
  foc_at: number | null;
  asked_date: string;
  runbook: string;
  charged: number;
  begun_at: number;
  submitted_at: number | null;
  answered_at: number | null;
  completed_at: number | null;
  version: number;
}

export interface PortNumberRow {
  port_id: string;
  e164: string;
  kind: PortKind | null;
  losing_carrier: string;
  portable: number | null;
  why_not: string;
  label: string;
  campaign_id: string | null;
  forward_to: string;
  number_id: string | null;
  open: Flag;
}

interface Secrets {
  accountNumber: string;
  pin: string;
}

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
export const PORT_ZONE = 'America/New_York';
export const portDay = (moment: number): string => dayIn(moment, PORT_ZONE);

/** @throws Problem 404 where the business has no such request. */
export async function readPort(r: Reader, vault: Vault, businessId: string, id: string): Promise<Port> {
  const row = await portById(r, id);
  if (row?.business_id !== businessId) throw notFound('port request');
  return withNumbers(r, vault, row);
}

export async function withNumbers(r: Reader, vault: Vault, row: PortRow): Promise<Port> {
  const numbers = await numbersOfPort(r, row.id);
  const secrets =
    row.secrets === '' ? { accountNumber: '', pin: '' } : (JSON.parse(vault.unseal(row.secrets)) as Secrets);
  return {
    row,
    numbers,
    facts: { ...(JSON.parse(row.facts) as Omit<PortFacts, keyof Secrets>), ...secrets },
    lastSecrets: row.last_secrets === '' ? null : (JSON.parse(vault.unseal(row.last_secrets)) as Secrets),
    record: row.record === '' ? null : (JSON.parse(vault.unseal(row.record)) as CustomerRecord),
    letter: row.letter === null ? null : (JSON.parse(row.letter) as KeptLetter),
  };
}

/** How facts are stored: names and addresses plainly, account number and PIN sealed. */
export function storedFacts(vault: Vault, facts: PortFacts): { facts: string; secrets: string } {
  const { accountNumber, pin, ...plain } = facts;
  return { facts: JSON.stringify(plain), secrets: vault.seal(JSON.stringify({ accountNumber, pin })) };
}

export function numbersOf(port: Port): PortNumber[] {
  return port.numbers.map((n) => ({
    e164: n.e164,
    kind: n.kind,
    losingCarrier: n.losing_carrier,
    portable: n.portable === null ? null : Boolean(n.portable),
    whyNot: n.why_not,
  }));
}

/** The request as core reviews it. */
export function requestOf(port: Port): PortRequest {
  return {
    numbers: numbersOf(port),
    facts: port.facts,
    letter: port.letter,
    billDated: port.row.bill_dated === '' ? null : port.row.bill_dated,
    acknowledged: JSON.parse(port.row.acknowledged) as string[],
  };
}
