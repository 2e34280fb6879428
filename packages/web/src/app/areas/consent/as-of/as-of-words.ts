import type { JudgedThen, StoodThen } from '@long-gate/contracts';
import { formatCents, postLabel } from '@long-gate/core';
import { counted, momentIn } from '../../../parts/format';

/** One thing the gate read, as it stood then and as it stands now. */
export interface StoodRow {
  what: string;
  then: string;
  now: string;
  /** The event of the ledger that decided it then. */
  eventId: string | null;
}

/** Why our number may send or may not, as a gate post names it. */
const CLEARANCE: Record<string, string> = {
  cleared: 'cleared to send',
  'no-number': 'none chosen',
  'number-not-active': 'not active',
  'number-ended': 'not ours any more',
  'number-not-tied': 'in no campaign',
  'number-not-verified': 'not verified',
  'registration-suspended': 'campaign suspended',
  'registration-expired': 'campaign run out',
  'registration-pending': 'waiting for its registration',
  'registration-declined': 'registration declined',
};

/** What the gate read, one thing a row; what is other now than then stands first. */
export function stoodRows(then: StoodThen, now: StoodThen, zone: string): StoodRow[] {
  const at = (ms: number | null): string => (ms === null ? '' : momentIn(ms, zone));
  const read: [string, (s: StoodThen) => string, string | null][] = [
    ['A contact of yours', (s) => (s.contact ? 'yes' : 'no'), null],
    [
      'Line',
      (s) =>
        [s.lineType, s.carrier, s.lookedUpAt === null ? 'never looked up' : `asked ${at(s.lookedUpAt)}`]
          .filter((x) => x !== '')
          .join(', '),
      null,
    ],
    ['Texts reach it', (s) => (s.textable === 'unknown' ? 'not known' : s.textable), null],
    [
      'Trouble',
      (s) =>
        s.trouble === 'none' ? (s.reachable ? 'none' : 'not reachable when asked') : s.trouble.replaceAll('-', ' '),
      null,
    ],
    ...(['informational', 'promotional'] as const).map((p): [string, (s: StoodThen) => string, string | null] => [
      p === 'promotional' ? 'Consent, offers' : 'Consent, notices',
      (s) => {
        const { state, since } = s.consent[p];
        return `${state}${since === null ? '' : ` since ${at(since)}`}${s.refusedElsewhere.includes(p) ? ', refused on another number of theirs' : ''}`;
      },
      then.consent[p].eventId,
    ]),
    [
      'Do-not-call lists',
      (s) =>
        s.suppression === 'solicitations' && s.relatedUntil !== null
          ? `excepted until ${momentIn(s.relatedUntil, zone, 'day')}`
          : ({ none: 'on none', solicitations: 'no offers', all: 'nothing' }[s.suppression] ?? s.suppression),
      null,
    ],
    ['A reply in doubt', (s) => (s.wishInReview ? 'waits to be read' : 'none'), null],
    [
      'Changed hands',
      (s) =>
        ({ clear: 'not known to have', due: 'to be asked first', 'no data': 'no data' })[s.reassignment] ??
        s.reassignment,
      null,
    ],
    ['May be answered until', (s) => at(s.answerableUntil) || 'they had not written', null],
    ['Three offers in a day', (s) => (s.solicitedUntil === null ? 'no' : `until ${at(s.solicitedUntil)}`), null],
    [
      'First text from this number',
      (s) => (s.firstText ? 'yes' : s.stopLineDue ? 'no; the way out is due again' : 'no'),
      null,
    ],
    [
      'Where they are',
      (s) =>
        [s.states.join(' or ') || s.country, s.zones.join(' or ')].filter((x) => x !== '').join(', ') || 'not known',
      null,
    ],
    ['Account', (s) => `${s.accountState}${s.textsOff ? ', all texts switched off' : ''}`, null],
    ['Our number', (s) => `${CLEARANCE[s.clearance] ?? s.clearance}${s.campaign ? `, ${s.campaign}` : ''}`, null],
    ['Balance', (s) => formatCents(s.balance), null],
    ['Left of the brand’s day', (s) => counted(s.dailySegments, 'segment'), null],
  ];
  const rows = read.map(([what, say, eventId]) => ({ what, then: say(then), now: say(now), eventId }));
  const changed = (x: StoodRow): number => (x.then === x.now ? 1 : 0);
  return rows.sort((a, b) => changed(a) - changed(b));
}

/** A verdict in a sentence that follows “it”. @param tense of its verbs. */
export function verdictWords(
  v: Pick<JudgedThen, 'result' | 'post' | 'why' | 'until'>,
  zone: string,
  tense: 'would have' | 'would',
): string {
  const been = tense === 'would' ? 'would be' : 'would have been';
  if (v.result === 'pass') return tense === 'would' ? 'would pass' : 'would have passed';
  const done = v.result === 'hold' ? 'held' : 'stopped';
  const where = v.post === null ? '' : ` at ${postLabel(v.post)}`;
  const until = v.until === null ? '' : `, until ${momentIn(v.until, zone)}`;
  return `${been} ${done}${where}: ${v.why}${until}`;
}
