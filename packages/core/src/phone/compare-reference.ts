import reference from 'google-libphonenumber';
import { parsePhone } from './parse-phone.js';
import type { Written } from './written-numbers.js';

const util = reference.PhoneNumberUtil.getInstance();

/** Where we are stricter than the reference on purpose (rules.md, phone numbers). */
const STRICTER = ['bad-exchange', 'service-code', 'premium-rate', 'fictional', 'header'];
/** Where we are kinder on purpose: what a spreadsheet did, 00 written for the plus, two numbers in one cell. */
const kinder = (raw: string, notes: readonly string[]): boolean =>
  notes.includes('exponent') || notes.includes('two-numbers') || /^[^\d+]*0[^\d+]*0[^\d+]*[1-9]/.test(latin(raw));

/** Digits of other scripts as Latin ones. */
const latin = (raw: string): string =>
  raw
    .normalize('NFKC')
    .replace(/[\u0660-\u0669\u06F0-\u06F9]/g, (c) => String((c.charCodeAt(0) - (c < '\u06f0' ? 0x0660 : 0x06f0)) % 10));

export type Comparison =
  | {
      agree: true;
      on:
        | 'the number'
        | 'a refusal'
        | 'stricter on purpose'
        | 'kinder on purpose'
        | 'the number, by another edition of the numbering plan';
    }
  | { agree: false; cause: string; ours: string; theirs: string };

/** Reads one written number both ways. The reference is the common library's own port, used here and nowhere else. */
export function compareWithReference({ raw, region }: Written): Comparison {
  const ours = parsePhone(raw, { defaultRegion: region });
  let theirs = '';
  let read = '';
  try {
    const n = util.parse(raw, region);
    read = util.format(n, reference.PhoneNumberFormat.E164);
    if (util.isValidNumber(n))
      theirs =
        util.format(n, reference.PhoneNumberFormat.E164) + (n.getExtension() ? ` x${n.getExtension() ?? ''}` : '');
  } catch {
    theirs = '';
  }
  const mine = ours.ok ? ours.e164 + (ours.extension ? ` x${ours.extension}` : '') : '';
  if (mine === theirs) return { agree: true, on: mine === '' ? 'a refusal' : 'the number' };
  // Seven digits after a Canadian 310 are dialled in Canada only: no number that can be texted.
  if (!ours.ok && (STRICTER.includes(ours.reason) || /^\+1310\d{4}( |$)/.test(theirs)))
    return { agree: true, on: 'stricter on purpose' };
  if (ours.ok && kinder(raw, ours.notes)) return { agree: true, on: 'kinder on purpose' };
  // Both read the same digits; the two packages carry the numbering plan as of different days.
  if ((ours.ok && theirs === '' && ours.e164 === read) || (!ours.ok && ours.reason === 'invalid' && theirs !== ''))
    return { agree: true, on: 'the number, by another edition of the numbering plan' };
  const cause =
    mine === ''
      ? `we refuse (${ours.ok ? '' : ours.reason})`
      : theirs === ''
        ? 'we accept what the reference refuses'
        : mine.split(' ')[0] === theirs.split(' ')[0]
          ? 'another extension'
          : 'another number';
  return { agree: false, cause, ours: mine || (ours.ok ? '' : ours.reason), theirs: theirs || 'refused' };
}
