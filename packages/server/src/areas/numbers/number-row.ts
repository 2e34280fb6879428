import { ProgrammeShape, type GuardView, type NumberView } from '@long-gate/contracts';
import {
  postNo,
  DEFAULT_HOURS,
  judge,
  NO_TEXT,
  REASONS,
  throughputOf,
  type Clearance,
  type MessageFacts,
  type Subject,
  type Throughput,
} from '@long-gate/core';
import type { Flag } from '../../platform/db.js';
import { fromJson } from '../../platform/table.js';
import { Capabilities, type Ended } from './model.js';
import type { Standing, StandingCampaign, StandingVerification } from '../registration/index.js';
import { UNPAID_HOLD_MS } from '../settings/index.js';

/** Whether a number may be ported away, and who asked that it may. */
export interface LockRow {
  lock_state: GuardView['lock'];
  unlock_asked_by: string;
  unlock_asked_at: number | null;
  unlocked_until: number | null;
  /** Hash of the secret in the mail to the status address; empty where none is asked for. */
  unlock_mail_hash: string;
  unlock_answered_at: number | null;
  release_pin: string;
}

export interface NumberRow extends LockRow {
  id: string;
  business_id: string;
  e164: string;
  label: string;
  description: string;
  kind: string;
  capabilities: string;
  source: string;
  state: NumberView['state'];
  note: string;
  setup: number;
  monthly: number;
  signature: string;
  /** How calls to it are handled; empty where nothing was said. */
  calls: string;
  /** Where a sender ID may be used, comma-joined. */
  countries: string;
  campaign_id: string | null;
  tie_state: NumberView['tieState'];
  ordered_at: number;
  active_at: number | null;
  next_fee_at: number | null;
  unpaid_since: number | null;
  order_id: string;
  last_used_at: number | null;
  released_at: number | null;
  ended: Ended;
  /** Whose order it came with: a user's id; empty where nobody ordered it here. */
  ordered_by: string;
  /** What its public card calls it; the name line alone where empty. */
  card_name: string;
  card_picture: string | null;
  /** JSON of the programme a short code was leased for. */
  programme: string | null;
  /** What it was before a release that can still be taken back. */
  before_release: string | null;
  /** Purposes it is the default for, comma-joined. */
  default_for: string | null;
  version: number;
}

/** A number with how its business stands with provider and registrar, which decides whether it may send. */
export interface StandingNumber extends NumberRow {
  campaign: StandingCampaign | null;
  /** What it is verified for, where it is toll-free and was asked for. */
  verification: StandingVerification | null;
  brand: Standing['brand'];
  account_state: string;
  texts_off: Flag;
  ordered_by_name: string;
}

/** A release can be taken back so long. */
export const TAKE_BACK_MS = 7 * 86_400_000;

/** A number as the inventory shows it, judged by itself at a moment. */
export function showNumber(row: StandingNumber, at: number): NumberView {
  const clearance = clearanceOf(row);
  const verdict = judge(
    NOBODY,
    { ...NO_TEXT, accountState: gateAccount(row.account_state), textsOff: Boolean(row.texts_off), clearance },
    { ...NUMBER_RULES, at: at },
    { balance: 1, dailySegments: 1 },
  );
  const reason = verdict.post === postNo('number-cleared') && verdict.reason ? REASONS[verdict.reason] : null;
  return {
    id: row.id,
    e164: row.e164,
    label: row.label,
    description: row.description,
    kind: row.kind,
    capabilities: fromJson(Capabilities, row.capabilities),
    source: row.source,
    state: row.state,
    note: row.note,
    monthly: row.monthly,
    orderId: row.order_id,
    throughput: row.state === 'active' && clearance === 'cleared' ? throughputWords(row) : '',
    lastUsedAt: row.last_used_at,
    releaseFinalAt:
      row.state === 'released' && row.before_release && row.released_at !== null
        ? row.released_at + TAKE_BACK_MS
        : null,
    defaultFor: (row.default_for ?? '').split(',').filter((p) => p !== '') as NumberView['defaultFor'],
    ended: hasEnded(row) ? row.ended || 'released' : '',
    endedAt: row.released_at,
    lostAt: row.state === 'paused' && row.unpaid_since !== null ? row.unpaid_since + UNPAID_HOLD_MS : null,
    orderedBy: row.ordered_by === '' ? null : { id: row.ordered_by, name: row.ordered_by_name },
    cardName: row.card_name,
    cardPicture: row.card_picture !== null,
    programme: row.programme === null ? null : fromJson(ProgrammeShape, row.programme),
    campaignId: row.campaign_id,
    campaignName: row.campaign?.name ?? null,
    campaignState: row.campaign?.state ?? null,
    tieState: row.tie_state,
    clearance,
    orderedAt: row.ordered_at,
    activeAt: row.active_at,
    version: row.version,
    // A number by itself has no recipient: only the country and its own clearance are asked.
    answers: verdict.answers.map((a) =>
      ABOUT_SENDER.includes(a.post) ? a : { post: a.post, result: 'not asked' as const },
    ),
    deciding: reason ? { result: verdict.result, why: reason.why, lift: reason.lift } : null,
    nextStep: nextStep(row, clearance),
  };
}

const ABOUT_SENDER = (['country', 'number-cleared'] as const).map(postNo);
const NOBODY: Subject = {
  wellFormed: true,
  country: 'US',
  zones: '',
  states: '',
  lookedUp: true,
  textable: 'yes',
  reachable: true,
  trouble: 'none',
  faultsInReview: false,
  suppression: 'none',
  related: false,
  wishInReview: false,
  consent: { conversational: 'granted', informational: 'granted', promotional: 'granted' },
  reassignment: 'clear',
  conversationUntil: null,
  carrierKind: 'A',
  promotionalCapUntil: null,
  firstText: false,
  stopLineDue: false,
  fieldEmpty: false,
};
const NUMBER_RULES = { hours: DEFAULT_HOURS, openCountries: ['US'], transactionalAnyHour: true, segmentPrice: 0 };

/** No longer ours for good: not one whose release can still be taken back. */
function hasEnded(row: Pick<NumberRow, 'state' | 'before_release'>): boolean {
  return row.state === 'released' && row.before_release === null;
}

/** What can be done about a number that is no longer ours, by how it ended. */
function afterTheEnd(row: StandingNumber): NumberView['nextStep'] {
  switch (row.ended) {
    case 'ported away':
      return {
        title: 'It left, for good.',
        why: `It was ${row.note}. It is no longer yours: a port-in brings it back, if its new carrier lets it go.`,
        action: 'bring',
      };
    case 'gone back':
      return {
        title: 'It went back to the old carrier.',
        why: 'The port was reversed. A new port-in brings it here again.',
        action: 'bring',
      };
    case 'unpaid':
      return {
        title: 'It was lost: its fee was unpaid for 14 days.',
        why: 'It went back to the exchange. If nobody has taken it, it can be bought there again.',
        action: 'buy',
      };
    case 'texting off':
      return {
        title: 'Texting was taken off.',
        why: 'Its voice is where it always was. Texting can be set up again.',
        action: 'host',
      };
    case 'given up':
      return { title: 'It was given up.', why: row.note, action: 'none' };
    default:
      return {
        title: 'It was released, for good.',
        why: `${row.note} It went back to the exchange. If nobody has taken it, it can be bought there again.`,
        action: row.kind === 'short code' ? 'none' : 'buy',
      };
  }
}

export function gateAccount(state: string): MessageFacts['accountState'] {
  return state === 'in review' ? 'provisional' : (state as MessageFacts['accountState']);
}

/** What a verification gives a toll-free number. */
const VERIFIED: Readonly<Record<string, Clearance>> = {
  registered: 'cleared',
  'in review': 'registration-pending',
  declined: 'registration-declined',
};

export function clearanceOf(
  row: Pick<NumberRow, 'state' | 'kind' | 'campaign_id' | 'tie_state' | 'before_release'> & {
    campaign: { state: string } | null;
    verification: { state: string } | null;
  },
): Clearance {
  if (hasEnded(row)) return 'number-ended';
  if (row.state !== 'active') return 'number-not-active';
  // A short code is in no campaign: its programme was approved with it.
  if (row.kind === 'short code') return 'cleared';
  // A sender ID is in no campaign; where it may be used is asked for each recipient's country.
  if (row.kind === 'sender ID') return 'cleared';
  if (row.kind === 'toll-free') return VERIFIED[row.verification?.state ?? ''] ?? 'number-not-verified';
  if (row.campaign_id === null) return 'number-not-tied';
  if (row.campaign?.state === 'declined') return 'registration-declined';
  if (row.campaign?.state === 'suspended') return 'registration-suspended';
  if (row.campaign?.state === 'expired') return 'registration-expired';
  return row.campaign?.state === 'registered' && row.tie_state === 'attached' ? 'cleared' : 'registration-pending';
}

function nextStep(row: StandingNumber, clearance: Clearance): NumberView['nextStep'] {
  if (row.state === 'failed')
    return { title: 'Choose another number.', why: `${row.note} The money is back on the balance.`, action: 'acquire' };
  if (row.state === 'released')
    return row.before_release
      ? {
          title: 'Take it back, if you need it.',
          why: `${row.note} After seven days it may go to somebody else.`,
          action: 'take back',
        }
      : afterTheEnd(row);
  if (row.state === 'ordered')
    return {
      title: 'Wait for the exchange.',
      why:
        row.kind === 'short code'
          ? 'The networks look at its programme and approve a short code in two to three months; this page changes by itself.'
          : 'Provisioning takes less than a minute; this page changes by itself.',
      action: 'wait',
    };
  if (row.state === 'paused') return { title: 'Top up the balance.', why: row.note, action: 'account' };
  if (row.account_state !== 'open')
    return {
      title: 'Open the account.',
      why: `The account is ${row.account_state}; nothing is sent until it is open.`,
      action: 'account',
    };
  if (row.kind === 'sender ID' && row.countries === '')
    return {
      title: 'Choose where it is used.',
      why: 'A sender ID can be used nowhere until a country is chosen for it.',
      action: 'sender',
    };
  switch (clearance) {
    case 'number-not-tied':
      return {
        title: 'Tie it to a campaign.',
        why: row.note || 'The networks refuse texts from a number in no registered campaign.',
        action: 'tie',
      };
    case 'number-not-verified':
      return {
        title: 'Have it verified.',
        why: 'A toll-free number sends nothing until the registrar has verified it for what it is for.',
        action: 'verify',
      };
    case 'registration-suspended':
      return {
        title: 'Answer the registrar.',
        why: `It suspended ${row.campaign?.name ?? 'the campaign'}; nothing is sent until that is lifted.`,
        action: 'register',
      };
    case 'registration-expired':
      return {
        title: 'Renew the campaign.',
        why: `The year ${row.campaign?.name ?? 'the campaign'} was registered for is over; nothing is sent until it is renewed.`,
        action: 'register',
      };
    case 'registration-pending':
      if (row.kind === 'toll-free')
        return {
          title: 'Wait for the registrar.',
          why: 'It verifies a toll-free number in three to five days.',
          action: 'wait',
        };
      return {
        title: 'Wait for the networks.',
        why: `They confirm ${row.campaign?.name ?? 'the campaign'} for this number in about a day; one that was moved from another campaign can take up to 72 hours. It sends nothing until then.`,
        action: 'wait',
      };
    case 'registration-declined':
      if (row.kind === 'toll-free')
        return {
          title: 'Mend the verification.',
          why: 'The registrar declined it; its reasons stand beside the words.',
          action: 'verify',
        };
      return {
        title: 'Mend the campaign.',
        why: 'The registrar declined it; its reasons stand beside the words.',
        action: 'register',
      };
    default:
      // Its calls came along; that nothing is to happen to them can be said too.
      return row.source === 'ported' && row.calls === ''
        ? {
            title: 'Say what happens to calls.',
            why: 'It is cleared to send. Its calls came along with it, and now they ring and nobody answers.',
            action: 'calls',
          }
        : { title: 'Nothing to do.', why: 'This number is cleared to send.', action: 'none' };
  }
}

/**
 * How fast texts may leave a number: by its campaign for local numbers, fixed for the other kinds.
 * source: rules.md (throughput; toll-free 3 a second).
 */
export function throughputOfNumber(row: StandingNumber): Throughput {
  const local = throughputOf(
    row.brand?.form ?? 'private company',
    row.brand?.score ?? null,
    row.campaign?.body.useCase ?? '',
  );
  switch (row.kind) {
    case 'toll-free':
      return { ...local, campaignPerSecond: 3, numberPerSecond: 3, brandPerDay: 250_000 };
    case 'short code':
      return { ...local, campaignPerSecond: 100, numberPerSecond: 100, brandPerDay: 1_000_000 };
    case 'sender ID':
      return { ...local, campaignPerSecond: 10, numberPerSecond: 10, brandPerDay: 200_000 };
    default:
      return local;
  }
}

function throughputWords(row: StandingNumber): string {
  const t = throughputOfNumber(row);
  return `${Math.min(t.campaignPerSecond, t.numberPerSecond)} / s`;
}
