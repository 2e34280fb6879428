import type { MessageView } from '@long-gate/contracts';
import {
  DEFAULT_HOURS,
  DEFAULT_PRICES,
  dayNumber,
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
  type HoursRules,
  type MessageFacts,
  type NamedList,
  type Purpose,
  type Subject,
  type TextKind,
  type Verdict,
} from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { subjectOf, type Contacts, type Lists } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import { showMessage } from './messages.js';
import {
  countTexts,
  isQueued,
  addText,
  lastDelivered,
  lastTextTo,
  listsDispatched,
  setVerdicts,
  withdrawable,
} from './message-store.js';
import { segmentsWaiting } from './recipient-store.js';
import { lastTexts, textById } from './shown-store.js';
import { NO_OWN_PAGES, type OwnPageLinks } from './own-page-links.js';
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
  /** The wall time chosen for it where each recipient is. */
  notBefore?: string | null;
}

/** A text that nobody wrote: it answers what somebody said, or asks for their YES. */
export interface SaidByNobody {
  id: string;
  businessId: string;
  e164: string;
  kind: TextKind;
  text: string;
}
/**
 * Of texts that say or ask, by now, what is not so any more, the words they leave with instead; null where nothing is
 * left to say. Those that are as they were are not in the answer.
 */
export type WordsByNow = (w: Writer, texts: readonly SaidByNobody[]) => Promise<ReadonlyMap<string, string | null>>;

const DAY_MS = 86_400_000;

/** What the gate reads of a text and its sender; and the texts outside any dispatch, queued once each. */
export class Texts {
  private pages = NO_OWN_PAGES;
  private byNow: WordsByNow = () => Promise.resolve(new Map());
  private readonly settledListeners: ((w: Writer, dispatchId: string) => Promise<void>)[] = [];

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly contacts: Contacts,
    private readonly contactLists: Lists,
  ) {}

  /** Links to contacts' own pages, which texts may carry. */
  get ownPages(): OwnPageLinks {
    return this.pages;
  }
  ownPagesBy(pages: OwnPageLinks): void {
    this.pages = pages;
  }

  /** Of texts that answer or ask somebody and are about to leave: what those have left to say of which it changed. */
  wordsByNow(w: Writer, texts: readonly SaidByNobody[]): Promise<ReadonlyMap<string, string | null>> {
    return this.byNow(w, texts);
  }
  wordsBy(byNow: WordsByNow): void {
    this.byNow = byNow;
  }

  /** Told in the same transaction whenever a text of a dispatch reaches a state in which it has nothing left to do. */
  onSettled(listener: (w: Writer, dispatchId: string) => Promise<void>): void {
    this.settledListeners.push(listener);
  }

  // -- judging ---------------------------------------------------------------------------------------------------

  async rules(r: Reader, businessId: string): Promise<GateRules> {
    const b = await this.businesses.row(r, businessId);
    return rulesOf(this.p.clock.now(), b.open_countries, Boolean(b.transactional_any_hour));
  }

  /**
   * What is left to spend: the balance less what already waits to leave, and the day's segments on capped networks.
   * @param exceptWaiting leave the waiting ones out of account (they are what is being judged again).
   */
  async allowance(r: Reader, businessId: string, sender: Sender, exceptWaiting = false): Promise<Allowance> {
    const b = await this.businesses.row(r, businessId);
    const waiting = exceptWaiting ? {} : await segmentsWaiting(r, businessId);
    const segments = Object.values(waiting).reduce((n, x) => n + x, 0);
    const used = await usedToday(r, businessId, this.p.clock.now());
    return {
      balance: b.balance - segments * DEFAULT_PRICES.segment,
      dailySegments: sender.throughput.brandPerDay - used - (waiting['B'] ?? 0),
    };
  }

  async subject(
    r: Reader,
    businessId: string,
    e164: string,
    numberId: string,
  ): Promise<{ row: number | null; subject: Subject }> {
    const row = await this.contacts.subjectRow(r, businessId, e164, numberId);
    return row ? { row: row.id, subject: subjectOf(row) } : NOBODY;
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
      notBefore: m.notBefore ?? null,
      segments: Math.max(1, segmentText(m.text).parts.length),
    };
  }

  /** How the gate would judge one such text now, and whom it would go to. */
  async judgeOne(
    r: Reader,
    t: Pick<SingleText, 'businessId' | 'kind' | 'purpose' | 'numberId' | 'e164' | 'text' | 'overridden'>,
  ): Promise<Verdict & { subject: Subject }> {
    const sender = await this.numbers.sender(r, t.businessId, t.numberId);
    const b = await this.businesses.row(r, t.businessId);
    const { subject } = await this.subject(r, t.businessId, t.e164, t.numberId);
    const verdict = judge(
      subject,
      this.facts(sender, b.name_line, t),
      await this.rules(r, t.businessId),
      await this.allowance(r, t.businessId, sender),
    );
    return { ...verdict, subject };
  }

  // -- queueing --------------------------------------------------------------------------------------------------

  /**
   * Queues one text outside any dispatch if the gate passes it; a hold or stop is kept with the message and said. It
   * waits behind nothing, and is judged again when it leaves.
   */
  async queue(w: Writer, t: SingleText): Promise<{ id: string; verdict: Verdict }> {
    const { subject, ...verdict } = await this.judgeOne(w, t);
    if (await isQueued(w, t.id)) return { id: t.id, verdict };
    const row = await this.contacts.byAddress(w, t.businessId, t.e164);
    const now = this.p.clock.now();
    const state = textAfter('judging', { kind: 'judged', verdict, mayWait: false });
    await addText(w, {
      id: t.id,
      businessId: t.businessId,
      direction: 'out',
      kind: t.kind,
      purpose: t.purpose,
      numberId: t.numberId,
      e164: t.e164,
      contactNumberId: row?.id ?? null,
      text: t.text,
      segments: Math.max(1, segmentText(t.text).parts.length),
      state,
      post: verdict.post,
      reason: verdict.reason,
      holdUntil: verdict.until,
      judgedAt: now,
      createdAt: now,
      sentBy: t.sentBy,
      paceKey: URGENT,
      dueAt: now,
      expiresAt: t.expiresAt ?? now + DAY_MS,
      network: subject.carrierKind,
    });
    return { id: t.id, verdict };
  }

  /** Files what came in: a text or a call. The same one again changes nothing. @returns false where it was here. */
  async receive(
    w: Writer,
    m: {
      id: string;
      businessId: string;
      numberId: string;
      from: string;
      contactNumberId: number;
      kind: 'reply' | 'call';
      text: string;
      at: number;
    },
  ): Promise<boolean> {
    if (await isQueued(w, m.id)) return false;
    await addText(w, {
      id: m.id,
      businessId: m.businessId,
      direction: 'in',
      kind: m.kind,
      numberId: m.numberId,
      e164: m.from,
      contactNumberId: m.contactNumberId,
      text: m.text,
      state: 'received',
      createdAt: m.at,
      finalAt: m.at,
      day: dayNumber(m.at, (await this.businesses.row(w, m.businessId)).time_zone),
    });
    return true;
  }

  /** Whether this text was queued or filed already. */
  has(r: Reader, id: string): Promise<boolean> {
    return isQueued(r, id);
  }

  /** The last texts to and from a person, the oldest of them first. */
  async conversation(r: Reader, businessId: string, e164: string, limit: number): Promise<MessageView[]> {
    const name = (await this.contacts.names(r, businessId, [e164])).get(e164)?.name ?? '';
    return (await lastTexts(r, businessId, e164, limit)).map((m) => showMessage(m, name));
  }

  /** One text, as it is shown. */
  async shown(r: Reader, businessId: string, id: string): Promise<MessageView | undefined> {
    const m = await textById(r, businessId, id);
    return m && showMessage(m, (await this.contacts.names(r, businessId, [m.e164])).get(m.e164)?.name ?? '');
  }

  /** When a text from a number was last delivered, since a moment; null where none was. */
  deliveredSince(r: Reader, businessId: string, numberId: string, since: number): Promise<number | null> {
    return lastDelivered(r, businessId, numberId, since);
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

  /** The business's lists by name, with the purposes they have been dispatched to for. */
  async lists(r: Reader, businessId: string): Promise<NamedList[]> {
    const dispatched = await listsDispatched(r, businessId);
    if (dispatched.length === 0) return [];
    return (await this.contactLists.all(r, businessId)).flatMap(({ id, name }) => {
      const purposes = dispatched.filter((d) => d.list === id).map((d) => d.purpose);
      return purposes.length > 0 ? [{ name, purposes }] : [];
    });
  }

  /** Takes back, at once, whatever has not left for this number; a dispatch under way goes on without it. */
  async withdraw(w: Writer, businessId: string, e164: string, purposes: readonly Purpose[]): Promise<number> {
    const rows = await withdrawable(w, businessId, e164, purposes);
    await setVerdicts(
      w,
      rows.map(({ id, state }) => [
        id,
        textAfter(state, { kind: 'withdrawn' }),
        { post: REASONS['opted-out'].post, reason: 'opted-out', until: null },
      ]),
      this.p.clock.now(),
    );
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
    const dispatches = new Set(rows.flatMap((m) => m.dispatch_id ?? []));
    const people = new Set(rows.flatMap((m) => (m.dispatch_id ? [] : [m.e164])));
    w.afterCommit(() => {
      for (const id of dispatches) this.p.live.tell({ businessId, topic: 'dispatch', id });
      for (const id of people) this.p.live.tell({ businessId, topic: 'inbox', id });
      this.p.live.tell({ businessId, topic: 'watch' });
    });
  }
}

/** What is judged by at a moment. @param openCountries comma-joined. */
export const rulesOf = (
  at: number,
  openCountries: string,
  transactionalAnyHour: boolean,
  hours: HoursRules = DEFAULT_HOURS,
): GateRules => ({
  at,
  hours,
  openCountries: openCountries.split(','),
  transactionalAnyHour,
  segmentPrice: DEFAULT_PRICES.segment,
});

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
  suppression: 'none',
  related: false,
  wishInReview: false,
  consent: { conversational: 'none', informational: 'none', promotional: 'none' },
  reassignment: 'clear',
  conversationUntil: null,
  carrierKind: 'A',
  promotionalCapUntil: null,
  firstText: true,
  stopLineDue: false,
  fieldEmpty: false,
};

export const NOBODY: { row: number | null; subject: Subject } = { row: null, subject: UNKNOWN };

/** Words for a verdict kept with a message. */
export function whyOf(reason: string | null): { why: string; lift: string } {
  const known = reason && reason in REASONS ? REASONS[reason as keyof typeof REASONS] : null;
  return { why: known?.why ?? '', lift: known?.lift ?? '' };
}
