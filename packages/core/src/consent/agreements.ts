import type { ConsentEvent, ConsentEventKind, ConsentRoute } from './events.js';
import { advance, inOrder, NOTHING_SAID, type PurposeState } from './fold.js';

/** The purposes by which ways in are compared: nobody is asked to agree to being answered. */
export const COMPARED_PURPOSES = ['informational', 'promotional'] as const;
export type ComparedPurpose = (typeof COMPARED_PURPOSES)[number];

/** Who leaves sooner after it counted left within the first month. */
export const FIRST_MONTH_MS = 30 * 86_400_000;
const YEAR_MS = 365 * 86_400_000;

/** One time that a person was asked for one purpose or agreed to it, and what became of it. */
export interface Agreement {
  /** The event that began it. */
  eventId: string;
  purpose: ComparedPurpose;
  way: ConsentRoute;
  /** Which page, programme, form or list it came by; empty where the way is all there is to say. */
  via: string;
  at: number;
  /** Since when it counts: at once, or with the YES; null where that never came. */
  since: number | null;
  /** What ended it; null while it holds, or while its YES may come. */
  ended: { at: number; kind: ConsentEventKind } | null;
}

/** How long somebody who refused had been in. */
export const STAYED = ['never in', 'a month', 'a year', 'longer'] as const;

/** One time that a person said no to one purpose they had not refused yet. */
export interface Refusal {
  eventId: string;
  purpose: ComparedPurpose;
  kind: 'revoked' | 'declined';
  how: ConsentRoute;
  at: number;
  /** The way by which they had come; empty for who never was asked. */
  came: ConsentRoute | '';
  stayed: (typeof STAYED)[number];
}

type Told = Pick<ConsentEvent, 'id' | 'kind' | 'purposes' | 'awaitsConfirmation' | 'happenedAt' | 'how' | 'evidence'>;

/** Where an event says what it came by; other ways say all there is to say. */
const VIA: Partial<Record<ConsentRoute, string>> = {
  'web page': 'page',
  // A letter leads to it, and whose words it showed is kept.
  'preference page': 'words',
  keyword: 'programme',
  'paper form': 'form',
  'imported record': 'intake',
};
/** The page, the programme of keywords, the form or the list that a grant came by; empty where there is none. */
export function viaOf({ how, evidence }: Pick<ConsentEvent, 'how' | 'evidence'>): string {
  const where = VIA[how];
  return (where && evidence[where]) ?? '';
}

/**
 * Every time that the owner of one number was asked, agreed and refused, by all events of that number: what ways in are
 * compared by. Agreeing again to what holds is no new agreement; a claim is none at all. Does not depend on the order of
 * arrival.
 */
export function agreementsOf(events: readonly Told[]): { agreements: Agreement[]; refusals: Refusal[] } {
  const agreements: Agreement[] = [];
  const refusals: Refusal[] = [];
  const sorted = inOrder(events);
  for (const purpose of COMPARED_PURPOSES) {
    let stands: PurposeState = NOTHING_SAID;
    let last: Agreement | null = null;
    for (const e of sorted) {
      if (!e.purposes.includes(purpose)) continue;
      const before = stands.state;
      stands = advance(stands, e);
      const isIn = stands.state === 'granted';
      if (e.kind === 'granted' && before !== 'granted') {
        last = {
          eventId: e.id,
          purpose,
          way: e.how,
          via: viaOf(e),
          at: e.happenedAt,
          since: isIn ? e.happenedAt : null,
          ended: null,
        };
        agreements.push(last);
      } else if (e.kind === 'confirmed' && isIn && before !== 'granted' && last) last.since = e.happenedAt;
      const no =
        (e.kind === 'revoked' && before !== 'revoked') || (e.kind === 'declined' && stands.state === 'declined');
      if (no)
        refusals.push({
          eventId: e.id,
          purpose,
          kind: e.kind === 'declined' ? 'declined' : 'revoked',
          how: e.how,
          at: e.happenedAt,
          came: last && last.ended === null ? last.way : '',
          stayed: stayedOf(last, before === 'granted', e.happenedAt),
        });
      if (last && last.ended === null && (no || (before === 'granted' && !isIn)))
        last.ended = { at: e.happenedAt, kind: e.kind };
    }
  }
  return { agreements, refusals };
}

function stayedOf(last: Agreement | null, wasIn: boolean, at: number): Refusal['stayed'] {
  if (!wasIn || !last || last.since === null) return 'never in';
  const stayed = at - last.since;
  return stayed < FIRST_MONTH_MS ? 'a month' : stayed < YEAR_MS ? 'a year' : 'longer';
}

/** What became of an agreement, as it is counted; `soon` and `later` are who left by their own word. */
export type Became = 'unconfirmed' | 'holds' | 'soon' | 'later' | 'ended';
export function becameOf(a: Agreement): Became {
  if (a.since === null) return 'unconfirmed';
  if (a.ended === null) return 'holds';
  if (a.ended.kind !== 'revoked') return 'ended';
  return a.ended.at - a.since < FIRST_MONTH_MS ? 'soon' : 'later';
}
