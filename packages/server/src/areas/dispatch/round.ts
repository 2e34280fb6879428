import {
  DEFAULT_PRICES,
  dayNumber,
  holdsOwnPageLink,
  judge,
  lateAnswerWaits,
  paceAfter,
  spend,
  textAfter,
  withLinkKey,
  type Allowance,
  type Subject,
  type TextState,
  type Verdict,
} from '@long-gate/core';
import type { Writer } from '../../platform/db.js';
import type { Try } from './answers.js';
import type { HandOver } from './hand-over.js';
import {
  setCancelled,
  setLeaving,
  setStates,
  setVerdicts,
  setWords,
  type Leaving,
  type Waiting,
} from './message-store.js';
import type { OfferCaps } from './offer-caps.js';
import type { LinkedText, LinkKey } from './own-page-links.js';
import { bookDay, freeAt, keepPace, paceKey, perSecond } from './pace-store.js';
import { NOBODY } from './texts.js';

/** How long a verdict is good for: a request that has been on its way longer is not taken any more. */
export const VERDICT_GOOD_MS = 3_000;

/** What is the same for all texts of one number; the day is that of the business. */
type About = Omit<Awaited<ReturnType<HandOver['about']>>, 'zone'> & { day: number };

/** One round of judging in one transaction: what is the same for many texts is read once, what is spent is counted. */
export class Round {
  readonly tries: Try[] = [];
  private readonly about = new Map<string, About>();
  private readonly spent = new Map<string, Allowance>();
  private readonly free = new Map<string, number>();
  private readonly costs = new Map<string, { m: Waiting; cost: number }>();
  private readonly rows: Waiting[] = [];
  private readonly capped: Waiting[] = [];
  /** What single texts have left to say, where that changed since they were queued; null: nothing. */
  private readonly words = new Map<string, string | null>();
  private readonly offers: OfferCaps;
  private readonly used = new Set<string>();
  private readonly heldIn = new Set<string>();
  private readonly subjects = new Map<string, { row: number | null; subject: Subject }>();
  private readonly leaving: Leaving[] = [];
  private readonly verdicts: (readonly [string, TextState, Verdict])[] = [];
  private readonly late: (readonly [string, TextState, number])[] = [];
  private readonly cancelled: (readonly [string, TextState])[] = [];
  private readonly days = new Map<string, number>();
  /** Texts with a link to their reader's page, by their place among the tries. */
  private readonly linked = new Map<number, LinkedText>();

  constructor(
    private readonly way: HandOver,
    private readonly w: Writer,
    private readonly now: number,
    private readonly readUpTo: number,
  ) {
    this.offers = way.offerCaps();
  }

  /** Reads whom a lot of texts goes to. */
  async prepare(texts: readonly Waiting[]): Promise<void> {
    for (const [id, subject] of await this.way.subjectsOf(this.w, texts)) this.subjects.set(id, subject);
    await this.offers.read(
      this.w,
      texts.filter((m) => m.purpose === 'promotional'),
      this.now,
    );
    for (const [id, words] of await this.way.wordsByNow(this.w, texts)) this.words.set(id, words);
  }

  /** Judges one; where it passes it is in the air, and its pace's next free moment is answered. */
  async judge(waiting: Waiting): Promise<{ freeAt: number } | null> {
    const m = { ...waiting, text: this.words.get(waiting.id) ?? waiting.text };
    this.rows.push(m);
    if (this.isOver(m)) {
      this.cancelled.push([m.id, textAfter(m.state, { kind: 'cancelled' })]);
      return null;
    }
    const { sender, rules, nameLine, day, allowance: whole } = await this.aboutOf(m);
    const spent = this.spent.get(m.business_id) ?? { balance: 0, dailySegments: 0 };
    const allowance = {
      balance: whole.balance + spent.balance,
      dailySegments: whole.dailySegments + spent.dailySegments,
    };
    const { subject: as } = this.subjects.get(m.id) ?? (await this.way.subjectsOf(this.w, [m])).get(m.id) ?? NOBODY;
    // Another offer to the same person may have passed in this round.
    const subject = m.purpose === 'promotional' ? { ...as, promotionalCapUntil: this.offers.until(m) } : as;
    const facts = this.way.factsOf(sender, nameLine, m);
    const verdict = judge(subject, facts, rules, allowance);
    if (verdict.result !== 'pass') {
      const state = textAfter(m.state, { kind: 'judged', verdict, mayWait: m.dispatch_id !== null });
      this.verdicts.push([m.id, state, verdict]);
      if (state === 'held' && m.dispatch_id !== null) this.heldIn.add(m.dispatch_id);
      return null;
    }
    const until = lateAnswerWaits(m.kind, m.created_at, subject, rules);
    if (until !== null) {
      this.late.push([m.id, m.state, until]);
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
      day,
    ]);
    const bill = `${m.business_id}|${m.dispatch_id ?? ''}`;
    this.costs.set(bill, { m, cost: (this.costs.get(bill)?.cost ?? 0) + cost });
    if (subject.carrierKind === 'B') this.days.set(m.business_id, (this.days.get(m.business_id) ?? 0) + facts.segments);
    if (m.purpose === 'promotional') {
      this.offers.note(m, this.now);
      this.capped.push(m);
    }
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
    if (holdsOwnPageLink(m.text))
      this.linked.set(this.tries.length, {
        messageId: m.id,
        businessId: m.business_id,
        dispatchId: m.dispatch_id ?? '',
        e164: m.e164,
      });
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
    if (this.words.get(m.id) === null || (m.expires_at !== null && this.now >= m.expires_at)) return true;
    return m.dispatch_id !== null && (m.dispatch_state !== 'sending' || (m.ends_at !== null && this.now >= m.ends_at));
  }

  private async aboutOf(m: Waiting): Promise<About> {
    const key = `${m.business_id}|${m.number_id}`;
    const known = this.about.get(key);
    if (known) return known;
    const { zone, ...all } = await this.way.about(this.w, m);
    const about = { ...all, day: dayNumber(this.now, zone) };
    this.about.set(key, about);
    return about;
  }

  /** Keeps what the round has used up; what is handed over carries its keys, which what is kept does not. */
  async close(): Promise<void> {
    const keys =
      this.linked.size > 0 ? await this.way.keys(this.w, [...this.linked.values()]) : new Map<string, LinkKey>();
    for (const [i, { messageId }] of this.linked) {
      const { text, ...of } = this.tries[i] as Try;
      const { key, domains } = keys.get(messageId) ?? { key: '', domains: [] };
      this.tries[i] = { ...of, text: { ...text, text: withLinkKey(text.text, domains, key) } };
    }
    await setWords(this.w, this.words);
    await setCancelled(this.w, this.cancelled);
    await setVerdicts(this.w, this.verdicts, this.now);
    await setStates(this.w, this.late);
    await setLeaving(this.w, this.leaving, this.now);
    for (const [business, segments] of this.days) await bookDay(this.w, business, this.now, segments);
    for (const [key, at] of this.free) await keepPace(this.w, key, at);
    for (const { m, cost } of this.costs.values()) await this.way.pay(this.w, m, this.now, cost);
    for (const id of this.heldIn) await this.way.wakeDispatch(this.w, id);
    if (this.rows.length > 0) await this.way.noteRound(this.w, this.rows, this.capped, this.used);
  }
}
