import { BESIDE_THE_GATE } from '../../platform/facts.js';
import {
  mayLeaveAt,
  PACE_TOLERANCE_MS,
  type Allowance,
  type GateRules,
  type MessageFacts,
  type Subject,
} from '@long-gate/core';
import { GatewayBusy, GatewayNotTaken, GatewayRefused, type OutgoingText } from '@long-gate/gateways';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { subjectOf, type Contacts } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import { Answers, ASK_AFTER_MS, type Outcome, type Try } from './answers.js';
import {
  doubtLeaving,
  dueTexts,
  dueUnsure,
  nextUnsure,
  setStates,
  textsOnTheirWay,
  type Waiting,
} from './message-store.js';
import { OfferCaps } from './offer-caps.js';
import type { LinkedText, OwnPageLinks } from './own-page-links.js';
import { bookDay, freePaces, nextFree, URGENT } from './pace-store.js';
import type { Receipts } from './receipts.js';
import { Round, VERDICT_GOOD_MS } from './round.js';
import type { Texts } from './texts.js';

/** Texts of one pace looked at in a round: a STOP is seen by the next round. */
const LOT = 200;
/** Texts handed to the network in one request, and requests at a time: so many cannot be called back any more. */
const TOGETHER = 16;
const PARALLEL = 1;
const REST_MS = 50;
/** What became of a text and could not be written down is asked for again after so long. */
const ASK_AGAIN_MS = 60_000;
export const DAY_MS = 86_400_000;

/** A try, and what became of it. */
interface Answered {
  try: Try;
  outcome: Outcome;
}

/**
 * The one way to the network. Before each round what came in is read dry; each text is judged in the transaction in
 * which it leaves, at every try; whatever is told meanwhile calls back those that have not gone out yet; and where it
 * is unknown whether the network has a text, the network is asked by key.
 */
export class HandOver {
  private readonly tails = new Map<boolean, Promise<unknown>>();
  /** Goes up with everything that is told: a verdict of an earlier age is judged again before it leaves. */
  private age = 0;
  /** What became of tries, where it could not be written down yet. */
  private unwritten: Answered[] = [];

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly contacts: Contacts,
    private readonly texts: Texts,
    private readonly receipts: Receipts,
  ) {
    p.db.facts.watch((name) => {
      if (!BESIDE_THE_GATE.has(name)) this.age++;
    });
    for (const urgent of [true, false])
      p.engine.add({
        work: () => this.work(urgent),
        nextDue: () => this.nextDue(urgent),
        restMs: REST_MS,
        paced: !urgent,
        ...(urgent ? { takeBack: () => this.takeBack() } : {}),
      });
  }

  /** After a crash: whatever was in the air is asked about. Called once at start, before anything leaves. */
  async takeBack(): Promise<void> {
    await this.p.db.write((w) => doubtLeaving(w, this.p.clock.now(), VERDICT_GOOD_MS + ASK_AFTER_MS));
  }

  /** What a crash forgets: answers that were not written down. */
  forget(): void {
    this.unwritten = [];
  }

  /** Hands over what may leave now; returns how many texts were looked at. One round of a lane at any time. */
  async work(urgent: boolean): Promise<number> {
    const turn = (this.tails.get(urgent) ?? Promise.resolve()).then(() => this.round(urgent));
    this.tails.set(
      urgent,
      turn.catch(() => undefined),
    );
    return turn;
  }

  private async nextDue(urgent: boolean): Promise<number | null> {
    const [free, unsure] = await Promise.all([nextFree(this.p.db, urgent), urgent ? nextUnsure(this.p.db) : null]);
    const all = [free, unsure].filter((x): x is number => x !== null);
    return all.length > 0 ? Math.min(...all) : null;
  }

  private async round(urgent: boolean): Promise<number> {
    if (this.unwritten.length > 0) await this.writeDown([]);
    const asked = urgent ? await this.askUnsure() : 0;
    if (!(await this.anythingDue(urgent))) return asked;
    // What came in is read before anything leaves; where it cannot be read, nothing leaves.
    await this.p.feed.dry();
    const { tries, looked, age } = await this.p.db.write((w) => this.take(w, urgent));
    const lots: Try[][] = [];
    for (let i = 0; i < tries.length; i += TOGETHER) lots.push(tries.slice(i, i + TOGETHER));
    const results: Answered[] = [];
    await Promise.all(
      Array.from({ length: Math.min(PARALLEL, lots.length) }, async () => {
        for (let lot = lots.shift(); lot; lot = lots.shift()) {
          const outcomes =
            this.age === age
              ? await this.p.inFlight.track(this.send(lot.map((t) => t.text)))
              : lot.map((): Outcome => 'not taken');
          lot.forEach((t, i) => results.push({ try: t, outcome: outcomes[i] ?? 'answer lost' }));
        }
      }),
    );
    if (results.length > 0) await this.writeDown(results);
    return looked + asked;
  }

  private async anythingDue(urgent: boolean): Promise<boolean> {
    const at = await nextFree(this.p.db, urgent);
    return at !== null && at <= this.p.clock.now();
  }

  // -- judged, and handed over -----------------------------------------------------------------------------------

  /** Judges what is due and may leave at its pace; what passes is charged and in the air when this is on disk. */
  private async take(w: Writer, urgent: boolean): Promise<{ tries: Try[]; looked: number; age: number }> {
    const now = this.p.clock.now();
    const round = new Round(this, w, now, await this.p.feed.place(w));
    const paces = urgent ? [{ key: URGENT, free_at: -Infinity }] : await freePaces(w, now);
    let looked = 0;
    for (const { key, free_at } of paces) {
      const due = await dueTexts(w, key, now, LOT);
      await round.prepare(due);
      let free = free_at;
      for (const m of due) {
        if (!mayLeaveAt(free, now)) break;
        const left = await round.judge(m);
        looked++;
        if (left && !urgent) free = left.freeAt;
      }
    }
    await round.close();
    // Writes go one at a time: whatever was told before this one was seen here, whatever is told after it was not.
    return { tries: round.tries, looked, age: this.age };
  }

  /** What a text is judged on at this moment; the sender, rules and allowance are read once a round. */
  async about(
    w: Reader,
    m: Waiting,
  ): Promise<{ sender: Sender; rules: GateRules; allowance: Allowance; nameLine: string; zone: string }> {
    const business = await this.businesses.row(w, m.business_id);
    const sender = await this.numbers.sender(w, m.business_id, m.number_id);
    return {
      sender,
      rules: await this.texts.rules(w, m.business_id),
      allowance: await this.texts.allowance(w, m.business_id, sender, true),
      nameLine: business.name_line,
      zone: business.time_zone,
    };
  }

  /** Whom texts go to, as the gate reads them: in one question for each number of ours. */
  async subjectsOf(
    w: Reader,
    texts: readonly Waiting[],
  ): Promise<Map<string, { row: number | null; subject: Subject }>> {
    const out = new Map<string, { row: number | null; subject: Subject }>();
    for (const numberId of new Set(texts.map((m) => m.number_id))) {
      const mine = texts.filter((m) => m.number_id === numberId);
      const ids = mine.flatMap((m) => m.contact_number_id ?? []);
      const rows = await this.contacts.subjectRows(w, ids, numberId);
      for (const m of mine) {
        const row = m.contact_number_id === null ? undefined : rows.get(m.contact_number_id);
        // A text from before there was a contact goes by its address.
        out.set(
          m.id,
          row
            ? { row: m.contact_number_id, subject: subjectOf(row) }
            : await this.texts.subject(w, m.business_id, m.e164, numberId),
        );
      }
    }
    return out;
  }

  factsOf(sender: Sender, nameLine: string, m: Waiting): MessageFacts {
    return this.texts.facts(sender, nameLine, {
      kind: m.kind,
      purpose: m.purpose,
      text: m.text,
      transactional: Boolean(m.transactional),
      overridden: (m.override_reason ?? '') !== '',
    });
  }

  /** What texts of no dispatch have left to say, where that changed; null: nothing. */
  async wordsByNow(w: Writer, texts: readonly Waiting[]): Promise<ReadonlyMap<string, string | null>> {
    const single = texts.filter((m) => m.dispatch_id === null);
    if (single.length === 0) return new Map();
    return this.texts.wordsByNow(
      w,
      single.map(({ id, business_id: businessId, e164, kind, text }) => ({ id, businessId, e164, kind, text })),
    );
  }

  /** Keys of links to their readers' pages, for texts that leave. */
  keys(w: Writer, texts: readonly LinkedText[]): ReturnType<OwnPageLinks['keys']> {
    return this.texts.ownPages.keys(w, texts);
  }

  /** Pays for what leaves in a round: one charge a dispatch and day, one a day for single texts. */
  async pay(w: Writer, m: Pick<Waiting, 'business_id' | 'dispatch_id'>, at: number, cost: number): Promise<void> {
    const entry = idFrom('mon', m.business_id, m.dispatch_id ?? 'single', String(Math.floor(at / DAY_MS)));
    const [what, kind] = m.dispatch_id ? ['texts of a dispatch', 'dispatch'] : ['single texts', 'thread'];
    if (cost > 0) await this.businesses.charge(w, m.business_id, cost, what, kind, m.dispatch_id ?? '', entry);
    else if (cost < 0) await this.businesses.book(w, m.business_id, -cost, what, kind, m.dispatch_id ?? '', entry);
  }

  async noteRound(
    w: Writer,
    rows: readonly Waiting[],
    capped: readonly Waiting[],
    usedNumbers: ReadonlySet<string>,
  ): Promise<void> {
    if (capped.length > 0) {
      const caps = this.offerCaps();
      await caps.read(w, capped, this.p.clock.now());
      await caps.keep(w, this.contacts);
    }
    for (const id of usedNumbers) await this.numbers.noteUsed(w, id);
    await this.texts.settled(
      w,
      rows.flatMap((m) => m.dispatch_id ?? []),
    );
    for (const business of new Set(rows.map((m) => m.business_id)))
      this.texts.changed(
        w,
        business,
        rows.filter((m) => m.business_id === business),
      );
  }

  /** In a jump of the clock what would have left on the way leaves at its end. */
  get tolerance(): number {
    return Math.max(PACE_TOLERANCE_MS, this.p.engine.stride);
  }

  /** A text of it waits for a moment now that its job does not know of. */
  async wakeDispatch(w: Writer, id: string): Promise<void> {
    await this.p.jobs.wake(w, { key: `dispatch:${id}` });
  }

  /** Offers to people, as a round counts them. */
  offerCaps(): OfferCaps {
    return new OfferCaps((...asked) => this.contacts.numbersBeside(...asked));
  }

  // -- the network, and its answers ------------------------------------------------------------------------------

  /** Hands a lot over; each text has an outcome of its own, and where the answer is lost it is lost for all. */
  private async send(texts: readonly OutgoingText[]): Promise<Outcome[]> {
    try {
      return (await this.p.gateways.network.sendLot(texts)).map((refusal): Outcome => {
        if (refusal === null) return 'taken';
        if (refusal instanceof GatewayBusy || refusal instanceof GatewayRefused) return refusal;
        return refusal instanceof GatewayNotTaken ? 'not taken' : 'answer lost';
      });
    } catch (error) {
      if (error instanceof GatewayBusy) return texts.map(() => error);
      return texts.map(() => 'answer lost');
    }
  }

  /** Writes down what became of tries; what cannot be written now is tried again before anything else leaves. */
  private async writeDown(results: readonly Answered[]): Promise<void> {
    // Of the other lane more may come meanwhile.
    this.unwritten.push(...results);
    const all = [...this.unwritten];
    const stuck = await this.inParts(all, async (w, part) => {
      const texts = await textsOnTheirWay(
        w,
        part.map((r) => r.try.text.key),
      );
      const answers = new Answers(this, w);
      for (const r of part) {
        const m = texts.get(r.try.text.key);
        if (m) answers.take(m, r.try, r.outcome, this.p.clock.now());
      }
      await answers.close();
    });
    this.unwritten = this.unwritten.filter((r) => !all.includes(r) || stuck.includes(r));
  }

  /**
   * Writes all in one, or in halves of it where that fails: one that cannot be written keeps no other from being.
   * @returns those that could not be written by themselves either.
   */
  private async inParts<T>(all: readonly T[], write: (w: Writer, part: readonly T[]) => Promise<void>): Promise<T[]> {
    if (all.length === 0) return [];
    try {
      await this.p.db.write((w) => write(w, all));
      return [];
    } catch (error) {
      if (all.length === 1) {
        this.p.log.error({ message: (error as Error).message }, 'what became of a text');
        return [...all];
      }
      const half = Math.ceil(all.length / 2);
      return [...(await this.inParts(all.slice(0, half), write)), ...(await this.inParts(all.slice(half), write))];
    }
  }

  /** The network will never take it: it costs nothing, and what is to be learnt from it is. */
  refused(w: Writer, id: string, refusal: GatewayRefused): Promise<void> {
    return this.receipts.refused(w, id, refusal.code, refusal.message);
  }

  /** The network has them. */
  async noteTaken(w: Writer, taken: readonly { m: Waiting; showsStop: boolean }[]): Promise<void> {
    const known = taken.flatMap(({ m, showsStop }) =>
      m.contact_number_id === null ? [] : [{ numberRow: m.contact_number_id, numberId: m.number_id, showsStop }],
    );
    if (known.length > 0) await this.contacts.noteSent(w, known);
  }

  /** What did not leave after all is paid back, to the day and the account it was taken from. */
  async giveBack(w: Writer, texts: readonly Waiting[]): Promise<void> {
    for (const m of texts) {
      const at = m.sent_at ?? this.p.clock.now();
      await this.pay(w, m, at, -m.cost);
      if (m.network === 'B') await bookDay(w, m.business_id, at, -m.segments);
    }
  }

  /** Asks the network which of the texts in doubt it has. One it has not is judged again. */
  private async askUnsure(): Promise<number> {
    const due = await dueUnsure(this.p.db, this.p.clock.now(), 200);
    if (due.length === 0) return 0;
    const known = new Set(await this.p.gateways.network.known(due));
    const stuck = await this.inParts(due, async (w, part) => {
      const answers = new Answers(this, w);
      for (const m of (await textsOnTheirWay(w, part)).values()) {
        if (m.state !== 'unsure') continue;
        if (!known.has(m.id)) answers.notTaken(m, this.p.clock.now());
        else answers.taken(m, this.factsOf(await this.numbers.sender(w, m.business_id, m.number_id), '', m).showsStop);
      }
      await answers.close();
    });
    const again = this.p.clock.now() + ASK_AGAIN_MS;
    const later = stuck.map((id) => [id, 'unsure', again] as const);
    if (later.length > 0) await this.p.db.write((w) => setStates(w, later));
    return due.length;
  }
}
