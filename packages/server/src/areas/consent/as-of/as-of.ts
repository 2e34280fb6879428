import type { AsOfAnswer, AskedThen, AsOfQuestion, JudgedThen, StoodThen } from '@long-gate/contracts';
import {
  foldConsent,
  judge,
  parsePhone,
  PHONE_REFUSALS,
  PURPOSES,
  REASONS,
  type Allowance,
  type ConsentStates,
  type GateRules,
  type LedgerEvent,
  type MessageFacts,
  type Purpose,
  type Subject,
  type Verdict,
} from '@long-gate/core';
import type { Platform } from '../../../platform/platform.js';
import { notFound, refused } from '../../../platform/problem.js';
import { Stood } from '../../../platform/stood-store.js';
import {
  numberAt,
  numbersKeptSince,
  REFUSED,
  subjectOf,
  type Contacts,
  type NumberThen,
} from '../../contacts/index.js';
import { lastTextsTo, NOBODY, whyOf, type AskedText, type TextsAt } from '../../dispatch/index.js';
import type { Businesses } from '../../settings/index.js';
import type { Ledger } from '../ledger/ledger.js';
import type { Relationships } from '../relationships/relationships.js';

/** So many of the texts to a person can be chosen from. */
const TEXTS_SHOWN = 100;

/** Everything that is read of a person and a text at one moment. */
interface Then {
  at: number;
  number: NumberThen | undefined;
  states: ConsentStates;
  /** Until when a purchase or an inquiry of theirs excepted them from registries. */
  relatedUntil: number | null;
  subject: Subject;
  facts: MessageFacts;
  words: string;
  from: string;
  campaign: string;
  rules: GateRules;
  allowance: Allowance;
  changed: string[];
  hoursKept: boolean;
}

/** Whether a text would have passed at a moment: asked of the gate itself, of what was recorded up to then. */
export class AsOf {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
    private readonly relationships: Relationships,
    private readonly texts: TextsAt,
  ) {}

  /** @throws Problem 404 for a text that was not to them, 422 for no number, a moment to come or before there was a business */
  async ask(businessId: string, q: AsOfQuestion): Promise<AsOfAnswer> {
    const r = this.p.db;
    const b = await this.businesses.row(r, businessId);
    const phone = parsePhone(q.e164, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    if (!phone.ok)
      throw refused(PHONE_REFUSALS[phone.reason], [{ field: 'e164', message: PHONE_REFUSALS[phone.reason] }]);
    const { e164 } = phone;
    const named = (await this.contacts.names(r, businessId, [e164])).get(e164);
    const asked = await this.textOf(businessId, e164, q);
    return {
      e164,
      name: named?.name ?? '',
      contactId: named?.contactId ?? null,
      zone: b.time_zone,
      texts: (await lastTextsTo(r, businessId, e164, TEXTS_SHOWN)).map((m) => ({
        id: m.id,
        at: m.sent_at ?? m.judged_at ?? m.created_at,
        kind: m.kind,
        purpose: m.purpose,
        words: m.text || (m.written ?? ''),
        state: m.state,
        why: whyOf(m.reason).why,
      })),
      asked: asked && (await this.answer(businessId, e164, asked, this.moment(q, asked, b.created_at))),
    };
  }

  private async textOf(businessId: string, e164: string, q: AsOfQuestion): Promise<AskedText | null> {
    if (q.text !== undefined) {
      const text = await this.texts.textOf(this.p.db, businessId, e164, q.text);
      if (!text) throw notFound('text to this number');
      return text;
    }
    if (q.words === undefined || q.words.trim() === '') return null;
    return {
      id: null,
      kind: q.kind ?? 'dispatch',
      words: q.words,
      written: {
        text: q.words,
        purpose: q.kind === 'answer' ? 'conversational' : (q.purpose ?? 'informational'),
        transactional: q.transactional === 'yes',
        stopLine: q.stopLine !== 'no',
        override: '',
      },
      asLeft: false,
      numberId: q.numberId ?? null,
      ownTime: null,
      dispatch: null,
      kept: null,
    };
  }

  private moment(q: AsOfQuestion, t: AskedText, since: number): number {
    const now = this.p.clock.now();
    const at = q.at === undefined ? (t.kept?.at ?? now) : Number(q.at);
    const say = (message: string) => refused(message, [{ field: 'at', message }]);
    if (at > now) throw say('That moment is still to come. The preview of a dispatch says what would pass then.');
    if (at < since) throw say('There was no account of this business then. Choose a later moment.');
    return at;
  }

  private async answer(businessId: string, e164: string, t: AskedText, at: number): Promise<AskedThen> {
    const events = await this.ledger.eventsOf(this.p.db, businessId, e164);
    const known = events.filter((e) => e.recordedAt <= at);
    const then = await this.thenOf(businessId, e164, t, known, at);
    const now = await this.thenOf(businessId, e164, t, events, this.p.clock.now());
    const after = events.filter((e) => e.recordedAt > at && e.happenedAt <= at);
    const later = after.length === 0 ? null : await this.thenOf(businessId, e164, t, [...known, ...after], at);
    return {
      text: {
        id: t.id,
        kind: t.kind,
        purpose: t.written.purpose ?? 'informational',
        words: then.words,
        numberId: t.numberId ?? '',
        from: then.from,
        dispatch: t.dispatch,
      },
      kept: t.kept,
      then: judged(then),
      now: judged(now),
      later: later && {
        events: after.map(({ id, kind, how, purposes, happenedAt, recordedAt }) => ({
          id,
          kind,
          how,
          purposes: [...purposes],
          happenedAt,
          recordedAt,
        })),
        verdict: verdictOf(ask(later)),
      },
      rulesChanged: then.changed,
      unknown: unknownOf(then, t, await numbersKeptSince(this.p.db)),
    };
  }

  /** Everything the posts read, as it stood at a moment. @param events what the ledger knew of the number then. */
  private async thenOf(
    businessId: string,
    e164: string,
    t: AskedText,
    events: readonly LedgerEvent[],
    at: number,
  ): Promise<Then> {
    const r = this.p.db;
    const stood = await Stood.read(r, businessId, at);
    const sender = await this.texts.sender(r, businessId, t.numberId, stood);
    const kept = await numberAt(r, businessId, e164, at);
    // Whom nobody here knew was nobody to the gate.
    const number = kept && kept.contactSince <= at ? kept : undefined;
    const states = foldConsent(events, at);
    const relatedUntil = await this.relationships.untilAsOf(r, businessId, e164, events, at);
    const { facts, words, emptyField } = await this.texts.facts(
      r,
      businessId,
      t,
      sender,
      stood.value('business', businessId, 'name_line') ?? '',
      { firstName: number?.firstName ?? '', lastName: number?.lastName ?? '' },
    );
    const subject = number
      ? subjectOf({
          ...number.facts,
          related: number.facts.suppression === 'solicitations' && relatedUntil !== null,
          consent_conversational: states.conversational.state,
          consent_informational: states.informational.state,
          consent_promotional: states.promotional.state,
          field_empty: emptyField,
          ...(await this.texts.heard(r, businessId, { id: number.id, e164 }, t.numberId ?? '', t.id, at)),
        })
      : NOBODY.subject;
    return {
      at,
      number,
      states,
      relatedUntil,
      subject,
      facts,
      words,
      from: sender.e164,
      campaign: sender.campaignName,
      allowance: await this.texts.allowance(r, businessId, sender, at),
      ...(await this.texts.rules(r, businessId, stood)),
    };
  }
}

const ask = (x: Then): Verdict => judge(x.subject, x.facts, x.rules, x.allowance);

function verdictOf({ result, post, reason, until }: Verdict) {
  const { why, lift } = reason === null ? { why: '', lift: '' } : REASONS[reason];
  return { result, post, reason, why, lift, until };
}

function judged(x: Then): JudgedThen {
  const verdict = ask(x);
  return { at: x.at, ...verdictOf(verdict), answers: verdict.answers, stood: stoodOf(x) };
}

function stoodOf({ number, states, relatedUntil, subject, facts, allowance, campaign }: Then): StoodThen {
  const said = (p: Purpose) => ({ state: states[p].state, since: states[p].since, eventId: states[p].eventId });
  const elsewhere = number?.facts.refused_elsewhere ?? 0;
  return {
    contact: number !== undefined,
    lineType: number?.lineType ?? 'unknown',
    carrier: number?.carrier ?? '',
    lookedUpAt: number?.lookedUpAt ?? null,
    textable: subject.textable,
    reachable: subject.reachable,
    trouble: subject.trouble,
    suppression: subject.suppression,
    relatedUntil,
    wishInReview: subject.wishInReview,
    reassignment: subject.reassignment,
    consent: {
      conversational: said('conversational'),
      informational: said('informational'),
      promotional: said('promotional'),
    },
    refusedElsewhere: PURPOSES.filter((p) => p !== 'conversational' && (elsewhere & REFUSED[p]) !== 0),
    answerableUntil: subject.conversationUntil,
    solicitedUntil: subject.promotionalCapUntil,
    firstText: subject.firstText,
    stopLineDue: subject.stopLineDue,
    country: subject.country,
    zones: listed(subject.zones),
    states: listed(subject.states),
    accountState: facts.accountState,
    textsOff: facts.textsOff,
    clearance: facts.clearance,
    campaign,
    balance: allowance.balance,
    dailySegments: allowance.dailySegments,
  };
}

const listed = (names: string): string[] => (names === '' ? [] : names.split(','));

/** What of that moment is not on record, in sentences. @param since when contact numbers began to keep their history. */
function unknownOf(x: Then, t: AskedText, since: number): string[] {
  const out: string[] = [];
  if (!x.number)
    out.push(
      'The number was no contact’s here at that moment (or the contact was erased since): it is judged as unknown.',
    );
  else if (x.at < since)
    out.push('How their line and lists stood then is not on record: what stood when the record began is taken.');
  else if ((x.number.lookedUpAt ?? 0) > x.at)
    out.push('What was known of the line before its first lookup on record is not known: that lookup is taken.');
  if (!x.hoursKept) out.push('Which hours the program kept then is not on record: those of today are taken.');
  if (!t.asLeft && t.kind === 'dispatch' && t.written.text.includes('['))
    out.push('The names that fill its fields are those of today.');
  return out;
}
