import { parsePhone, readDate } from '@long-gate/core';
import type { ContactField } from '@long-gate/contracts';

/** What a column of the file is taken for; `own:` and a field's id for a field of the business's own. */
export type ColumnUse =
  | 'phone'
  | 'further'
  | 'fullName'
  | 'firstName'
  | 'lastName'
  | 'email'
  | 'stateCode'
  | 'street'
  | 'city'
  | 'postalCode'
  | 'language'
  | 'tags'
  | 'consentSays'
  | 'consentDate'
  | 'consentSource'
  | 'consentWords'
  | 'ignore'
  | `own:${string}`;

const LABELS: Record<Exclude<ColumnUse, `own:${string}`>, string> = {
  ignore: 'Leave out',
  phone: 'Phone number',
  further: 'Another number',
  fullName: 'Whole name',
  firstName: 'First name',
  lastName: 'Last name',
  email: 'E-mail',
  street: 'Street',
  city: 'City',
  stateCode: 'State',
  postalCode: 'ZIP code',
  language: 'Language',
  tags: 'Tags',
  consentSays: 'Consent: yes or no',
  consentDate: 'Consent: date',
  consentSource: 'Consent: source',
  consentWords: 'Consent: words shown',
};
/** All uses there are, with what they are called. */
export function usesOf(fields: readonly ContactField[]): { value: ColumnUse; label: string }[] {
  return [
    ...(Object.entries(LABELS) as [ColumnUse, string][]).map(([value, label]) => ({ value, label })),
    ...fields.map((f) => ({ value: `own:${f.id}` as const, label: f.name })),
  ];
}

const GUESSES: [ColumnUse, RegExp][] = [
  ['consentDate', /(consent|opt.?in|agreed|signed).*(date|day|at|on)\b|^(date|day) (of )?(consent|opt.?in|agreed)/i],
  ['consentSource', /(consent|opt.?in).*(source|method|how|via|where)/i],
  ['consentWords', /disclosure|(consent|opt.?in).*(text|words|wording|language)/i],
  [
    'consentSays',
    /^(sms|text)? ?(consent|opt.?(in|out)|subscribed|unsubscribed|permission)\b|(sms|text).*(status|consent|ok)/i,
  ],
  ['email', /e[- ]?mail/i],
  ['further', /(second|other|alt|home|work|2nd).*(phone|mobile|cell|tel|number)|(phone|tel|mobile).*2/i],
  ['phone', /phone|mobile|cell|tel\b|number/i],
  ['lastName', /last|family|sur ?name/i],
  ['firstName', /first|given|fore ?name/i],
  ['fullName', /^(full |whole )?name$|^contact$/i],
  ['stateCode', /^state$|state ?code|province/i],
  ['street', /street|address( ?1)?$/i],
  ['city', /^(city|town)$/i],
  ['postalCode', /zip|post(al)? ?code/i],
  ['language', /^lang/i],
  ['tags', /^(tags?|labels?|categories)$/i],
];

/**
 * Guesses each column's use from its heading, then from what stands in it; a use is given once. An own field is known by
 * its name.
 */
export function guessColumns(
  header: readonly string[],
  samples: readonly (readonly string[])[],
  fields: readonly ContactField[] = [],
): ColumnUse[] {
  const uses: ColumnUse[] = header.map(() => 'ignore');
  const given = new Set<ColumnUse>();
  const give = (i: number, use: ColumnUse): void => {
    if (uses[i] === 'ignore' && !given.has(use)) {
      uses[i] = use;
      given.add(use);
    }
  };
  const key = (s: string): string => s.trim().toLowerCase().replace(/[_-]+/g, ' ');
  header.forEach((h, i) => {
    const own = fields.find((f) => key(f.name) === key(h));
    if (own) return give(i, `own:${own.id}`);
    const guess = GUESSES.find(([, re]) => re.test(key(h)));
    if (guess) give(i, guess[0]);
  });
  const share = (i: number, test: (cell: string) => boolean): number =>
    samples.filter((s) => test((s[i] ?? '').trim())).length / Math.max(samples.length, 1);
  const isPhone = (c: string): boolean => parsePhone(c, { defaultRegion: 'US', allowFictional: true }).ok;
  const best = (test: (cell: string) => boolean, least: number): number => {
    const shares = header.map((_, i) => (uses[i] === 'ignore' ? share(i, test) : 0));
    const i = shares.indexOf(Math.max(...shares));
    return (shares[i] ?? 0) > least ? i : -1;
  };
  if (!given.has('phone')) give(best(isPhone, 0), 'phone');
  if (!given.has('email'))
    give(
      best((c) => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(c), 0),
      'email',
    );
  return uses;
}

/** A first row with no readable number, date or address in it, above rows that have one or under a known heading. */
export function looksLikeHeader(first: readonly string[], second: readonly string[] | undefined): boolean {
  const phones = (row: readonly string[]): number =>
    row.filter((c) => parsePhone(c, { defaultRegion: 'US', allowFictional: true }).ok).length;
  const facts = first.filter((c) => c.includes('@') || readDate(c).ok).length;
  return (
    phones(first) === 0 &&
    facts === 0 &&
    (second === undefined || phones(second) > 0 || GUESSES.some(([, re]) => first.some((c) => re.test(c))))
  );
}
