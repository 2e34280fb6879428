import type { ContactField, IntakeMore } from '@long-gate/contracts';
import { parsePhone, PHONE_REFUSALS, readDate, readOwnValue, type DateOrder, type PhoneNote } from '@long-gate/core';
import type { ColumnUse } from './columns';

export const OUTCOMES = ['ok', 'look', 'known', 'repeat', 'refused'] as const;
export type Outcome = (typeof OUTCOMES)[number];
/** How the cells of a file are read. */
export interface Reading {
  uses: readonly ColumnUse[];
  fields: readonly ContactField[];
  /** The country whose way of writing numbers is meant where a number does not say. */
  region: string;
  /** Which of day and month stands first; null where that is not known. */
  dateOrder: DateOrder | null;
  /** `YYYY-MM-DD` where the business is: what was agreed to is no later. */
  today: string;
}
export interface ReadRow {
  /** Row of the file, from 1, without its heading. */
  row: number;
  phone: string;
  firstName: string;
  lastName: string;
  email: string;
  stateCode: string;
  more: IntakeMore;
  outcome: Outcome;
  reason: string;
  e164: string;
  keep: boolean;
}
/** Rows of one outcome and reason, with a few examples. */
export interface Group {
  outcome: Outcome;
  reason: string;
  count: number;
  examples: { row: number; phone: string; e164: string }[];
  keep: boolean;
}

const NOTES: Record<PhoneNote, string> = {
  extension: 'an extension was kept apart',
  'two-numbers': 'two numbers in one cell; the first is taken',
  exponent: 'a spreadsheet’s exponent form, recovered exactly',
  apostrophe: 'a leading apostrophe was taken off',
  'full-width': 'full-width digits were read',
};
/** Notes that change nothing a person need look at. */
const HARMLESS: PhoneNote[] = ['apostrophe', 'full-width'];

/** Reads one cell as a phone number and says in words what became of it. */
export function readPhone(raw: string, region = 'US'): Pick<ReadRow, 'outcome' | 'reason' | 'e164'> {
  const p = parsePhone(raw, { defaultRegion: region as 'US', allowFictional: true });
  if (!p.ok) return { outcome: 'refused', reason: PHONE_REFUSALS[p.reason], e164: '' };
  const notes = p.notes.filter((n) => !HARMLESS.includes(n));
  return { outcome: notes.length > 0 ? 'look' : 'ok', reason: notes.map((n) => NOTES[n]).join('; '), e164: p.e164 };
}

/** A whole name taken apart: `Fenwick, Ada` and `Ada Fenwick` are the same person; one word is a first name. */
export function splitName(whole: string): { firstName: string; lastName: string } {
  const name = whole.trim().replace(/\s+/g, ' ');
  const comma = /^([^,]+), *(.+)$/.exec(name);
  if (comma) return { firstName: comma[2] ?? '', lastName: comma[1] ?? '' };
  const at = name.lastIndexOf(' ');
  return at < 0 ? { firstName: name, lastName: '' } : { firstName: name.slice(0, at), lastName: name.slice(at + 1) };
}

const NO = /^(no|n|false|0|stop|never|(opted?|opt)[ -]?out|unsubscribed?|revoked|declined|do not (text|contact))$/i;
const YES = /^(yes|y|true|1|x|ok|(opted?|opt)[ -]?in|subscribed|granted|agreed)$/i;
/** What a cell about consent says; whatever is neither a yes nor a no says nothing. */
export function readConsent(cell: string): '' | 'yes' | 'no' {
  const s = cell.trim();
  return NO.test(s) ? 'no' : YES.test(s) ? 'yes' : '';
}

/** Reads one row; what is doubtful in it is said, and left out where it cannot be taken. */
export function readRow(
  row: number,
  cells: readonly string[],
  { uses, fields, region, dateOrder, today }: Reading,
): ReadRow {
  const get = (use: ColumnUse, most = 200): string => {
    const i = uses.indexOf(use);
    return i < 0 ? '' : (cells[i] ?? '').replace(/\0/g, '').trim().slice(0, most);
  };
  const has = (use: ColumnUse): boolean => uses.includes(use);
  const phone = get('phone');
  const read = readPhone(phone, region);
  const doubts: string[] = read.outcome === 'look' ? [read.reason] : [];
  const more: IntakeMore = {};
  for (const [use, most] of [
    ['street', 120],
    ['city', 80],
    ['postalCode', 16],
    ['further', 200],
  ] as const) {
    const value = get(use, most);
    if (value !== '') more[use] = value;
  }
  if (more.further !== undefined && readPhone(more.further, region).outcome === 'refused') {
    doubts.push('the other number is none, and is left out');
    delete more.further;
  }
  const language = get('language', 12).toLowerCase();
  if (language !== '') {
    const tag = LANGUAGES[language] ?? language;
    if (/^[a-z]{2,3}(-[a-z0-9]{2,8})*$/.test(tag)) more.language = tag;
    else doubts.push('the language is not known, and is left out');
  }
  const tags = get('tags', 600)
    .split(/[;,|]/)
    .map((t) => t.trim().slice(0, 60))
    .filter((t) => t !== '');
  if (tags.length > 0) more.tags = [...new Set(tags)].slice(0, 20);
  const own: Record<string, string> = {};
  for (const field of fields) {
    const raw = get(`own:${field.id}`, 300);
    if (raw === '') continue;
    const value = readOwnValue(field, raw, dateOrder ?? undefined);
    if (value.ok) own[field.id] = value.value;
    else doubts.push(`${field.name} is left out: ${value.reason}`);
  }
  if (Object.keys(own).length > 0) more.own = own;
  if (has('consentSays') || has('consentDate') || has('consentSource') || has('consentWords')) {
    const rawDate = get('consentDate');
    const date = rawDate === '' ? null : readDate(rawDate, dateOrder ?? undefined);
    if (date && !date.ok)
      doubts.push(
        date.reason === 'doubtful'
          ? 'the day of consent could be day or month first: say which, above'
          : 'the day of consent is none, and is left out',
      );
    if (date?.ok && date.date > today) doubts.push('the day of consent is still to come, and proves nothing');
    const consent = {
      says: readConsent(get('consentSays')),
      date: date?.ok ? date.date : '',
      source: get('consentSource'),
      disclosure: get('consentWords', 2000),
    };
    if (consent.says !== '' || consent.date !== '' || consent.source !== '' || consent.disclosure !== '')
      more.consent = consent;
    if (consent.says === '' && get('consentSays') !== '') doubts.push('what it says of consent is neither yes nor no');
  }
  const names = has('fullName') && !has('firstName') && !has('lastName') ? splitName(get('fullName')) : null;
  let email = get('email');
  if (email !== '' && !/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(email)) {
    doubts.push('the e-mail is none, and is left out');
    email = '';
  }
  return {
    row,
    phone,
    firstName: names?.firstName ?? get('firstName'),
    lastName: names?.lastName ?? get('lastName'),
    email,
    stateCode: /^[A-Za-z]{2}$/.test(get('stateCode')) ? get('stateCode').toUpperCase() : '',
    more,
    ...read,
    ...(read.outcome !== 'refused' && doubts.length > 0 ? { outcome: 'look' as const, reason: doubts.join('; ') } : {}),
    keep: true,
  };
}

/** Languages as people write them in a list. */
const LANGUAGES: Readonly<Record<string, string>> = {
  english: 'en',
  spanish: 'es',
  español: 'es',
  french: 'fr',
  portuguese: 'pt',
  vietnamese: 'vi',
  chinese: 'zh',
};
