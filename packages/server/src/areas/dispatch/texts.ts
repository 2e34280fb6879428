import {
  DEFAULT_HOURS,
  DEFAULT_PRICES,
  filteredLink,
  judge,
  namesSender,
  otherUse,
  promotionalWords,
  REASONS,
  segmentText,
  showsStop,
  textAfter,
  type Allowance,
  type GateRules,
  type MessageFacts,
  type Purpose,
  type Subject,
  type TextKind,
  type Verdict,
} from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { subjectColumns, subjectOf, type Contacts, type SubjectRow } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import { countTexts, lastTextTo, listsTexted, setVerdict, withdrawable } from './message-store.js';
import { URGENT, usedToday } from './pace-store.js';

export interface SingleText {
  /** The same id is queued once. */
  id: string;
  businessId: string;
  kind: TextKind;
  purpose: Purpose;
  numberId: string;
  e164: string;
  text: string;
  sentBy: string;
  /** Not sent after this moment (the confirmation of an opt-out: five minutes); a day where none is given. */
  expiresAt?: number;
  /** An administrator's override of a draft that is tested. */
  overridden?: boolean;
}

/** What is said of a text beside its words. */
export interface AboutText {
  kind: TextKind;
  purpose: Purpose;
  text: string;
  transactional?: boolean;
  overridden?: boolean;
  contentBlocked?: boolean;
}

const DAY_MS = 86_400_000;

/** What the gate reads of a text and its sender; and the texts outside any dispatch, queued once each. */
export class Texts {
  private readonly settledListeners: ((w: Writer, dispatchId: string) => Promise<void>)[] = [];

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly contacts: Contacts,
  ) {}

  /** Told in the same transaction whenever a text of a dispatch reaches a state in which it has nothing left to do. */
  onSettled(listener: (w: Writer, dispatchId: string) => Promise<void>): void {
    this.settledListeners.push(listener);
  }

  // -- judging ---------------------------------------------------------------------------------------------------

  async rules(r: Reader, businessId: string): Promise<GateRules> {
    const b = await this.businesses.row(r, businessId);
    return {
      at: this.p.clock.now(),
      hours: DEFAULT_HOURS,
      openCountries: b.open_countries.split(','),
      transactionalAnyHour: b.transactional_any_hour === 1,
      segmentPrice: DEFAULT_PRICES.segment,
    };
  }

  /**
   * What is left to spend: the balance less what already waits to leave, and the day's segments on capped networks.
   * @param exceptWaiting leave the waiting ones out of account (they are what is being judged again).
   */
  async allowance(r: Reader, businessId: string, sender: Sender, exceptWaiting = false): Promise<Allowance> {
    const b = await this.businesses.row(r, businessId);
    const waiting = exceptWaiting
      ? { segments: 0, capped: 0 }
      : await r.one<{ segments: number; capped: number }>(
          `SELECT coalesce(sum(m.segments), 0) AS segments, coalesce(sum(CASE WHEN cn.carrier_kind = 'B' THEN m.segments END), 0) AS capped
       FROM message m LEFT JOIN contact_number cn ON cn.id = m.contact_number_id WHERE m.business_id = $1 AND m.state = 'waiting'`,
          [businessId],
        );
    const used = await usedToday(r, businessId, this.p.clock.now());
    return {
      balance: b.balance - (waiting?.segments ?? 0) * DEFAULT_PRICES.segment,
      dailySegments: sender.throughput.brandPerDay - used - (waiting?.capped ?? 0),
    };
  }

  async subject(
    r: Reader,
    businessId: string,
    e164: string,
    numberId: string,
  ): Promise<{ row: number | null; subject: Subject }> {
    const row = await r.one<SubjectRow & { id: number }>(
      `SELECT ${subjectColumns([]).select}, cn.conversation_until, cn.id FROM contact_number cn JOIN contact c ON c.id = cn.contact_id
       LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId WHERE cn.business_id = $businessId AND cn.e164 = $e164`,
      { businessId, e164, numberId, now: this.p.clock.now() },
    );
    return row ? { row: row.id, subject: subjectOf(row) } : { row: null, subject: UNKNOWN };
  }

  facts(sender: Sender, nameLine: string, m: AboutText): MessageFacts {
    // Answers about a programme of offers may name it; only a dispatch's own words are taken at every hint.
    const strict = m.kind === 'dispatch' || m.kind === 'staff test';
    return {
      kind: m.kind,
      purpose: m.purpose,
      transactional: m.transactional ?? false,
      accountState: sender.accountState,
      textsOff: sender.textsOff,
      clearance: sender.clearance,
      senderCountries: sender.countries,
      oneWay: sender.countries !== null,
      namesSender: namesSender(m.text, nameLine),
      // A reply cannot reach a one-way sender: only its signature shows how to stop.
      showsStop: sender.countries ? sender.signature !== '' && m.text.includes(sender.signature) : showsStop(m.text),
      contentBlocked: m.contentBlocked ?? false,
      wordsPromotional: promotionalWords(m.text, strict) !== null,
      wordsOverridden: m.overridden ?? false,
      linkFiltered: filteredLink(m.text) !== null,
      otherUse: strict || m.kind === 'answer' ? otherUse(m.text, sender.campaign) !== null : false,
      segments: Math.max(1, segmentText(m.text).parts.length),
    };
  }

  /** How the gate would judge one such text now. */
  async judgeOne(
    r: Reader,
    t: Pick<SingleText, 'businessId' | 'kind' | 'purpose' | 'numberId' | 'e164' | 'text' | 'overridden'>,
  ): Promise<Verdict> {
    const sender = await this.numbers.sender(r, t.businessId, t.numberId);
    const b = await this.businesses.row(r, t.businessId);
    return judge(
      (await this.subject(r, t.businessId, t.e164, t.numberId)).subject,
      this.facts(sender, b.name_line, t),
      await this.rules(r, t.businessId),
      await this.allowance(r, t.businessId, sender),
    );
  }

  // -- queueing --------------------------------------------------------------------------------------------------

  /**
   * Queues one text outside any dispatch if the gate passes it; a hold or stop is kept with the message and said. It
   * waits behind nothing, and is judged again when it leaves.
   */
  async queue(w: Writer, t: SingleText): Promise<{ id: string; verdict: Verdict }> {
    const verdict = await this.judgeOne(w, t);
    if (await w.one('SELECT id FROM message WHERE id = $1', [t.id])) return { id: t.id, verdict };
    const row = await this.contacts.byAddress(w, t.businessId, t.e164);
    const now = this.p.clock.now();
    const state = textAfter('judging', { kind: 'judged', verdict, mayWait: false });
    await w.run(
      `INSERT INTO message (id, business_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, post, reason, hold_until, created_at, sent_by, pace_key, due_at, expires_at)
       VALUES ($1,$2,'out',$3,$4,$5,$6,$7,$8,$9,$10,$11,$12,$13,$14,$15,$16,$14,$17)`,
      [
        t.id,
        t.businessId,
        t.kind,
        t.purpose,
        t.numberId,
        t.e164,
        row?.id ?? null,
        t.text,
        Math.max(1, segmentText(t.text).parts.length),
        state,
        verdict.post,
        verdict.reason,
        verdict.until,
        now,
        t.sentBy,
        URGENT,
        t.expiresAt ?? now + DAY_MS,
      ],
    );
    return { id: t.id, verdict };
  }

  /** When a text last reached a number of ours, and when one from it was last delivered, since a moment. */
  async seenOn(
    r: Reader,
    numberId: string,
    since: number,
  ): Promise<{ inAt: number | null; outAt: number | null; callAt: number | null }> {
    const row = await r.one<{ inAt: number | null; outAt: number | null; callAt: number | null }>(
      `SELECT max(CASE WHEN kind = 'reply' THEN created_at END) AS "inAt", max(CASE WHEN kind = 'call' THEN created_at END) AS "callAt", max(CASE WHEN state = 'delivered' THEN final_at END) AS "outAt"
       FROM message WHERE number_id = $1 AND created_at >= $2`,
      [numberId, since],
    );
    return row ?? { inAt: null, outAt: null, callAt: null };
  }

  /** How many texts of a kind a person was sent or is about to be, since a moment. */
  countSince(
    r: Reader,
    businessId: string,
    e164: string,
    kind: TextKind,
    sentBy: string,
    since: number,
  ): Promise<number> {
    return countTexts(r, businessId, e164, kind, sentBy, since);
  }

  /** The last text that reached the person, or is at the network on its way there. */
  lastTo(r: Reader, businessId: string, e164: string): ReturnType<typeof lastTextTo> {
    return lastTextTo(r, businessId, e164);
  }

  /** What the business's lists are texted for. */
  lists(r: Reader, businessId: string): ReturnType<typeof listsTexted> {
    return listsTexted(r, businessId);
  }

  /** Takes back, at once, whatever has not left for this number; a dispatch under way goes on without it. */
  async withdraw(w: Writer, businessId: string, e164: string, purposes: readonly Purpose[]): Promise<number> {
    const rows = await withdrawable(w, businessId, e164, purposes);
    for (const { id, state } of rows)
      await setVerdict(w, id, textAfter(state, { kind: 'withdrawn' }), { post: 5, reason: 'opted-out', until: null });
    await this.settled(
      w,
      rows.flatMap((r) => r.dispatch_id ?? []),
    );
    if (rows.length > 0) this.changed(w, businessId, [{ dispatch_id: rows[0]?.dispatch_id ?? null, e164 }]);
    return rows.length;
  }

  /** Tells the dispatches that texts of theirs have come to rest. */
  async settled(w: Writer, dispatchIds: Iterable<string>): Promise<void> {
    for (const id of new Set(dispatchIds)) for (const tell of this.settledListeners) await tell(w, id);
  }

  /** Tells the open pages. */
  changed(w: Writer, businessId: string, rows: readonly { dispatch_id: string | null; e164: string }[]): void {
    w.afterCommit(() => {
      for (const m of rows)
        this.p.live.tell({
          businessId,
          topic: m.dispatch_id ? 'dispatch' : 'inbox',
          id: m.dispatch_id ?? m.e164,
        });
      this.p.live.tell({ businessId, topic: 'watch' });
    });
  }
}

/** Somebody we have no contact for: only kinds that ask nothing of a contact can pass. */
const UNKNOWN: Subject = {
  wellFormed: true,
  country: 'US',
  zones: '',
  states: '',
  lookedUp: false,
  textable: 'unknown',
  reachable: true,
  trouble: 'none',
  faultsInReview: false,
  suppressed: false,
  wishInReview: false,
  consent: { conversational: 'none', informational: 'none', promotional: 'none' },
  conversationUntil: null,
  carrierKind: 'A',
  promotionalCapUntil: null,
  firstText: true,
  stopLineDue: false,
  fieldEmpty: false,
};

/** Words for a verdict kept with a message. */
export function whyOf(reason: string | null): { why: string; lift: string } {
  const known = reason && reason in REASONS ? REASONS[reason as keyof typeof REASONS] : null;
  return { why: known?.why ?? '', lift: known?.lift ?? '' };
}
