import {
  ANSWER_WITHIN_MS,
  composeText,
  DEFAULT_HOURS,
  fieldsUsed,
  lastPacificMidnight,
  ruleData,
  showsStop,
  type Allowance,
  type GateRules,
  type HoursRules,
  type MessageFacts,
  type TextKind,
} from '@long-gate/core';
import type { Reader } from '../../platform/db.js';
import { rulesAt, type Stood } from '../../platform/stood-store.js';
import { numbersBesideAt, senderTo, STOP_LINE_MS, type SubjectRow } from '../contacts/index.js';
import type { Numbers, Sender } from '../numbers/index.js';
import { bookedSince, chargesAcross, type Businesses } from '../settings/index.js';
import { draftOf, type DispatchDraft, type Drafts } from './drafts.js';
import type { GatePreview } from './gate-preview.js';
import { LASTS_MS } from './message-store.js';
import { OfferCaps } from './offer-caps.js';
import * as store from './texts-at-store.js';
import { rulesOf, whyOf, type Texts } from './texts.js';

/** A text that is asked about: one that was written to somebody, or other words. */
export interface AskedText {
  /** Null for other words. */
  id: string | null;
  kind: TextKind;
  /** What is put into its envelope (name line, stop line) for each; for a text that was sent, as it left. */
  words: string;
  written: Pick<DispatchDraft, 'text' | 'purpose' | 'transactional' | 'stopLine' | 'override'>;
  /** Whether its words are as they left, and not put together any more. */
  asLeft: boolean;
  numberId: string | null;
  /** The wall time chosen for it where each recipient is. */
  ownTime: string | null;
  dispatch: { id: string; title: string } | null;
  /** What the gate said when it was judged last; null where it is not judged yet. */
  kept: Kept | null;
}
export interface Kept {
  at: number;
  /** Whether it left then. */
  left: boolean;
  post: number | null;
  reason: string | null;
  why: string;
}

/** What the gate reads of texts, of our number and of the allowance, as it was at a moment. */
export class TextsAt {
  constructor(
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly texts: Texts,
    private readonly drafts: Drafts,
    private readonly preview: GatePreview,
  ) {}

  /** One of the texts to somebody, with what was said of it; undefined where there is none such. */
  async textOf(r: Reader, businessId: string, e164: string, id: string): Promise<AskedText | undefined> {
    const m = await store.textThen(r, businessId, id);
    if (m?.e164 !== e164) return undefined;
    const row = m.dispatch_id === null ? null : await this.drafts.row(r, businessId, m.dispatch_id);
    const d = row && draftOf(row);
    return {
      id,
      kind: m.kind as TextKind,
      words: m.text,
      written: {
        text: d?.text ?? m.text,
        purpose: m.purpose as DispatchDraft['purpose'],
        transactional: d?.transactional ?? false,
        stopLine: d?.stopLine ?? false,
        override: d?.override ?? '',
      },
      asLeft: m.text !== '',
      numberId: m.number_id,
      ownTime: m.text === '' ? (row?.ownTime ?? null) : null,
      dispatch: row && { id: row.id, title: row.title },
      kept: keptOf(m),
    };
  }

  sender(r: Reader, businessId: string, numberId: string | null, then: Stood): Promise<Sender> {
    return this.numbers.senderAt(r, businessId, numberId, then);
  }

  /** What the posts read of a text, and its words as this person would get them. */
  async facts(
    r: Reader,
    businessId: string,
    t: AskedText,
    sender: Sender,
    nameLine: string,
    person: { firstName: string; lastName: string },
  ): Promise<{ facts: MessageFacts; words: string; emptyField: boolean }> {
    const { text, purpose, transactional, override, stopLine } = t.written;
    const said = { kind: t.kind, purpose: purpose ?? 'informational', transactional, overridden: override !== '' };
    if (t.asLeft || t.kind !== 'dispatch')
      return {
        facts: this.texts.facts(sender, nameLine, { ...said, text: t.asLeft ? t.words : text }),
        words: t.asLeft ? t.words : text,
        emptyField: false,
      };
    const values = { firstName: person.firstName, lastName: person.lastName };
    const names = await this.preview.names(r, businessId, nameLine, t.written);
    const { facts } = this.preview.saidBy(sender, names, t.written, values);
    return {
      facts: { ...facts, notBefore: t.ownTime },
      words: composeText(text, { ...names, stopLine, signature: sender.signature }, values),
      emptyField: fieldsUsed(text).some((f) => !f.fallback && values[f.name] === ''),
    };
  }

  /**
   * What of the conversation with a contact number the gate reads.
   * @param textId the text that is asked about, which does not count itself; null for other words.
   * @param at milliseconds.
   */
  async heard(
    r: Reader,
    businessId: string,
    person: { id: number; e164: string },
    numberId: string,
    textId: string | null,
    at: number,
  ): Promise<Required<Pick<SubjectRow, 'conversation_until' | 'cap_until' | 'first_text' | 'stop_line_due'>>> {
    const heard = await store.lastHeard(r, businessId, person.e164, at);
    const offers = new OfferCaps(
      async (of, business) => new Map([[person.e164, await numbersBesideAt(of, business, person.e164, at)]]),
    );
    const them = { business_id: businessId, e164: person.e164 };
    await offers.read(r, [them], at, textId ?? '');
    const until = offers.until(them);
    const written = await senderTo(r, person.id, numberId);
    const first = written === undefined || written.firstAt > at;
    return {
      conversation_until: heard === null ? null : heard + ANSWER_WITHIN_MS,
      cap_until: until !== null && until > at ? until : null,
      first_text: first,
      stop_line_due: !first && !(await this.showedStop(r, businessId, person.e164, numberId, written.stopLineAt, at)),
    };
  }

  /** Whether the way out was shown in the 30 days before. @param last when it was shown last up to today. */
  private async showedStop(
    r: Reader,
    businessId: string,
    e164: string,
    numberId: string,
    last: number | null,
    at: number,
  ): Promise<boolean> {
    if (last === null) return false;
    if (last <= at) return last >= at - STOP_LINE_MS;
    const texts = await store.wordsBetween(r, businessId, e164, numberId, at - STOP_LINE_MS, at, LASTS_MS);
    return texts.some(showsStop);
  }

  /**
   * The rules as they stood. The hours are read from what was kept; all else the rules read is the program's own, and
   * `changed` names what of it was other then.
   */
  async rules(
    r: Reader,
    businessId: string,
    then: Stood,
  ): Promise<{ rules: GateRules; changed: string[]; hoursKept: boolean }> {
    const { value, changedSince } = await rulesAt(r, 'hours', then.at);
    const of = (fact: string): string => then.value('business', businessId, fact) ?? '';
    return {
      rules: rulesOf(then.at, of('open_countries'), of('transactional_any_hour') === '1', hoursOf(value)),
      changed: changedSince,
      hoursKept: value !== undefined,
    };
  }

  /** What was left to spend. Of what was paid back later it is not known any more that it had been charged. */
  async allowance(r: Reader, businessId: string, sender: Sender, at: number): Promise<Allowance> {
    const numbers = await this.numbers.ids(r, businessId);
    const { balance } = await this.businesses.row(r, businessId);
    let later = 0;
    for (const { dispatchId, until } of await chargesAcross(r, businessId, at))
      later += await store.costBetween(r, businessId, numbers, dispatchId, at, until + 1);
    const used = await store.cappedBetween(r, businessId, numbers, lastPacificMidnight(at), at);
    return {
      balance: balance - (await bookedSince(r, businessId, at)) + later,
      dailySegments: sender.throughput.brandPerDay - used,
    };
  }
}

/** Hours as they were kept, where they are other than the program's. */
function hoursOf(kept: string | undefined): HoursRules {
  if (kept === undefined || kept === ruleData()['hours']) return DEFAULT_HOURS;
  return (JSON.parse(kept) as { DEFAULT_HOURS: HoursRules }).DEFAULT_HOURS;
}

function keptOf(m: store.TextThen): Kept | null {
  if (m.sent_at !== null) return { at: m.sent_at, left: true, post: null, reason: null, why: '' };
  if (m.judged_at === null || m.reason === null) return null;
  return { at: m.judged_at, left: false, post: m.post, reason: m.reason, why: whyOf(m.reason).why };
}
