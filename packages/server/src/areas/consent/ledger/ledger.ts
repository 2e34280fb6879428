import type { Readable } from 'node:stream';
import {
  foldConsent,
  GENESIS,
  linkEvent,
  CONFIRM_WITHIN_MS,
  lastConsentAt,
  PURPOSES,
  type ConsentEvent,
  type ConsentState,
  type ConsentStates,
  type LedgerEvent,
  type LedgerVerdict,
  type Purpose,
  type SignedHead,
} from '@long-gate/core';
import { AUDIT_CHAIN, trailHead } from '../../../platform/audit.js';
import { lotsOf } from '../../../platform/bulk.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { orderedId } from '../../../platform/ids.js';
import type { HeadRecord } from '../../../platform/heads.js';
import type { Platform } from '../../../platform/platform.js';
import { textFromThread } from '../../../platform/thread.js';
import type { Contacts } from '../../contacts/index.js';
import { addClaims } from '../claims/claim-store.js';
import { ClaimTally } from '../claims/claim-tally.js';
import { addTally } from '../sources/source-store.js';
import { Tally } from '../sources/tally.js';
import {
  checkInThreads,
  checkLedger,
  sha256,
  stricter,
  type Checked,
  type CheckWish,
  type Kept,
} from './ledger-check.js';
import * as search from './event-search-store.js';
import * as store from './ledger-store.js';

export type NewEvent = Pick<ConsentEvent, 'e164' | 'purposes' | 'kind' | 'how'> &
  Partial<
    Pick<
      ConsentEvent,
      | 'awaitsConfirmation'
      | 'happenedAt'
      | 'disclosure'
      | 'disclosureVersion'
      | 'evidence'
      | 'recordedBy'
      | 'recordedAt'
    >
  >;

/**
 * A number and where it stands for each purpose, with the moment a confirmation that is awaited lapses and that of the
 * last consent in force.
 */
type Followed = Parameters<typeof store.keepStates>[2][number];

const CHUNK = 2000;
/** So many events are linked while those before them are written. */
const LINKED = 250;
/** A ledger of up to so many events is short. */
const SHORT = 20_000;
const EXPORT = new URL('./ledger-export.js', import.meta.url);
/** The person's own word of today, as against a paper found later: only that speaks for one number alone. */
const isOwnWordNow = (e: ConsentEvent, now: number): boolean =>
  (e.kind === 'confirmed' || (e.kind === 'granted' && !e.awaitsConfirmation && OWN_WORDS.has(e.how))) &&
  now - e.happenedAt < 86_400_000;
const OWN_WORDS: ReadonlySet<string> = new Set(['keyword', 'reply', 'preference page']);
const chainOf = (businessId: string): string => `ledger:${businessId}`;

/** The append-only record of consent events, its proof chain, and the state of now that follows from it. */
export class Ledger {
  /** Businesses whose ledger is shorter or other than was signed: their states may only become stricter. */
  private readonly suspect = new Set<string>();

  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
  ) {
    p.db.facts.on('numbers.left', (w, { businessId, e164s }) => store.setOfNobody(w, businessId, e164s, true));
    // Who was erased on their request is found by nobody who only guesses at their number.
    p.db.facts.on('contact.erased', (w, { businessId, people }) =>
      store.setOfNobody(
        w,
        businessId,
        people.map(([e164]) => e164),
        false,
      ),
    );
  }

  /** Appends events in the caller's transaction, links them to the chain, and brings the projection up to date. */
  async append(w: Writer, businessId: string, events: readonly NewEvent[]): Promise<LedgerEvent[]> {
    const now = this.p.clock.now();
    const link = linking(businessId, await store.headOf(w, businessId), now);
    // What was there before is asked for first; of people who are new it is nothing. Then the events are written, a part
    // after the other, while the next are linked and what follows of them all is folded and counted.
    const before = eventsBefore(w, businessId, [...new Set(events.map((e) => e.e164))]);
    const linked: LedgerEvent[] = [];
    let written: Promise<unknown> = before;
    const { states, tally, claims, newcomers } = await beside(
      () => written,
      async () => {
        await underWay();
        for (const part of lotsOf(events, LINKED)) {
          const links = part.map(link);
          linked.push(...links);
          const worded = store.toAppend(links);
          written = written.then(() => worded.write(w));
          // It is waited for at the end; until then its failing is nobody's.
          written.catch(() => undefined);
          await underWay();
        }
        const by = await before;
        const had = new Map([...by].map(([e164, list]) => [e164, list.length]));
        for (const e of linked) {
          const list = by.get(e.e164);
          if (list) list.push(e);
          else by.set(e.e164, [e]);
        }
        const tally = new Tally();
        tally.change(by, had);
        const claims = new ClaimTally();
        claims.change(by, had, now);
        const newcomers = new Set([...by.keys()].filter((e164) => !had.has(e164)));
        return { states: await this.follow(w, businessId, by), tally, claims, newcomers };
      },
    );
    await store.countAppended(w, linked);
    const left = linked.filter((e) => e.kind === 'revoked').map((e) => [e.e164, e.happenedAt] as const);
    if (left.length > 0) w.tell('consent.left', { businessId, people: left });
    await this.keep(w, businessId, states, newcomers);
    await addTally(w, businessId, tally);
    await addClaims(w, businessId, claims.rows());
    await this.contacts.spreadWishes(w, businessId, {
      left: linked.filter((e) => e.kind === 'revoked'),
      agreed: linked.filter((e) => isOwnWordNow(e, now)),
    });
    w.afterCommit(() => {
      this.p.live.tell({ businessId, topic: 'consent' });
      this.p.live.tell({ businessId, topic: 'contacts' });
    });
    return linked;
  }

  /** Whether what is in force for a number now includes anything its owner joined since a moment. */
  async joinedSince(r: Reader, businessId: string, e164: string, since: number): Promise<boolean> {
    const states = await this.statesOf(r, businessId, e164);
    return (['informational', 'promotional'] as const).some(
      (x) => states[x].state === 'granted' && (states[x].since ?? 0) >= since,
    );
  }

  /** What is kept of numbers that come again stands where the gate reads it from their first moment. */
  async recall(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    const known = await store.agreedStates(w, businessId, e164s);
    if (known.length === 0) return;
    await store.setOfNobody(
      w,
      businessId,
      known.map((s) => s.e164),
      false,
    );
    await this.contacts.projectConsent(
      w,
      businessId,
      known.map((s) => [s.e164, s.conversational, s.informational, s.promotional, s.agreed_at]),
    );
  }

  /** Purposes that are barred for a number because its owner refused them on another of theirs. */
  refusedElsewhere(r: Reader, businessId: string, e164: string): Promise<readonly Purpose[]> {
    return this.contacts.refusedElsewhere(r, businessId, e164);
  }

  /** Where these numbers stand now; a number of which nothing is on file is not in the answer. */
  statesOfAll(
    r: Reader,
    businessId: string,
    e164s: readonly string[],
  ): Promise<({ e164: string } & Record<Purpose, ConsentState>)[]> {
    return store.statesOfNumbers(r, businessId, e164s);
  }

  /** Whether a dispute about one of these numbers is open: then its evidence is on hold. */
  async isDisputed(r: Reader, businessId: string, e164s: readonly string[]): Promise<boolean> {
    const states = await store.statesOfNumbers(r, businessId, e164s);
    return states.some((s) => PURPOSES.some((p) => s[p] === 'disputed'));
  }

  /** Folds the events of these numbers anew and keeps the outcome beside the ledger and where the gate reads it. */
  async project(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    for (const part of lotsOf(e164s, CHUNK)) {
      const by = await eventsBefore(w, businessId, part);
      const all = new Map(part.map((e164) => [e164, by.get(e164) ?? []]));
      await this.keep(w, businessId, await this.follow(w, businessId, all));
    }
  }

  /** What follows from all events of these numbers; only ever stricter where the ledger is suspect. */
  private async follow(
    r: Reader,
    businessId: string,
    by: ReadonlyMap<string, readonly LedgerEvent[]>,
  ): Promise<Followed[]> {
    const now = this.p.clock.now();
    const kept = this.suspect.has(businessId) ? await this.keptOf(r, businessId, [...by.keys()]) : null;
    return [...by].map(([e164, events]) => {
      const s = foldConsent(events, now);
      const state = (x: Purpose): ConsentState => stricter(s[x].state, kept?.get(e164)?.[x]);
      return [
        e164,
        state('conversational'),
        state('informational'),
        state('promotional'),
        lapseOf(s),
        lastConsentAt(events, s, now),
      ] as const;
    });
  }

  /**
   * Keeps where these numbers stand beside the ledger and where the gate reads it.
   * @param newcomers of whom something is on file for the first time: they are found by their figures also where no contact
   * has them.
   */
  private async keep(
    w: Writer,
    businessId: string,
    states: readonly Followed[],
    newcomers: ReadonlySet<string> = new Set(),
  ): Promise<void> {
    for (const part of lotsOf(states, CHUNK)) {
      await store.keepStates(w, businessId, part, this.p.clock.now());
      const known = await this.contacts.projectConsent(
        w,
        businessId,
        part.map(([e164, a, b, c, , agreedAt]) => [e164, a, b, c, agreedAt] as const),
      );
      const strangers = part.map(([e164]) => e164).filter((e164) => newcomers.has(e164) && !known.has(e164));
      if (strangers.length > 0) await store.setOfNobody(w, businessId, strangers, true);
    }
    w.tell('consent.changed', { businessId, e164s: states.map(([e164]) => e164) });
  }

  async statesOf(r: Reader, businessId: string, e164: string): Promise<ConsentStates> {
    return foldConsent(await store.foldingOf(r, businessId, e164), this.p.clock.now());
  }

  /** When the owners of these numbers last agreed to what is in force; a number of whom nothing is, is not in the answer. */
  async lastConsents(r: Reader, businessId: string, e164s: readonly string[]): Promise<Map<string, number>> {
    const now = this.p.clock.now();
    const by = await eventsBefore(r, businessId, e164s);
    return new Map(
      [...by].flatMap(([e164, events]) => {
        const at = lastConsentAt(events, foldConsent(events, now), now);
        return at === null ? [] : [[e164, at] as const];
      }),
    );
  }

  /** The events of these numbers in the order of the chain; a number with none is not in the answer. */
  eventsOfAll(r: Reader, businessId: string, e164s: readonly string[]): Promise<Map<string, LedgerEvent[]>> {
    return eventsBefore(r, businessId, e164s);
  }

  async eventsOf(r: Reader, businessId: string, e164: string): Promise<LedgerEvent[]> {
    return (await store.eventsOfNumbers(r, businessId, [e164])).map(store.eventOf);
  }

  /** Whether nothing was ever recorded of anybody. */
  async isEmpty(r: Reader, businessId: string): Promise<boolean> {
    return (await store.headOf(r, businessId)) === undefined;
  }

  /** Who left when, in the order of the chain, a chunk at a time: for whoever counts them. */
  async *departures(businessId: string): AsyncGenerator<(readonly [e164: string, at: number])[]> {
    const filter = { ...search.EVERY_EVENT, kinds: ['revoked'] };
    for (let before: search.EventPlace = search.LAST_PLACE; ;) {
      const rows = await search.pageOfEvents(this.p.db, businessId, filter, { before }, CHUNK);
      if (rows.length === 0) return;
      yield rows.map((e) => [e.e164, e.happened_at] as const);
      before = [0, rows.at(-1)?.seq ?? 0];
    }
  }

  /** The whole chain, an event a line, written in a thread of its own. */
  export(businessId: string): Readable {
    return textFromThread(EXPORT, this.p.db.place, { businessId });
  }

  /** What is kept of these numbers beside the ledger and where the gate reads it; the stricter of the two. */
  private async keptOf(r: Reader, businessId: string, e164s: readonly string[]): Promise<Map<string, Kept>> {
    const out = new Map<string, Kept>();
    const rows = [];
    for (const part of lotsOf(e164s, CHUNK))
      rows.push(
        ...(await store.statesOfNumbers(r, businessId, part)),
        ...(await this.contacts.keptConsent(r, businessId, part)),
      );
    for (const { e164, ...states } of rows) {
      const other = out.get(e164);
      for (const x of PURPOSES) states[x] = stricter(states[x], other?.[x]);
      out.set(e164, states);
    }
    return out;
  }

  // -- proof -----------------------------------------------------------------------------------------------------

  /** Signs where the business's ledger and the trail stand, apart from the database. */
  async signHeads(businessId: string): Promise<void> {
    const { db, heads, clock } = this.p;
    await heads.sign(AUDIT_CHAIN, await trailHead(db), clock.now());
    const row = await store.headOf(db, businessId);
    // What was already found short or forged is not signed into being right.
    if (row && !this.suspect.has(businessId))
      await heads.sign(chainOf(businessId), { count: row.seq, head: row.hash }, clock.now());
  }

  /** The signed heads, with the key by which anybody can check them. */
  async signedHeads(businessId: string): Promise<{ publicKey: string; heads: HeadRecord[] }> {
    return { publicKey: this.p.heads.publicPem, heads: (await this.p.heads.of(chainOf(businessId))).heads };
  }

  /** Where the ledger was signed to stand last; nowhere yet where its count is 0. */
  async lastSigned(businessId: string): Promise<SignedHead> {
    const { heads } = await this.p.heads.of(chainOf(businessId));
    return heads.reduce<SignedHead>((most, h) => (h.count > most.count ? h : most), { count: 0, head: GENESIS });
  }

  /**
   * A quick look before anything is sent: does the ledger still hold the last signed head? Where it does not, states
   * may only become stricter until it is restored. Costs one lookup a business.
   */
  async lookAtHeads(businessIds: readonly string[]): Promise<string[]> {
    for (const id of businessIds) {
      const last = await this.lastSigned(id);
      if (last.count === 0) continue;
      const row = await store.eventAt(this.p.db, id, last.count);
      if (row?.hash !== last.head) this.suspect.add(id);
    }
    return [...this.suspect];
  }

  /** Walks the chain from its first event, beside its signed heads. */
  async verify(businessId: string): Promise<LedgerVerdict> {
    return (await this.check(businessId, false, () => undefined)).verdict;
  }

  /**
   * Walks the chain, folds everything anew and compares it with the kept state of now; mends it where asked. It never
   * loosens where the ledger is not whole: nobody who was stopped becomes open because the record of it is gone.
   */
  async rebuild(
    businessId: string,
    mend: boolean,
  ): Promise<{ verdict: LedgerVerdict; ok: boolean; differing: number; keptStrict: number }> {
    const differing: string[] = [];
    const { verdict, compared } = await this.check(businessId, true, (e164s) => {
      if (mend) differing.push(...e164s);
    });
    const keptStrict = verdict.ok ? 0 : compared.looser;
    for (const part of lotsOf(differing, CHUNK)) await this.p.db.write((w) => this.project(w, businessId, part));
    return { verdict, ok: compared.differing === 0, differing: compared.differing, keptStrict };
  }

  /** A long ledger is checked in threads; for a short one starting them would take longer. */
  private async check(businessId: string, states: boolean, found: (e164s: string[]) => void): Promise<Checked> {
    const { heads, forged } = await this.p.heads.of(chainOf(businessId));
    const { db, clock } = this.p;
    const wish: CheckWish = { businessId, heads, forged, now: clock.now(), states };
    const length = (await store.headOf(db, businessId))?.seq ?? 0;
    const checked =
      length > SHORT ? await checkInThreads(db, db.place, length, wish, found) : await checkLedger(db, wish, found);
    if (!checked.verdict.ok) this.suspect.add(businessId);
    else this.suspect.delete(businessId);
    return checked;
  }
}

/** The events of these numbers as they stand in the ledger, in the order of the chain. */
async function eventsBefore(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<Map<string, LedgerEvent[]>> {
  const by = new Map<string, LedgerEvent[]>();
  for (const part of lotsOf(e164s, CHUNK))
    for (const row of await store.eventsOfNumbers(r, businessId, part)) {
      const list = by.get(row.e164);
      if (list) list.push(store.eventOf(row));
      else by.set(row.e164, [store.eventOf(row)]);
    }
  return by;
}

function lapseOf(s: ConsentStates): number | null {
  const moments = PURPOSES.flatMap((x) =>
    s[x].state === 'awaiting' && s[x].since !== null ? [s[x].since + CONFIRM_WITHIN_MS] : [],
  );
  return moments.length > 0 ? Math.min(...moments) : null;
}

/** Links events to the end of a chain, one after the other. */
function linking(
  businessId: string,
  last: { seq: number; hash: string } | undefined,
  now: number,
): (e: NewEvent) => LedgerEvent {
  let seq = last?.seq ?? 0;
  let prev = last?.hash ?? GENESIS;
  return (e) => {
    const event: ConsentEvent = {
      id: orderedId('evt'),
      businessId,
      seq: ++seq,
      e164: e.e164,
      purposes: PURPOSES.filter((x) => e.purposes.includes(x)),
      kind: e.kind,
      awaitsConfirmation: e.awaitsConfirmation ?? false,
      // A clock that tells us of it may be ahead of ours, and what is still to come does not count.
      happenedAt: Math.round(Math.min(e.happenedAt ?? now, e.recordedAt ?? now)),
      recordedAt: Math.round(e.recordedAt ?? now),
      how: e.how,
      disclosure: e.disclosure ?? '',
      disclosureVersion: e.disclosureVersion ?? '',
      evidence: e.evidence ?? {},
      recordedBy: e.recordedBy ?? 'contact',
    };
    const linked = linkEvent(event, prev, sha256);
    prev = linked.hash;
    return linked;
  };
}

/** Once what was asked for is with the database, which works beside us. */
const underWay = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/** Does something while the database is at work; both are over when it returns, also where one fails. */
async function beside<T>(atWork: () => Promise<unknown>, work: () => Promise<T>): Promise<T> {
  const [done] = await Promise.allSettled([work()]);
  await atWork();
  if (done.status === 'rejected') throw done.reason;
  return done.value;
}
