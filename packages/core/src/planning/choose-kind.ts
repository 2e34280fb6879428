import { countryRule } from '../countries/countries.js';
import { DEFAULT_PRICES, type Micros } from '../money/money.js';

export type NumberKind = 'local number' | 'toll-free number' | 'short code' | 'sender ID';

/** What somebody needs who does not know the kinds of number. */
export interface KindQuestion {
  twoWay: boolean;
  textsADay: number;
  /** ISO codes of the countries texts go to. */
  countries: readonly string[];
  within: 'days' | 'weeks' | 'months';
}

export interface KindAnswer {
  kind: NumberKind;
  fits: boolean;
  /** Why it does not fit, or what speaks for it. */
  why: string;
  once: Micros;
  monthly: Micros;
  time: string;
  throughput: string;
  duties: string;
}

const DAYS = { days: 3, weeks: 21, months: 120 } as const;
/** Texts of one segment that leave in ten permitted hours of a day, and days until a text may leave; by default terms. */
const KINDS: readonly {
  kind: NumberKind;
  once: Micros;
  monthly: Micros;
  perDay: number;
  readyDays: number;
  time: string;
  throughput: string;
  duties: string;
}[] = [
  {
    kind: 'local number',
    once: DEFAULT_PRICES.localSetup,
    monthly: DEFAULT_PRICES.localMonthly,
    perDay: 40_000,
    readyDays: 8,
    time: 'about a week with a new campaign',
    throughput: '0.25 to 75 segments a second by vetting, 10 a second for each number',
    duties: 'Brand and campaign registered; at most one campaign for each number.',
  },
  {
    kind: 'toll-free number',
    once: DEFAULT_PRICES.localSetup,
    monthly: DEFAULT_PRICES.tollFreeMonthly,
    perDay: 108_000,
    readyDays: 8,
    time: 'about a week for the verification',
    throughput: '3 segments a second',
    duties: 'Verified for its use before the first text.',
  },
  {
    kind: 'short code',
    once: 0,
    monthly: DEFAULT_PRICES.shortCodeMonthly,
    perDay: 1_000_000,
    readyDays: 70,
    time: 'two to three months to approve',
    throughput: '100 segments a second and more',
    duties: 'Leased; one programme only; audited by the networks.',
  },
  {
    kind: 'sender ID',
    once: 0,
    monthly: 0,
    perDay: 200_000,
    readyDays: 5,
    time: 'at once where free, days where it is registered',
    throughput: '10 segments a second',
    duties: 'Registered where the country asks; a signature with another way to reply and stop.',
  },
];

/**
 * The kinds of number beside one another for a need, those that fit first, the cheapest of them foremost.
 * source: rules.md (fees, throughput, toll-free and short codes, sender IDs) and the shipped country table.
 */
export function chooseKind(q: KindQuestion): KindAnswer[] {
  return KINDS.map((k) => {
    const closed = q.countries.filter((c) => !(countryRule(c)?.kinds ?? []).includes(k.kind));
    const why =
      closed.length > 0
        ? `Does not work in ${closed.map((c) => countryRule(c)?.name ?? c).join(', ')}.`
        : q.twoWay && k.kind === 'sender ID'
          ? 'One-way: nobody can reply to it.'
          : q.textsADay > k.perDay
            ? `Carries about ${k.perDay.toLocaleString('en-US')} texts a day at best.`
            : k.readyDays > DAYS[q.within]
              ? `Takes longer: ${k.time}.`
              : '';
    return {
      kind: k.kind,
      fits: why === '',
      why: why || 'Fits what you need.',
      once: k.once,
      monthly: k.monthly,
      time: k.time,
      throughput: k.throughput,
      duties: k.duties,
    };
  }).sort((a, b) => Number(b.fits) - Number(a.fits) || a.monthly - b.monthly);
}
