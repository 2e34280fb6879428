import { hash } from 'node:crypto';
import type { SignedHead } from '@long-gate/core';
import { z } from 'zod';
import { appendEntry, entriesAfter, lastLink, type AuditValues } from './audit-store.js';
import type { Clock } from './clock.js';
import type { Reader, Writer } from './db.js';
import { orderedId } from './ids.js';

/** Who does something: a person, or the application by itself. */
export const ActorShape = z.object({ id: z.string(), name: z.string() });
export type Actor = z.infer<typeof ActorShape>;

export const SYSTEM: Actor = { id: 'system', name: 'Long Gate' };
export const CONTACT: Actor = { id: 'contact', name: 'the contact' };

export interface Change {
  businessId: string;
  actor: Actor;
  /** Past tense, as the history shows it: `number ordered`. */
  action: string;
  objectKind: string;
  objectId: string;
  before?: unknown;
  after?: unknown;
}

/** The trail's chain, as its heads are signed. */
export const AUDIT_CHAIN = 'audit';
const GENESIS = '0'.repeat(64);

function link(prev: string, values: readonly unknown[]): string {
  return hash('sha256', `${prev}\n${JSON.stringify(values)}`, 'hex');
}

interface Told {
  at: number;
  change: Change;
}
/** Writes in which a past is told, with what was recorded in them so far. */
const telling = new WeakMap<Writer, Told[]>();

/** Has what is recorded in a write meanwhile follow each other by time, in whatever order it is told. */
export async function inOrderOfTime(w: Writer, tell: () => Promise<void>): Promise<void> {
  const told: Told[] = [];
  telling.set(w, told);
  await tell();
  telling.delete(w);
  for (const { at, change } of told.sort((a, b) => a.at - b.at)) await record(w, { now: () => at }, change);
}

/** Records one change in the audit trail, linked to the one before, in the transaction of the change. Secrets never go in. */
export async function record(w: Writer, clock: Pick<Clock, 'now'>, change: Change): Promise<void> {
  const told = telling.get(w);
  if (told) {
    told.push({ at: clock.now(), change });
    return;
  }
  const prev = (await lastLink(w))?.hash ?? GENESIS;
  const values: AuditValues = [
    orderedId('aud'),
    Math.round(clock.now()),
    change.businessId,
    change.actor.id,
    change.actor.name,
    change.action,
    change.objectKind,
    change.objectId,
    change.before === undefined ? null : JSON.stringify(change.before),
    change.after === undefined ? null : JSON.stringify(change.after),
  ];
  await appendEntry(w, values, prev, link(prev, values));
}

/** Where the trail's chain stands: how many entries are in it, and the last hash. */
export async function trailHead(r: Reader): Promise<SignedHead> {
  const row = await lastLink(r);
  return row ? { count: row.n, head: row.hash } : { count: 0, head: GENESIS };
}

/**
 * Walks the audit trail: every entry follows the one before, and the signed heads fit. Entries from before the trail
 * had a chain are counted, not judged.
 */
export async function verifyTrail(
  r: Reader,
  heads: readonly SignedHead[],
): Promise<{ ok: true; count: number; unchained: number } | { ok: false; brokenAt: number; message: string }> {
  const signed = new Map(heads.map((h) => [h.count, h.head]));
  let prev = GENESIS;
  let count = 0;
  let unchained = 0;
  let after = 0;
  for (;;) {
    const rows = await entriesAfter(r, after, 2000);
    if (rows.length === 0) break;
    for (const e of rows) {
      const broken = (message: string) => ({ ok: false as const, brokenAt: e.n, message });
      if (count + unchained > 0 && e.n !== after + 1)
        return broken(`Entry ${after + 1} of the audit trail is missing.`);
      after = e.n;
      if (e.hash === null) {
        if (count > 0) return broken(`Entry ${e.n} of the audit trail is in no chain.`);
        unchained++;
        continue;
      }
      if (e.prevHash !== prev) return broken(`Entry ${e.n} of the audit trail does not follow the one before.`);
      const values = [
        e.id,
        e.at,
        e.businessId,
        e.actorId,
        e.actorName,
        e.action,
        e.objectKind,
        e.objectId,
        e.before,
        e.after,
      ];
      if (link(prev, values) !== e.hash)
        return broken(`Entry ${e.n} of the audit trail was changed after it was recorded.`);
      const head = signed.get(e.n);
      if (head !== undefined && head !== e.hash) return broken(`The audit trail up to entry ${e.n} was written anew.`);
      prev = e.hash;
      count++;
    }
    await new Promise((next) => setImmediate(next));
  }
  const longest = heads.reduce((n, h) => Math.max(n, h.count), 0);
  if (longest > after)
    return {
      ok: false,
      brokenAt: after + 1,
      message: `The audit trail ends after entry ${after}, but ${longest} were signed: its end is missing.`,
    };
  return { ok: true, count, unchained };
}
