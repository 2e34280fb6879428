import { hash } from 'node:crypto';
import {
  foldConsent,
  GENESIS,
  LedgerVerifier,
  PURPOSES,
  type ConsentState,
  type LedgerEvent,
  type LedgerVerdict,
  type Purpose,
  type SignedHead,
} from '@long-gate/core';
import type { Reader } from '../../../platform/db.js';
import { inThread, serveTask } from '../../../platform/thread.js';
import { consentKeptAfter } from '../../contacts/index.js';
import * as store from './ledger-store.js';

/** SHA-256 in hex, native and one-shot. */
export const sha256 = (text: string): string => hash('sha256', text, 'hex');

/** Where a number stands for each purpose, as it is kept. */
export type Kept = Record<Purpose, ConsentState>;

/** How closed a state is; only `granted` opens the gate. */
const CLOSED: Record<ConsentState, number> = {
  granted: 0,
  awaiting: 1,
  disputed: 2,
  none: 3,
  unproven: 3,
  lapsed: 4,
  expired: 4,
  declined: 5,
  voided: 6,
  revoked: 7,
};

/** The more closed of two states. */
export function stricter(a: ConsentState, b: ConsentState | undefined): ConsentState {
  return b !== undefined && CLOSED[b] > CLOSED[a] ? b : a;
}

/** So many events are read at a time. */
const CHUNK = 2000;

export interface CheckedHeads {
  /** Signed heads whose signatures hold. */
  heads: readonly SignedHead[];
  /** How many bear no signature of ours. */
  forged: number;
}

/** A part of a chain: the events after one whose hash is `head`, up to another; to the last where that is null. */
export interface Stretch {
  after: number;
  head: string;
  upTo: number | null;
}
const WHOLE: Stretch = { after: 0, head: GENESIS, upTo: null };

/** Walks a stretch of the chain beside its signed heads. The next events are read while these are looked at. */
export async function walkChain(
  r: Reader,
  businessId: string,
  signed: CheckedHeads,
  { after, head, upTo }: Stretch = WHOLE,
): Promise<LedgerVerdict> {
  const verifier = new LedgerVerifier(sha256, signed.heads, businessId, { count: after, head });
  const read = async (from: number): Promise<store.EventRow[]> =>
    store.eventsAfter(r, businessId, from, upTo === null ? CHUNK : Math.min(CHUNK, Math.max(upTo - from, 0)));
  let next = read(after);
  for (let rows = await next; rows.length > 0; rows = await next) {
    next = read(rows.at(-1)?.seq ?? 0);
    const broken = look(verifier, rows);
    if (broken) {
      // What is being read must have come before anybody closes the connection; what it says is of no matter.
      await next.catch(() => undefined);
      return broken;
    }
    await new Promise((others) => setImmediate(others));
  }
  const verdict = verifier.done();
  return verdict.ok && signed.forged > 0
    ? {
        ok: false,
        brokenAt: verdict.count,
        eventId: '',
        reason: 'head',
        message: `${signed.forged} of the signed heads do not bear our signature: the file of heads was tampered with.`,
      }
    : verdict;
}

/** Up to which number a stretch of rows goes: to its last, where there may be more; else as far as was asked. */
function lastOf(rows: readonly { e164: string }[], asked: string | null): string | null {
  return rows.length < CHUNK ? asked : (rows.at(-1)?.e164 ?? asked);
}

/** The first fault among some events; null where there is none. */
function look(verifier: LedgerVerifier, rows: readonly store.EventRow[]): LedgerVerdict | null {
  for (const row of rows) {
    let event: LedgerEvent;
    try {
      event = store.eventOf(row);
    } catch (error) {
      return verifier.unreadable((error as Error).message);
    }
    const broken = verifier.take(event);
    if (broken) return broken;
  }
  return null;
}

/** What comparing the states of now with the ledger found. */
export interface Compared {
  differing: number;
  /** Of these, how many the ledger would loosen. */
  looser: number;
}

/**
 * Folds the events of every number anew and compares the outcome with both places in which it is kept. Numbers in their
 * order, a stretch at a time, so that a long ledger never lies in memory.
 * @param found told which numbers differ.
 */
export async function compareStates(
  r: Reader,
  businessId: string,
  now: number,
  found: (e164s: string[]) => void,
): Promise<Compared> {
  const sum: Compared = { differing: 0, looser: 0 };
  for (let after = ''; ;) {
    // Each is read no further than the one before, so that nothing is read for nothing.
    const contacts = await consentKeptAfter(r, businessId, after, CHUNK);
    let upTo = lastOf(contacts, null);
    const states = await store.statesBetween(r, businessId, after, upTo, CHUNK);
    upTo = lastOf(states, upTo);
    const { events, upTo: end } = await store.nextByNumber(r, businessId, after, upTo, CHUNK, store.FOLDING);
    const kept = new Map<string, Kept[]>();
    for (const { e164, ...state } of [...states, ...contacts])
      if (end === null || e164 <= end) kept.set(e164, [...(kept.get(e164) ?? []), state]);
    const differing: string[] = [];
    for (const e164 of new Set([...events.keys(), ...kept.keys()])) {
      const folded = foldConsent(events.get(e164) ?? [], now);
      const places = kept.get(e164) ?? [];
      const same = places.every((k) => PURPOSES.every((x) => k[x] === folded[x].state));
      if (same && (places.length > 0 || !events.has(e164))) continue;
      differing.push(e164);
      if (places.some((k) => PURPOSES.some((x) => stricter(folded[x].state, k[x]) !== folded[x].state))) sum.looser++;
    }
    sum.differing += differing.length;
    if (differing.length > 0) found(differing);
    if (end === null) return sum;
    after = end;
    await new Promise((others) => setImmediate(others));
  }
}

/** What a check of a ledger is asked, and what it answers. */
export interface CheckWish extends CheckedHeads {
  businessId: string;
  now: number;
  /** The state of now of every number as well. */
  states: boolean;
}
export interface Checked {
  verdict: LedgerVerdict;
  compared: Compared;
}
const NOTHING: Compared = { differing: 0, looser: 0 };

/**
 * Checks a ledger: the chain and the states of now at once, so that what one reads comes while the other works.
 * @param found told which numbers show another state than follows from it.
 */
export async function checkLedger(r: Reader, wish: CheckWish, found: (e164s: string[]) => void): Promise<Checked> {
  const chain = walkChain(r, wish.businessId, wish);
  const states = wish.states ? compareStates(r, wish.businessId, wish.now, found) : NOTHING;
  // Both are waited for, also where one fails: nobody may close the connection while the other reads.
  await Promise.allSettled([chain, states]);
  return { verdict: await chain, compared: await states };
}

/** One of the pieces into which the check of a long ledger is taken apart. */
type Piece = CheckWish & ({ piece: 'chain'; stretch: Stretch } | { piece: 'states' });
type PieceFound = { verdict: LedgerVerdict } | { compared: Compared };

async function checkPiece(r: Reader, piece: Piece, found: (e164s: string[]) => void): Promise<PieceFound> {
  return piece.piece === 'chain'
    ? { verdict: await walkChain(r, piece.businessId, piece, piece.stretch) }
    : { compared: await compareStates(r, piece.businessId, piece.now, found) };
}

/**
 * Checks a long ledger in two threads: the two halves of its chain, or the chain and the states of now. A hash needs
 * only the one before it, which is on file; where the halves are not whole and joined, the chain is walked in one, to
 * name its first fault.
 * @param length how many events it has. @param place the database.
 * @throws Error where a thread ended before it was done.
 */
export async function checkInThreads(
  r: Reader,
  place: string,
  length: number,
  wish: CheckWish,
  found: (e164s: string[]) => void,
): Promise<Checked> {
  const walk = async (stretch: Stretch, signed: CheckedHeads = wish): Promise<LedgerVerdict> => {
    const piece: Piece = { ...wish, ...signed, piece: 'chain', stretch };
    return (await inThread<Piece, string[], { verdict: LedgerVerdict }>(THIS, place, piece)).verdict;
  };
  if (wish.states) {
    const states = inThread<Piece, string[], { compared: Compared }>(THIS, place, { ...wish, piece: 'states' }, found);
    const [verdict, { compared }] = await Promise.all([walk(WHOLE), states]);
    return { verdict, compared };
  }
  const half = Math.floor(length / 2);
  const head = (await store.eventAt(r, wish.businessId, half))?.hash;
  if (head !== undefined) {
    const [early, late] = await Promise.all([
      walk({ ...WHOLE, upTo: half }, { heads: wish.heads.filter((h) => h.count <= half), forged: 0 }),
      walk({ after: half, head, upTo: null }, { ...wish, heads: wish.heads.filter((h) => h.count > half) }),
    ]);
    if (early.ok && early.count === half && early.head === head && late.ok) return { verdict: late, compared: NOTHING };
  }
  return { verdict: await walk(WHOLE), compared: NOTHING };
}

const THIS = new URL(import.meta.url);
serveTask(import.meta.url, checkPiece);
