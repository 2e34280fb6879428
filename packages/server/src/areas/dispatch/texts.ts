import {
  judge,
  DEFAULT_HOURS,
  DEFAULT_PRICES,
  lastPacificMidnight,
  PASSING_FAULTS_HOLD,
  REASONS,
  segmentText,
  showsStop,
  namesSender,
  type Allowance,
  type GateRules,
  type MessageFacts,
  type Purpose,
  type TextKind,
  type Verdict,
} from '@long-gate/core';
import type { FailureClass, OutsideEvent } from '@long-gate/gateways';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { subjectColumns, subjectOf, type Contacts, type SubjectRow } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';

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
  /** Not sent after this moment (the confirmation of an opt-out: five minutes). */
  expiresAt?: number;
}

interface MessageRow {
  id: string;
  business_id: string;
  dispatch_id: string | null;
  kind: TextKind;
  purpose: Purpose;
  number_id: string;
  e164: string;
  contact_number_id: number | null;
  text: string;
  segments: number;
  state: string;
}

/** What travels in the outbox; the text itself stays in the message. */
interface Parcel {
  messageId: string;
  from: string;
  to: string;
  text: string;
  segments: number;
  expiresAt?: number;
  transactional?: boolean;
}

const DAY_MS = 86_400_000;
/** At most so many solicitations to a person in any 24 hours (rules.md, the gate). */
const PROMOTIONAL_CAP = 3;

/**
 * Every text to a contact goes through here, whatever its kind: judged when queued, judged again when it leaves,
 * charged when it leaves, and told by receipt what became of it.
 */
export class Texts {
  private readonly finished: ((w: Writer, dispatchId: string) => Promise<void>)[] = [];

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly contacts: Contacts,
  ) {
    p.outbox.carry<Parcel>('text', {
      mayLeave: (w, _key, parcel) => this.mayLeave(w, parcel),
      deliver: (key, parcel) =>
        p.gateways.network.send({
          key,
          from: parcel.from,
          to: parcel.to,
          text: parcel.text,
          segments: parcel.segments,
        }),
      delivered: async (w, _key, parcel) => {
        await w.run(`UPDATE message SET state = 'sent' WHERE id = $1 AND state = 'leaving'`, [parcel.messageId]);
        await this.touched(w, parcel.messageId);
      },
      refused: (w, _key, parcel, error) => this.networkRefused(w, parcel, error.code, error.message),
    });
    p.feed.on('text.delivered', (w, e) => this.receipt(w, e));
    p.feed.on('text.failed', (w, e) => this.receipt(w, e));
  }

  /** Told in the same transaction whenever a text of a dispatch reaches a state in which it has nothing left to do. */
  onSettled(listener: (w: Writer, dispatchId: string) => Promise<void>): void {
    this.finished.push(listener);
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
    const today = await r.one<{ n: number }>(
      `SELECT coalesce(sum(m.segments), 0) AS n FROM message m JOIN contact_number cn ON cn.id = m.contact_number_id WHERE m.business_id = $1 AND m.direction = 'out' AND m.sent_at >= $2 AND cn.carrier_kind = 'B'`,
      [businessId, lastPacificMidnight(this.p.clock.now())],
    );
    return {
      balance: b.balance - (waiting?.segments ?? 0) * DEFAULT_PRICES.segment,
      dailySegments: sender.throughput.brandPerDay - (today?.n ?? 0) - (waiting?.capped ?? 0),
    };
  }

  async subject(
    r: Reader,
    businessId: string,
    e164: string,
    numberId: string,
    emptyFields: readonly ('first_name' | 'last_name')[],
  ): Promise<(SubjectRow & { id: number; first_name: string; last_name: string; contact_id: string }) | undefined> {
    return r.one(
      `SELECT ${subjectColumns(emptyFields).select}, cn.conversation_until, cn.id, c.first_name, c.last_name, c.id AS contact_id FROM contact_number cn JOIN contact c ON c.id = cn.contact_id
       LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId WHERE cn.business_id = $businessId AND cn.e164 = $e164`,
      { businessId, e164, numberId, now: this.p.clock.now() },
    );
  }

  facts(
    sender: Sender,
    nameLine: string,
    m: { kind: TextKind; purpose: Purpose; text: string; transactional?: boolean; contentBlocked?: boolean },
  ): MessageFacts {
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
      segments: Math.max(1, segmentText(m.text).parts.length),
    };
  }

  /** How the gate would judge one such text now. */
  async judgeOne(
    r: Reader,
    t: Pick<SingleText, 'businessId' | 'kind' | 'purpose' | 'numberId' | 'e164' | 'text'>,
  ): Promise<Verdict> {
    const sender = await this.numbers.sender(r, t.businessId, t.numberId);
    const row = await this.subject(r, t.businessId, t.e164, t.numberId, []);
    const b = await this.businesses.row(r, t.businessId);
    const subject = row ? subjectOf(row) : UNKNOWN;
    return judge(
      subject,
      this.facts(sender, b.name_line, t),
      await this.rules(r, t.businessId),
      await this.allowance(r, t.businessId, sender),
    );
  }

  // -- queueing --------------------------------------------------------------------------------------------------

  /** Queues one text outside any dispatch if the gate passes it; a hold or stop is kept with the message and said. */
  async queue(w: Writer, t: SingleText): Promise<{ id: string; verdict: Verdict }> {
    const verdict = await this.judgeOne(w, t);
    const known = await w.one('SELECT id FROM message WHERE id = $1', [t.id]);
    if (known) return { id: t.id, verdict };
    const row = await this.contacts.byAddress(w, t.businessId, t.e164);
    const segments = Math.max(1, segmentText(t.text).parts.length);
    const passes = verdict.result === 'pass';
    await w.run(
      `INSERT INTO message (id, business_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, post, reason, hold_until, created_at, sent_by)
       VALUES ($1,$2,'out',$3,$4,$5,$6,$7,$8,$9,$10,$11,$12,$13,$14,$15)`,
      [
        t.id,
        t.businessId,
        t.kind,
        t.purpose,
        t.numberId,
        t.e164,
        row?.id ?? null,
        t.text,
        segments,
        passes ? 'waiting' : 'stopped',
        verdict.post,
        verdict.reason,
        verdict.until,
        this.p.clock.now(),
        t.sentBy,
      ],
    );
    if (passes) {
      const sender = await this.numbers.sender(w, t.businessId, t.numberId);
      await this.p.outbox.put(w, 'text', t.id, {
        messageId: t.id,
        from: sender.e164,
        to: t.e164,
        text: t.text,
        segments,
        ...(t.expiresAt ? { expiresAt: t.expiresAt } : {}),
      } satisfies Parcel);
    }
    return { id: t.id, verdict };
  }

  /** Puts a dispatch's judged text in the outbox, to leave at its slot. */
  async schedule(w: Writer, parcel: Parcel, at: number): Promise<void> {
    await this.p.outbox.put(w, 'text', parcel.messageId, parcel, at);
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

  /** The gate again, at the moment of leaving. What no longer passes does not leave. */
  private async mayLeave(w: Writer, parcel: Parcel): Promise<boolean> {
    const m = await w.one<MessageRow>('SELECT * FROM message WHERE id = $1', [parcel.messageId]);
    if (!m) return false;
    // It was on its way when we crashed: hand it in again under the same key.
    if (m.state === 'leaving') return true;
    if (m.state !== 'waiting') return false;
    const now = this.p.clock.now();
    if (parcel.expiresAt !== undefined && now > parcel.expiresAt) {
      await w.run(`UPDATE message SET state = 'cancelled', reason = NULL WHERE id = $1`, [m.id]);
      return false;
    }
    const sender = await this.numbers.sender(w, m.business_id, m.number_id);
    const b = await this.businesses.row(w, m.business_id);
    const row = await this.subject(w, m.business_id, m.e164, m.number_id, []);
    const facts = this.facts(sender, b.name_line, {
      kind: m.kind,
      purpose: m.purpose,
      text: parcel.text,
      transactional: parcel.transactional,
    });
    const verdict = judge(
      row ? subjectOf(row) : UNKNOWN,
      facts,
      await this.rules(w, m.business_id),
      await this.allowance(w, m.business_id, sender, true),
    );
    if (verdict.result !== 'pass') {
      const state = verdict.result === 'hold' && m.dispatch_id ? 'held' : 'stopped';
      await w.run(`UPDATE message SET state = $2, post = $3, reason = $4, hold_until = $5 WHERE id = $1`, [
        m.id,
        state,
        verdict.post,
        verdict.reason,
        verdict.until,
      ]);
      await this.touched(w, m.id);
      return false;
    }
    const cost = facts.segments * DEFAULT_PRICES.segment;
    const about = m.dispatch_id
      ? { kind: 'dispatch', id: m.dispatch_id, what: 'texts of a dispatch' }
      : { kind: 'thread', id: m.e164, what: 'single texts' };
    const day = String(Math.floor(now / DAY_MS));
    await this.businesses.charge(
      w,
      m.business_id,
      cost,
      about.what,
      about.kind,
      m.dispatch_id ?? '',
      idFrom('mon', m.business_id, m.dispatch_id ?? 'single', day),
    );
    await w.run(
      `UPDATE message SET state = 'leaving', post = NULL, reason = NULL, hold_until = NULL, sent_at = $2, cost = $3, segments = $4 WHERE id = $1`,
      [m.id, now, cost, facts.segments],
    );
    await this.numbers.noteUsed(w, m.number_id);
    if (row)
      await this.contacts.noteSent(
        w,
        row.id,
        m.number_id,
        facts.showsStop,
        m.purpose === 'promotional' ? await this.capUntil(w, row.id) : null,
      );
    return true;
  }

  /** Until when three solicitations stand within 24 hours, counting the one that leaves now; null below three. */
  private async capUntil(r: Reader, contactNumberId: number): Promise<number | null> {
    const rows = await r.all<{ sent_at: number }>(
      `SELECT sent_at FROM message WHERE contact_number_id = $1 AND purpose = 'promotional' AND direction = 'out' AND sent_at IS NOT NULL ORDER BY sent_at DESC LIMIT ${PROMOTIONAL_CAP}`,
      [contactNumberId],
    );
    const third = rows[PROMOTIONAL_CAP - 1];
    return third ? third.sent_at + DAY_MS : null;
  }

  // -- what becomes of them --------------------------------------------------------------------------------------

  private async networkRefused(w: Writer, parcel: Parcel, code: string, reason: string): Promise<void> {
    const failure: FailureClass = code === 'unregistered' ? 'configuration' : 'passing-fault';
    await this.fail(w, parcel.messageId, failure, code, reason, '');
  }

  private async receipt(
    w: Writer,
    e: Extract<OutsideEvent, { kind: 'text.delivered' | 'text.failed' }>,
  ): Promise<void> {
    if (e.kind === 'text.failed') return this.fail(w, e.key, e.failure, e.code, e.reason, e.carrier);
    // A final answer is never overwritten; a repeated one counts once.
    await w.run(
      `UPDATE message SET state = 'delivered', final_at = $2, carrier = $3 WHERE id = $1 AND state IN ('leaving','sent')`,
      [e.key, Math.round(e.at), e.carrier],
    );
    await this.touched(w, e.key);
  }

  private async fail(
    w: Writer,
    id: string,
    failure: FailureClass,
    code: string,
    reason: string,
    carrier: string,
  ): Promise<void> {
    const m = await w.one<MessageRow>(`SELECT * FROM message WHERE id = $1 AND state IN ('leaving','sent')`, [id]);
    if (!m) return;
    const now = this.p.clock.now();
    await w.run(
      `UPDATE message SET state = 'failed', final_at = $2, carrier = $3, failure = $4, failure_code = $5, failure_reason = $6 WHERE id = $1`,
      [id, now, carrier, failure, code, reason],
    );
    if (failure === 'not-textable' || failure === 'out-of-service' || failure === 'refused-by-owner')
      await this.contacts.learnTrouble(w, m.business_id, m.e164, failure, false);
    if (failure === 'passing-fault') {
      const n = await w.one<{ n: number }>(
        `SELECT count(*) AS n FROM message WHERE contact_number_id = $1 AND failure = 'passing-fault' AND final_at > $2`,
        [m.contact_number_id, now - 30 * DAY_MS],
      );
      await this.contacts.learnTrouble(w, m.business_id, m.e164, 'passing-fault', (n?.n ?? 0) >= PASSING_FAULTS_HOLD);
    }
    await this.touched(w, id);
  }

  /** Takes back, at once, whatever has not left for this number; a dispatch under way goes on without it. */
  async withdraw(w: Writer, businessId: string, e164: string, purposes: readonly Purpose[]): Promise<number> {
    const rows = await w.all<{ id: string }>(
      `SELECT id FROM message WHERE business_id = $1 AND e164 = $2 AND direction = 'out' AND kind IN ('dispatch','answer') AND state IN ('judging','waiting','held') AND purpose IN (SELECT value FROM json_each($3))`,
      [businessId, e164, JSON.stringify(purposes)],
    );
    for (const { id } of rows) {
      await w.run(
        `UPDATE message SET state = 'stopped', post = 5, reason = 'opted-out', hold_until = NULL WHERE id = $1`,
        [id],
      );
      await w.run(`DELETE FROM outbox WHERE key = $1 AND state = 'waiting'`, [id]);
      await this.touched(w, id);
    }
    return rows.length;
  }

  private async touched(w: Writer, messageId: string): Promise<void> {
    const m = await w.one<{ business_id: string; dispatch_id: string | null; e164: string }>(
      'SELECT business_id, dispatch_id, e164 FROM message WHERE id = $1',
      [messageId],
    );
    if (!m) return;
    if (m.dispatch_id) for (const tell of this.finished) await tell(w, m.dispatch_id);
    w.afterCommit(() => {
      this.p.live.tell({
        businessId: m.business_id,
        topic: m.dispatch_id ? 'dispatch' : 'inbox',
        id: m.dispatch_id ?? m.e164,
      });
      this.p.live.tell({ businessId: m.business_id, topic: 'watch' });
    });
  }
}

/** Somebody we have no contact for: only kinds that ask nothing of a contact can pass. */
const UNKNOWN = {
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
} as const;

/** Words for a verdict kept with a message. */
export function whyOf(reason: string | null): { why: string; lift: string } {
  const known = reason && reason in REASONS ? REASONS[reason as keyof typeof REASONS] : null;
  return { why: known?.why ?? '', lift: known?.lift ?? '' };
}
