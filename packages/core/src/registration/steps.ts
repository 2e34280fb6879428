import type { FilingState } from './filing.js';
import type { LegalForm } from './legal-forms.data.js';

/** The steps from an account to numbers that may send, in the order in which they are taken. */
export const STEPS = [
  'account',
  'identity',
  'brand',
  'vetting',
  'campaigns',
  'numbers',
  'toll-free',
  'sender IDs',
] as const;
export type StepName = (typeof STEPS)[number];

/** How one step of a business stands. */
export interface Step {
  step: StepName;
  /** `none`: it does not apply, or what comes before it is not done. */
  weight: 'pass' | 'hold' | 'stop' | 'note' | 'none';
  words: string;
  /** Since when it stands like that, milliseconds; null where that is not known or of no matter. */
  since: number | null;
  /** On whom it waits; empty where on nobody. */
  waitsOn: '' | 'you' | 'the provider' | 'the registrar' | 'the networks';
}

/** What steps are read from. Moments in milliseconds. */
export interface StepFacts {
  account: 'provisional' | 'in review' | 'open' | 'restricted' | 'suspended';
  brand: {
    state: FilingState;
    form: LegalForm;
    score: number | null;
    submittedAt: number | null;
    decidedAt: number | null;
    /** What of the legal identity is to mend before the brand can be submitted. */
    toMend?: number;
    /** A vetting is on its way since then. */
    vettingSince?: number | null;
    /** A sole proprietor's owner was asked on the mobile and has not answered in time. */
    confirmationLapsed?: boolean;
  };
  campaigns: readonly {
    state: FilingState;
    submittedAt: number | null;
    decidedAt: number | null;
    /** Since when it is closed, where it is. */
    haltedAt?: number | null;
  }[];
  /** How each toll-free number's verification stands. */
  tollFree?: readonly { state: FilingState; submittedAt: number | null; decidedAt: number | null }[];
  /** Numbers that are in service. */
  numbers: readonly { kind: string; tie: 'none' | 'attaching' | 'attached'; cleared: boolean }[];
  /** The countries a sender ID was asked for in. */
  senderIds: readonly { state: string }[];
}

const step = (
  name: StepName,
  weight: Step['weight'],
  words: string,
  waitsOn: Step['waitsOn'] = '',
  since: number | null = null,
): Step => ({ step: name, weight, words, waitsOn, since });

const many = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;
const earliest = (moments: readonly (number | null)[]): number | null => {
  const known = moments.filter((m) => m !== null);
  return known.length > 0 ? Math.min(...known) : null;
};

/** How far a business has come with each step, what is open there and on whom it waits. One answer for each of {@link STEPS}. */
export function registrationSteps(f: StepFacts): Step[] {
  return [account(f), identity(f), brand(f), vetting(f), campaigns(f), numbers(f), tollFree(f), senderIds(f)];
}

function account({ account: state }: StepFacts): Step {
  if (state === 'open') return step('account', 'pass', 'open');
  if (state === 'in review') return step('account', 'hold', 'looked at', 'the provider');
  if (state === 'provisional') return step('account', 'stop', 'provisional', 'you');
  return step('account', 'stop', state, 'the provider');
}

function identity({ brand: b }: StepFacts): Step {
  if (b.state === 'registered') return step('identity', 'pass', 'verified');
  const { toMend = 0 } = b;
  return toMend > 0 ? step('identity', 'stop', `${toMend} to mend`, 'you') : step('identity', 'pass', 'complete');
}

function brand({ brand: b }: StepFacts): Step {
  if (b.state === 'registered') return step('brand', 'pass', 'verified', '', b.decidedAt);
  if (b.confirmationLapsed) return step('brand', 'stop', 'owner did not answer', 'you', b.submittedAt);
  if (b.state === 'in review') return step('brand', 'hold', 'in review', 'the registrar', b.submittedAt);
  if (b.state === 'declined') return step('brand', 'stop', 'declined', 'you', b.decidedAt);
  return step('brand', 'note', 'draft', 'you');
}

function vetting({ brand: b }: StepFacts): Step {
  if (b.form === 'sole proprietor') return step('vetting', 'none', 'not for this form');
  if (b.state !== 'registered') return step('vetting', 'none', 'after the brand');
  if (b.vettingSince) return step('vetting', 'hold', 'being vetted', 'the registrar', b.vettingSince);
  return b.score === null ? step('vetting', 'note', 'not vetted', 'you') : step('vetting', 'pass', `score ${b.score}`);
}

function campaigns({ brand: b, campaigns: all }: StepFacts): Step {
  const of = (state: FilingState) => all.filter((c) => c.state === state);
  const [declined, waiting, drafts] = [of('declined'), of('in review'), of('draft')];
  if (all.length === 0)
    return b.state === 'registered'
      ? step('campaigns', 'note', 'none yet', 'you')
      : step('campaigns', 'none', 'after the brand');
  const closed = all.filter((c) => c.state === 'suspended' || c.state === 'expired');
  if (closed.length > 0)
    return step(
      'campaigns',
      'stop',
      `${closed.length} of ${all.length} ${closed.some((c) => c.state === 'suspended') ? 'suspended' : 'expired'}`,
      'you',
      earliest(closed.map((c) => c.haltedAt ?? null)),
    );
  if (declined.length > 0)
    return step(
      'campaigns',
      'stop',
      `${declined.length} of ${all.length} declined`,
      'you',
      earliest(declined.map((c) => c.decidedAt)),
    );
  if (waiting.length > 0)
    return step(
      'campaigns',
      'hold',
      `${waiting.length} of ${all.length} in review`,
      'the registrar',
      earliest(waiting.map((c) => c.submittedAt)),
    );
  if (drafts.length > 0) return step('campaigns', 'note', many(drafts.length, 'draft'), 'you');
  return step('campaigns', 'pass', `${all.length} registered`);
}

function numbers({ numbers: all }: StepFacts): Step {
  const local = all.filter((n) => n.kind === 'local');
  const [loose, tying] = [local.filter((n) => n.tie === 'none'), local.filter((n) => n.tie === 'attaching')];
  if (local.length === 0) return step('numbers', 'note', 'none yet', 'you');
  if (loose.length > 0) return step('numbers', 'stop', `${loose.length} of ${local.length} not tied`, 'you');
  if (tying.length > 0) return step('numbers', 'hold', `${tying.length} of ${local.length} being tied`, 'the networks');
  const cleared = local.filter((n) => n.cleared).length;
  return cleared === local.length
    ? step('numbers', 'pass', `${cleared} cleared`)
    : step('numbers', 'hold', `${cleared} of ${local.length} cleared`);
}

function tollFree({ tollFree: all = [] }: StepFacts): Step {
  const of = (...states: FilingState[]) => all.filter((v) => states.includes(v.state));
  const [declined, drafts, waiting] = [of('declined', 'suspended', 'expired'), of('draft'), of('in review')];
  if (all.length === 0) return step('toll-free', 'none', 'none');
  if (declined.length > 0)
    return step('toll-free', 'stop', 'declined', 'you', earliest(declined.map((v) => v.decidedAt)));
  if (drafts.length > 0) return step('toll-free', 'stop', 'not verified', 'you');
  if (waiting.length > 0)
    return step('toll-free', 'hold', 'being verified', 'the registrar', earliest(waiting.map((v) => v.submittedAt)));
  return step('toll-free', 'pass', `${all.length} verified`);
}

function senderIds({ senderIds: all }: StepFacts): Step {
  const of = (...states: string[]): number => all.filter((s) => states.includes(s.state)).length;
  if (all.length === 0) return step('sender IDs', 'none', 'none');
  if (of('refused') > 0) return step('sender IDs', 'stop', `refused in ${of('refused')}`, 'you');
  if (of('in review') > 0) return step('sender IDs', 'hold', `in review in ${of('in review')}`, 'the registrar');
  const good = of('free', 'registered');
  return good > 0
    ? step('sender IDs', 'pass', good === 1 ? 'in one country' : `in ${good} countries`)
    : step('sender IDs', 'note', 'asked for nowhere', 'you');
}
