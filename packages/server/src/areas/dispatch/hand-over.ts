import {
  DEFAULT_PRICES,
  judge,
  mayLeaveAt,
  PACE_TOLERANCE_MS,
  paceAfter,
  spend,
  textAfter,
  type Allowance,
  type GateRules,
  type MessageFacts,
  type Subject,
  type TextState,
  type Verdict,
} from '@long-gate/core';
import { GatewayBusy, GatewayNotTaken, GatewayRefused, type OutgoingText } from '@long-gate/gateways';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { subjectOf, type Contacts } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import {
  doubtLeaving,
  dueTexts,
  dueUnsure,
  nextUnsure,
  nthSolicitations,
  setBack,
  setCancelled,
  setLeaving,
  setStates,
  setVerdicts,
  textsOnTheirWay,
  type Leaving,
  type Waiting,
} from './message-store.js';
import { bookDay, freeAt, freePaces, keepPace, nextFree, paceKey, perSecond, URGENT } from './pace-store.js';
import type { Receipts } from './receipts.js';
import { NOBODY, type Texts } from './texts.js';

/** One text in the air, and what became of the try. */
interface Try {
  text: OutgoingText;
  showsStop: boolean;
}
type Outcome = 'taken' | 'not taken' | 'answer lost' | GatewayBusy | GatewayRefused;

/** How long a verdict is good for: a request that has been on its way longer is not taken any more. */
export const VERDICT_GOOD_MS = 3_000;
/** After that, and a little, the network can be asked what it has. */
const ASK_AFTER_MS = 400;
/** Texts of one pace looked at in a round: a STOP is seen by the next round. */
const LOT = 200;
/** Texts handed to the network in one request, and requests at a time: so many cannot be called back any more. */
const TOGETHER = 16;
const PARALLEL = 1;
const REST_MS = 50;
const DAY_MS = 86_400_000;
/** At most so many solicitations to a person in any 24 hours (rules.md, the gate). */
const PROMOTIONAL_CAP = 3;

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
  private unwritten: { try: Try; outcome: Outcome }[] = [];

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly contacts: Contacts,
    private readonly texts: Texts,
    private readonly receipts: Receipts,
  ) {
    p.db.facts.watch(() => this.age++);
    for (const urgent of [true, false])
      p.engine.add({
        work: () => this.work(urgent),
        nextDue: () => this.nextDue(urgent),
        restMs: REST_MS,
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
    const results: { try: Try; outcome: Outcome }[] = [];
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
  ): Promise<{ sender: Sender; rules: GateRules; allowance: Allowance; nameLine: string }> {
    const sender = await this.numbers.sender(w, m.business_id, m.number_id);
    return {
      sender,
      rules: await this.texts.rules(w, m.business_id),
      allowance: await this.texts.allowance(w, m.business_id, sender, true),
      nameLine: (await this.businesses.row(w, m.business_id)).name_line,
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

  /** Pays for what leaves in a round: one entry a dispatch and day, one a day for single texts. */
  async pay(w: Writer, m: Pick<Waiting, 'business_id' | 'dispatch_id'>, at: number, cost: number): Promise<void> {
    const entry = idFrom('mon', m.business_id, m.dispatch_id ?? 'single', String(Math.floor(at / DAY_MS)));
    const [what, kind] = m.dispatch_id ? ['texts of a dispatch', 'dispatch'] : ['single texts', 'thread'];
    if (cost > 0) await this.businesses.charge(w, m.business_id, cost, what, kind, m.dispatch_id ?? '', entry);
    else if (cost < 0) await this.businesses.book(w, m.business_id, -cost, what, kind, m.dispatch_id ?? '', entry);
  }

  async noteRound(
    w: Writer,
    rows: readonly Waiting[],
    capped: readonly number[],
    usedNumbers: ReadonlySet<string>,
  ): Promise<void> {
    await this.recountCaps(w, capped);
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

  /** Until when three solicitations stand within 24 hours, those in the air included; none below three. */
  private async recountCaps(w: Writer, contactNumberIds: readonly number[]): Promise<void> {
    if (contactNumberIds.length === 0) return;
    const thirds = await nthSolicitations(w, [...new Set(contactNumberIds)], PROMOTIONAL_CAP);
    await this.contacts.capSolicitations(
      w,
      thirds.map(([row, third]) => [row, third === null ? null : third + DAY_MS] as const),
    );
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

  /** Writes down what became of tries; what cannot be written now is written before anything else leaves. */
  private async writeDown(results: readonly { try: Try; outcome: Outcome }[]): Promise<void> {
    this.unwritten.push(...results);
    const all = [...this.unwritten];
    await this.p.db.write(async (w) => {
      const texts = await textsOnTheirWay(
        w,
        all.map((r) => r.try.text.key),
      );
      const answers = new Answers(this, w);
      for (const r of all) {
        const m = texts.get(r.try.text.key);
        if (m) answers.take(m, r.try, r.outcome, this.p.clock.now());
      }
      await answers.close();
    });
    this.unwritten = this.unwritten.filter((r) => !all.includes(r));
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
    await this.p.db.write(async (w) => {
      const answers = new Answers(this, w);
      for (const m of (await textsOnTheirWay(w, due)).values()) {
        if (m.state !== 'unsure') continue;
        if (!known.has(m.id)) answers.notTaken(m, this.p.clock.now());
        else answers.taken(m, this.factsOf(await this.numbers.sender(w, m.business_id, m.number_id), '', m).showsStop);
      }
      await answers.close();
    });
    return due.length;
  }
}

/** One round of judging in one transaction: what is the same for many texts is read once, what is spent is counted. */
class Round {
  readonly tries: Try[] = [];
  private readonly memo = new Map();
  private readonly about = new Map<string, Awaited<ReturnType<HandOver['about']>>>();
  private readonly spent = new Map<string, Allowance>();
  private readonly free = new Map<string, number>();
  private readonly costs = new Map<string, { m: Waiting; cost: number }>();
  private readonly rows: Waiting[] = [];
  private readonly capped: number[] = [];
  private readonly used = new Set<string>();
  private readonly heldIn = new Set<string>();
  private readonly subjects = new Map<string, { row: number | null; subject: Subject }>();
  private readonly leaving: Leaving[] = [];
  private readonly verdicts: (readonly [string, TextState, Verdict])[] = [];
  private readonly cancelled: (readonly [string, TextState])[] = [];
  private readonly days = new Map<string, number>();

  constructor(
    private readonly way: HandOver,
    private readonly w: Writer,
    private readonly now: number,
    private readonly readUpTo: number,
  ) {}

  /** Reads whom a lot of texts goes to. */
  async prepare(texts: readonly Waiting[]): Promise<void> {
    for (const [id, subject] of await this.way.subjectsOf(this.w, texts)) this.subjects.set(id, subject);
  }

  /** Judges one; where it passes it is in the air, and its pace's next free moment is answered. */
  async judge(m: Waiting): Promise<{ freeAt: number } | null> {
    this.rows.push(m);
    if (this.isOver(m)) {
      this.cancelled.push([m.id, textAfter(m.state, { kind: 'cancelled' })]);
      return null;
    }
    const { sender, rules, nameLine, allowance: whole } = await this.aboutOf(m);
    const spent = this.spent.get(m.business_id) ?? { balance: 0, dailySegments: 0 };
    const allowance = {
      balance: whole.balance + spent.balance,
      dailySegments: whole.dailySegments + spent.dailySegments,
    };
    const { subject, row } = this.subjects.get(m.id) ?? (await this.way.subjectsOf(this.w, [m])).get(m.id) ?? NOBODY;
    const facts = this.way.factsOf(sender, nameLine, m);
    const verdict = judge(subject, facts, rules, allowance, this.memo);
    if (verdict.result !== 'pass') {
      const state = textAfter(m.state, { kind: 'judged', verdict, mayWait: m.dispatch_id !== null });
      this.verdicts.push([m.id, state, verdict]);
      if (state === 'held' && m.dispatch_id !== null) this.heldIn.add(m.dispatch_id);
      return null;
    }
    const cost = facts.segments * DEFAULT_PRICES.segment;
    this.spent.set(m.business_id, spend(spent, subject, facts, rules));
    this.leaving.push([
      m.id,
      textAfter(m.state, { kind: 'handed over', verdict }),
      cost,
      facts.segments,
      subject.carrierKind,
    ]);
    const bill = `${m.business_id}|${m.dispatch_id ?? ''}`;
    this.costs.set(bill, { m, cost: (this.costs.get(bill)?.cost ?? 0) + cost });
    if (subject.carrierKind === 'B') this.days.set(m.business_id, (this.days.get(m.business_id) ?? 0) + facts.segments);
    if (row !== null && m.purpose === 'promotional') this.capped.push(row);
    this.used.add(m.number_id);
    const key = paceKey(sender, subject.carrierKind);
    const free = paceAfter(
      this.free.get(key) ?? (await freeAt(this.w, key)),
      this.now,
      facts.segments,
      perSecond(sender, subject.carrierKind),
      this.way.tolerance,
    );
    this.free.set(key, free);
    const ends = [this.now + VERDICT_GOOD_MS, verdict.goodUntil, m.expires_at, m.ends_at].filter((x) => x !== null);
    this.tries.push({
      text: {
        key: m.id,
        from: sender.e164,
        to: m.e164,
        text: m.text,
        segments: facts.segments,
        readUpTo: this.readUpTo,
        takeBy: Math.min(...ends.map((x, i) => (i === 0 ? x : x - 1))),
      },
      showsStop: facts.showsStop,
    });
    return { freeAt: free };
  }

  /** Its time is over, or nobody wants it any more. */
  private isOver(m: Waiting): boolean {
    if (m.expires_at !== null && this.now >= m.expires_at) return true;
    return m.dispatch_id !== null && (m.dispatch_state !== 'sending' || (m.ends_at !== null && this.now >= m.ends_at));
  }

  private async aboutOf(m: Waiting): Promise<Awaited<ReturnType<HandOver['about']>>> {
    const key = `${m.business_id}|${m.number_id}`;
    const known = this.about.get(key);
    if (known) return known;
    const about = await this.way.about(this.w, m);
    this.about.set(key, about);
    return about;
  }

  /** Keeps what the round has used up. */
  async close(): Promise<void> {
    await setCancelled(this.w, this.cancelled);
    await setVerdicts(this.w, this.verdicts);
    await setLeaving(this.w, this.leaving, this.now);
    for (const [business, segments] of this.days) await bookDay(this.w, business, this.now, segments);
    for (const [key, at] of this.free) await keepPace(this.w, key, at);
    for (const { m, cost } of this.costs.values()) await this.way.pay(this.w, m, this.now, cost);
    for (const id of this.heldIn) await this.way.wakeDispatch(this.w, id);
    if (this.rows.length > 0) await this.way.noteRound(this.w, this.rows, this.capped, this.used);
  }
}

/** What became of a lot of tries, written down together. */
class Answers {
  private readonly states: (readonly [string, TextState, number?])[] = [];
  private readonly back: (readonly [string, TextState, number])[] = [];
  private readonly gone: { m: Waiting; showsStop: boolean }[] = [];
  private readonly returned: Waiting[] = [];
  private readonly refusals: { m: Waiting; refusal: GatewayRefused }[] = [];
  private readonly rows: Waiting[] = [];

  constructor(
    private readonly way: HandOver,
    private readonly w: Writer,
  ) {}

  take(m: Waiting, t: Try, outcome: Outcome, now: number): void {
    if (outcome === 'taken') return this.taken(m, t.showsStop);
    if (outcome === 'answer lost') {
      this.states.push([m.id, textAfter(m.state, { kind: 'answer lost' }), t.text.takeBy + ASK_AFTER_MS]);
      this.rows.push(m);
      return;
    }
    if (outcome instanceof GatewayRefused) {
      this.refusals.push({ m, refusal: outcome });
      this.rows.push(m);
      return;
    }
    const wait = outcome instanceof GatewayBusy ? Math.max(outcome.retryAfterMs, 250 * 2 ** Math.min(m.tries, 6)) : 0;
    this.notTaken(m, now + wait);
  }

  taken(m: Waiting, showsStop: boolean): void {
    this.states.push([m.id, textAfter(m.state, { kind: 'taken' })]);
    this.gone.push({ m, showsStop });
    this.rows.push(m);
  }

  /** The network does not have it: as if it had never left, and to be judged again. */
  notTaken(m: Waiting, dueAt: number): void {
    const state = textAfter(m.state, { kind: 'not taken' });
    if (state === m.state) return;
    this.back.push([m.id, state, dueAt]);
    this.returned.push(m);
    this.rows.push(m);
  }

  async close(): Promise<void> {
    await setStates(this.w, this.states);
    await this.way.noteTaken(this.w, this.gone);
    await this.way.giveBack(this.w, [...this.returned, ...this.refusals.map((r) => r.m)]);
    await setBack(this.w, this.back);
    for (const { m, refusal } of this.refusals) await this.way.refused(this.w, m.id, refusal);
    const capped = this.returned.flatMap((m) => (m.purpose === 'promotional' ? (m.contact_number_id ?? []) : []));
    await this.way.noteRound(this.w, this.rows, capped, new Set());
  }
}
