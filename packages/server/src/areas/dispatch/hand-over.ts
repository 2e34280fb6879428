import {
  DEFAULT_PRICES,
  judge,
  mayLeaveAt,
  PACE_TOLERANCE_MS,
  paceAfter,
  spend,
  textAfter,
  type Allowance,
  type CarrierKind,
  type GateRules,
  type MessageFacts,
} from '@long-gate/core';
import { GatewayBusy, GatewayNotTaken, GatewayRefused, type OutgoingText } from '@long-gate/gateways';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import {
  carrierKindOf,
  doubtLeaving,
  dueTexts,
  dueUnsure,
  lastSolicitations,
  nextUnsure,
  setBack,
  setCancelled,
  setLeaving,
  setState,
  setVerdict,
  textOnItsWay,
  type Waiting,
} from './message-store.js';
import { bookDay, freeAt, freePaces, keepPace, nextFree, paceKey, perSecond, URGENT } from './pace-store.js';
import type { Receipts } from './receipts.js';
import type { Texts } from './texts.js';

/** One text in the air, and what became of the try. */
interface Try {
  text: OutgoingText;
  showsStop: boolean;
  carrierKind: CarrierKind;
}
type Outcome = 'taken' | 'not taken' | 'answer lost' | GatewayBusy | GatewayRefused;

/** How long a verdict is good for: a request that has been on its way longer is not taken any more. */
export const VERDICT_GOOD_MS = 3_000;
/** After that, and a little, the network can be asked what it has. */
const ASK_AFTER_MS = 400;
const BATCH = 32;
const PARALLEL = 16;
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
    const queue = [...tries];
    const results: { try: Try; outcome: Outcome }[] = [];
    await Promise.all(
      Array.from({ length: Math.min(PARALLEL, queue.length) }, async () => {
        for (let next = queue.shift(); next; next = queue.shift())
          results.push({
            try: next,
            outcome: this.age === age ? await this.p.inFlight.track(this.send(next.text)) : 'not taken',
          });
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
    const due = (key: string): Promise<Waiting[]> => dueTexts(w, key, now, BATCH);
    const round = new Round(this, w, now, await this.p.feed.place(w));
    let looked = 0;
    if (urgent)
      for (const m of await due(URGENT)) {
        await round.judge(m);
        looked++;
      }
    else
      for (const { key, free_at } of await freePaces(w, now)) {
        let free = free_at;
        for (const m of await due(key)) {
          if (!mayLeaveAt(free, now)) break;
          const left = await round.judge(m);
          looked++;
          if (left) free = left.freeAt;
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

  subjectOf(w: Reader, m: Waiting): ReturnType<Texts['subject']> {
    return this.texts.subject(w, m.business_id, m.e164, m.number_id);
  }

  factsOf(sender: Sender, nameLine: string, m: Waiting): MessageFacts {
    return this.texts.facts(sender, nameLine, {
      kind: m.kind,
      purpose: m.purpose,
      text: m.text,
      transactional: m.transactional === 1,
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
    for (const row of new Set(capped)) await this.recountCap(w, row);
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
  private async recountCap(w: Writer, contactNumberId: number): Promise<void> {
    const third = (await lastSolicitations(w, contactNumberId, PROMOTIONAL_CAP))[PROMOTIONAL_CAP - 1];
    await this.contacts.capSolicitations(w, contactNumberId, third === undefined ? null : third + DAY_MS);
  }

  // -- the network, and its answers ------------------------------------------------------------------------------

  private async send(text: OutgoingText): Promise<Outcome> {
    try {
      await this.p.gateways.network.send(text);
      return 'taken';
    } catch (error) {
      if (error instanceof GatewayBusy || error instanceof GatewayRefused) return error;
      if (error instanceof GatewayNotTaken) return 'not taken';
      return 'answer lost';
    }
  }

  /** Writes down what became of tries; what cannot be written now is written before anything else leaves. */
  private async writeDown(results: readonly { try: Try; outcome: Outcome }[]): Promise<void> {
    this.unwritten.push(...results);
    const all = [...this.unwritten];
    await this.p.db.write(async (w) => {
      const rows: Waiting[] = [];
      for (const r of all) rows.push(...(await this.answered(w, r.try, r.outcome)));
      await this.noteRound(w, rows, [], new Set());
    });
    this.unwritten = this.unwritten.filter((r) => !all.includes(r));
  }

  private async answered(w: Writer, t: Try, outcome: Outcome): Promise<Waiting[]> {
    const m = await textOnItsWay(w, t.text.key);
    if (!m) return [];
    const now = this.p.clock.now();
    if (outcome === 'taken') return this.taken(w, m, t.showsStop);
    if (outcome === 'answer lost') {
      await setState(w, m.id, textAfter(m.state, { kind: 'answer lost' }), t.text.takeBy + ASK_AFTER_MS);
      return [m];
    }
    if (outcome instanceof GatewayRefused) {
      await this.giveBack(w, m);
      await this.receipts.refused(w, m.id, outcome.code, outcome.message);
      return [m];
    }
    const wait = outcome instanceof GatewayBusy ? Math.max(outcome.retryAfterMs, 250 * 2 ** Math.min(m.tries, 6)) : 0;
    return this.notTaken(w, m, now + wait);
  }

  private async taken(w: Writer, m: Waiting, showsStop: boolean): Promise<Waiting[]> {
    await setState(w, m.id, textAfter(m.state, { kind: 'taken' }));
    if (m.contact_number_id !== null) await this.contacts.noteSent(w, m.contact_number_id, m.number_id, showsStop);
    return [m];
  }

  /** The network does not have it: as if it had never left, and to be judged again. */
  private async notTaken(w: Writer, m: Waiting, dueAt: number): Promise<Waiting[]> {
    const state = textAfter(m.state, { kind: 'not taken' });
    if (state === m.state) return [];
    await this.giveBack(w, m);
    await setBack(w, m.id, state, dueAt);
    if (m.contact_number_id !== null) await this.recountCap(w, m.contact_number_id);
    return [m];
  }

  private async giveBack(w: Writer, m: Waiting): Promise<void> {
    await this.pay(w, m, m.sent_at ?? this.p.clock.now(), -m.cost);
    if ((await carrierKindOf(w, m.contact_number_id)) === 'B')
      await bookDay(w, m.business_id, m.sent_at ?? this.p.clock.now(), -m.segments);
  }

  /** Asks the network which of the texts in doubt it has. One it has not is judged again. */
  private async askUnsure(): Promise<number> {
    const due = await dueUnsure(this.p.db, this.p.clock.now(), 200);
    if (due.length === 0) return 0;
    const known = new Set(await this.p.gateways.network.known(due));
    await this.p.db.write(async (w) => {
      const rows: Waiting[] = [];
      for (const id of due) {
        const m = await textOnItsWay(w, id);
        if (m?.state !== 'unsure') continue;
        const facts = known.has(id)
          ? this.factsOf(await this.numbers.sender(w, m.business_id, m.number_id), '', m)
          : null;
        rows.push(...(facts ? await this.taken(w, m, facts.showsStop) : await this.notTaken(w, m, this.p.clock.now())));
      }
      await this.noteRound(w, rows, [], new Set());
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

  constructor(
    private readonly way: HandOver,
    private readonly w: Writer,
    private readonly now: number,
    private readonly readUpTo: number,
  ) {}

  /** Judges one; where it passes it is in the air, and its pace's next free moment is answered. */
  async judge(m: Waiting): Promise<{ freeAt: number } | null> {
    this.rows.push(m);
    if (this.isOver(m)) {
      await setCancelled(this.w, m.id, textAfter(m.state, { kind: 'cancelled' }));
      return null;
    }
    const { sender, rules, nameLine, allowance: whole } = await this.aboutOf(m);
    const spent = this.spent.get(m.business_id) ?? { balance: 0, dailySegments: 0 };
    const allowance = {
      balance: whole.balance + spent.balance,
      dailySegments: whole.dailySegments + spent.dailySegments,
    };
    const { subject, row } = await this.way.subjectOf(this.w, m);
    const facts = this.way.factsOf(sender, nameLine, m);
    const verdict = judge(subject, facts, rules, allowance, this.memo);
    if (verdict.result !== 'pass') {
      const state = textAfter(m.state, { kind: 'judged', verdict, mayWait: m.dispatch_id !== null });
      await setVerdict(this.w, m.id, state, verdict);
      if (state === 'held' && m.dispatch_id !== null) this.heldIn.add(m.dispatch_id);
      return null;
    }
    const cost = facts.segments * DEFAULT_PRICES.segment;
    this.spent.set(m.business_id, spend(spent, subject, facts, rules));
    await setLeaving(
      this.w,
      m.id,
      textAfter(m.state, { kind: 'handed over', verdict }),
      this.now,
      cost,
      facts.segments,
    );
    const bill = `${m.business_id}|${m.dispatch_id ?? ''}`;
    this.costs.set(bill, { m, cost: (this.costs.get(bill)?.cost ?? 0) + cost });
    if (subject.carrierKind === 'B') await bookDay(this.w, m.business_id, this.now, facts.segments);
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
      carrierKind: subject.carrierKind,
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
    for (const [key, at] of this.free) await keepPace(this.w, key, at);
    for (const { m, cost } of this.costs.values()) await this.way.pay(this.w, m, this.now, cost);
    for (const id of this.heldIn) await this.way.wakeDispatch(this.w, id);
    if (this.rows.length > 0) await this.way.noteRound(this.w, this.rows, this.capped, this.used);
  }
}
