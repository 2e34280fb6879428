import { DEFAULT_PRICES, type Micros } from '../money/money.js';
import { PRACTICE_DAYS } from '../porting/port-timeline.js';

export type RouteWay = 'port in' | 'text-enable' | 'new number' | 'forward only';

/** What is known of the number (by lookup and test), and what the person said. */
export interface RouteQuestion {
  kind: 'wireless' | 'landline' | 'toll-free';
  carrier: string;
  portable: boolean;
  whyNotPortable: string;
  /** Who texts for it already, empty where nobody. */
  enabledElsewhere: string;
  /** Calls must go on where they are: a desk phone, a switchboard, somebody's mobile. */
  voiceStays: boolean;
  /** People know this number and write to it. */
  wellKnown: boolean;
  neededWithin: 'days' | 'weeks' | 'months';
}

export interface Route {
  way: RouteWay;
  possible: boolean;
  /** Why it is not possible, or what it does. */
  why: string;
  time: string;
  once: Micros;
  monthly: Micros;
  risk: string;
  /** What people will see. */
  seen: string;
}

/**
 * The ways for a number one has, side by side, the one to take first. source: rules.md (Porting, Hosted numbers):
 * a port moves voice too, a mobile in use cannot be text-enabled, one provider texts for a number at a time.
 */
export function chooseRoute(q: RouteQuestion): Route[] {
  const practice = q.kind === 'wireless' ? PRACTICE_DAYS.simple : PRACTICE_DAYS.other;
  const monthly = q.kind === 'toll-free' ? DEFAULT_PRICES.tollFreeMonthly : DEFAULT_PRICES.localMonthly;
  const cannotHost =
    q.kind === 'wireless'
      ? 'A mobile in use has texting already; a second cannot be added.'
      : q.enabledElsewhere !== ''
        ? `${q.enabledElsewhere} texts for it already; have that taken off first.`
        : '';
  const cannotPort = !q.portable
    ? q.whyNotPortable
    : q.voiceStays
      ? 'A port takes the voice service along, and calls must stay where they are.'
      : '';
  const routes: Record<RouteWay, Route> = {
    'port in': {
      way: 'port in',
      possible: cannotPort === '',
      why: cannotPort || `The number leaves ${q.carrier || 'its carrier'} and comes here with calls and texts.`,
      time: `${practice.from} to ${practice.to} business days in practice`,
      once: 0,
      monthly,
      risk: 'Rejected when a fact differs from the old carrier’s record. Lost if the old service ends too early. Texts may pause up to three days.',
      seen: 'The number they know, for calls and texts.',
    },
    'text-enable': {
      way: 'text-enable',
      possible: cannotHost === '',
      why: cannotHost || 'Texts come here; calls stay with their carrier and are not touched.',
      time: '1 to 3 days',
      once: 0,
      monthly: DEFAULT_PRICES.hostedMonthly,
      risk: 'Texting is lost when the voice service moves. Only one provider can text for a number.',
      seen: 'The number they know, for calls and texts.',
    },
    'new number': {
      way: 'new number',
      possible: true,
      why: 'A number of its own for texts, beside the one there is.',
      time: 'under a minute, then registration',
      once: DEFAULT_PRICES.localSetup,
      monthly: DEFAULT_PRICES.localMonthly,
      risk: 'People do not know it: the first text has to say who writes. The contact card helps.',
      seen: 'A second number, which they have to learn.',
    },
    'forward only': {
      way: 'forward only',
      possible: true,
      why: 'Calls to a new number here are passed on to the one there is. Texts sent to the old one reach nobody.',
      time: 'today',
      once: DEFAULT_PRICES.localSetup,
      monthly: DEFAULT_PRICES.localMonthly,
      risk: 'Replies to the old number are lost. A stopgap, for instance while a port is on its way.',
      seen: 'Two numbers: texts come from the new one, while calls back show the old one.',
    },
  };
  const first = recommended(q, routes['port in'].possible, routes['text-enable'].possible);
  const order: RouteWay[] = ['port in', 'text-enable', 'new number', 'forward only'];
  return [first, ...order.filter((w) => w !== first)].map((w) => routes[w]);
}

function recommended(q: RouteQuestion, port: boolean, host: boolean): RouteWay {
  const slowPort = q.kind !== 'wireless' && q.neededWithin === 'days';
  if (port && !slowPort) return 'port in';
  if (host) return 'text-enable';
  // The number itself cannot text in time. Where people know it and its calls go on, they are passed on to it.
  if (q.wellKnown && (q.voiceStays || port)) return 'forward only';
  return 'new number';
}
