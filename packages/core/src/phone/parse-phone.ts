import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/max';
import { areaCode } from './area-codes.js';
import { TOLL_FREE_CODES } from './area-codes.data.js';

export interface ParseOptions {
  /** ISO 3166 country assumed for numbers written without a country code. */
  defaultRegion: string;
  /** Accept the range set aside for fiction (NPA-555-01XX), as the demo does. */
  allowFictional?: boolean;
}

export type PhoneNote = 'extension' | 'two-numbers' | 'exponent' | 'apostrophe' | 'full-width';

export type PhoneRefusal =
  | 'empty'
  | 'no-digits'
  | 'header'
  | 'too-short'
  | 'too-long'
  | 'no-such-area-code'
  | 'bad-exchange'
  | 'service-code'
  | 'premium-rate'
  | 'fictional'
  | 'exponent-inexact'
  | 'invalid';

export type ParsedPhone =
  | { ok: true; e164: string; region: string; national: string; extension?: string; notes: PhoneNote[] }
  | { ok: false; reason: PhoneRefusal };

/** Plain words for each refusal, said beside the row or field. */
export const PHONE_REFUSALS: Record<PhoneRefusal, string> = {
  empty: 'There is no number.',
  'no-digits': 'There are no digits in it.',
  header: 'This looks like a column heading, not a number.',
  'too-short': 'Too few digits for a phone number.',
  'too-long': 'Too many digits for a phone number.',
  'no-such-area-code': 'No such area code exists.',
  'bad-exchange': 'The three digits after the area code may not begin with 0 or 1.',
  'service-code': 'The three digits after the area code are a service code such as 911.',
  'premium-rate': 'A premium-rate number cannot be texted.',
  fictional: 'This range is set aside for fiction.',
  'exponent-inexact': 'A spreadsheet shortened this number (…E+…) and digits are lost; format the column as text.',
  invalid: 'Not a number that exists in its country.',
};

const HEADER = /^(phone|mobile|cell|number|tel|telephone|phone ?number|mobile ?number|cell ?phone|contact ?number)s?$/i;
/**
 * Reads one phone number as people write them.
 * Stricter than the common library on purpose (N11 and fictional exchanges, premium rate, header cells);
 * elsewhere it agrees with it. Never throws.
 * Source: ITU-T E.164; NANP numbering rules.
 */
export function parsePhone(raw: string, options: ParseOptions): ParsedPhone {
  if (options.defaultRegion === 'US' || options.defaultRegion === 'CA' || raw.startsWith('+1')) {
    const fast = readPlain(raw);
    if (fast !== null) return judgeNanp(fast, options, []);
  }
  return readWritten(raw, options);
}

/** Ten NANP digits when the text is nothing but a plainly written NANP number, else null. Hand-scanned for speed. */
function readPlain(raw: string): string | null {
  const length = raw.length;
  if (length < 10 || length > 18) return null;
  let digits = '';
  let open = -1;
  for (let i = 0; i < length; i++) {
    const c = raw.charCodeAt(i);
    if (c >= 48 && c <= 57) digits += String.fromCharCode(c);
    else if (c === 43) {
      if (i !== 0) return null;
    } else if (c === 40) {
      if (open !== -1) return null;
      open = digits.length;
      if (open > 1) return null;
    } else if (c === 41) {
      if (open === -1 || digits.length - open !== 3) return null;
      open = -2;
    } else if (c === 32 || c === 45 || c === 46) {
      if (i === 0 || i === length - 1) return null;
    } else return null;
  }
  if (open >= 0) return null;
  const plus = raw.charCodeAt(0) === 43;
  if (digits.length === 11 && digits.charCodeAt(0) === 49) return digits.slice(1);
  return digits.length === 10 && !plus ? digits : null;
}

function judgeNanp(ten: string, options: ParseOptions, notes: PhoneNote[], extension?: string): ParsedPhone {
  const npa = ten.slice(0, 3);
  const area = areaCode(npa);
  if (!area && !TOLL_FREE_CODES.includes(npa)) {
    if (npa === '900') return { ok: false, reason: 'premium-rate' };
    // Non-geographic codes (5XX, 710…) are left to the library.
    return viaLibrary(`+1${ten}`, options, notes, extension);
  }
  // Territories outside the US and Canada, and 983, have narrower ranges, which only the library's metadata knows.
  if (
    area &&
    (npa === '983' || (area.region !== 'US' && area.region !== 'CA')) &&
    !parsePhoneNumberFromString(`+1${ten}`)?.isValid()
  ) {
    return { ok: false, reason: 'invalid' };
  }
  const first = ten.charCodeAt(3);
  if (first === 48 || first === 49) return { ok: false, reason: 'bad-exchange' };
  const exchange = ten.slice(3, 6);
  if (ten.charCodeAt(4) === 49 && ten.charCodeAt(5) === 49) return { ok: false, reason: 'service-code' };
  if (exchange === '976' && area) return { ok: false, reason: 'premium-rate' };
  if (exchange === '555' && ten.charCodeAt(6) === 48 && ten.charCodeAt(7) === 49 && !options.allowFictional) {
    return { ok: false, reason: 'fictional' };
  }
  const result: ParsedPhone = {
    ok: true,
    e164: `+1${ten}`,
    region: area ? area.region : 'US',
    national: `(${npa}) ${exchange}-${ten.slice(6)}`,
    notes,
  };
  if (extension) result.extension = extension;
  return result;
}

/** Digits as every script writes them; punctuation that may stand between them. Both as in the common library. */
const DIGITS = '0-9\\uFF10-\\uFF19\\u0660-\\u0669\\u06F0-\\u06F9';
const PUNCTUATION =
  '-x\\u2010-\\u2015\\u2212\\u30FC\\uFF0D-\\uFF0F \\u00A0\\u00AD\\u200B\\u2060\\u3000()\\uFF08\\uFF09\\uFF3B\\uFF3D.\\[\\]/~\\u2053\\u223C\\uFF5E';
const FIRST_DIGIT = new RegExp(`[+\\uFF0B${DIGITS}]`);
const TRAILING = new RegExp(`[^${DIGITS}A-Za-z#]+$`);
const SECOND_NUMBER = /[\\/] *x/;

const EXTENSION = (() => {
  const digits = (most: number): string => `([${DIGITS}]{1,${most}})`;
  const after = '[:.\\uFF0E]?[ \\u00A0\\t,-]*';
  const spaced = '[ \\u00A0\\t,]*';
  const close = '[ \\u00A0\\t]*';
  const label = '(?:e?xt(?:ensi(?:o\\u0301?|\\u00F3))?n?|\\uFF45?\\uFF58\\uFF54\\uFF4E?|\\u0434\\u043E\\u0431|anexo)';
  const sign = '(?:[x\\uFF58#\\uFF03~\\uFF5E]|int|\\uFF49\\uFF4E\\uFF54)';
  return [
    `;ext=${digits(20)}`,
    `${spaced}${label}${after}${digits(20)}#?`,
    `${spaced}${sign}${after}${digits(9)}#?`,
    `[- ]+${digits(6)}#`,
    `${close}(?:,{2}|;)${after}${digits(15)}#?`,
    `${close}(?:,)+${after}${digits(9)}#?`,
  ].join('|');
})();
const AT_END = new RegExp(`(?:${EXTENSION})$`, 'i');
/** What may be a phone number at all: two digits, or three and more with punctuation, letters and an extension. */
const VIABLE = new RegExp(
  `^(?:[${DIGITS}]{2}|[+\\uFF0B]*(?:[${PUNCTUATION}*]*[${DIGITS}]){3,}[${PUNCTUATION}*A-Za-z${DIGITS}]*(?:${EXTENSION})?)$`,
  'i',
);
/** Letters on the keys of a telephone. source: ITU-T E.161. */
const KEYPAD = '22233344455566677778889999';

/**
 * Reads a number as people write it, the way the common library's reference does: from the first digit on, with an
 * extension cut off, three letters or more taken for keys, every script's digits.
 */
function readWritten(raw: string, options: ParseOptions): ParsedPhone {
  if (raw.length > 250) return { ok: false, reason: 'too-long' };
  const notes: PhoneNote[] = [];
  let text = raw.trim();
  if (text === '') return { ok: false, reason: 'empty' };
  if (HEADER.test(text)) return { ok: false, reason: 'header' };
  if (/^['\u2019`]/.test(text)) notes.push('apostrophe');
  if (/[\uFF10-\uFF19]/.test(text)) notes.push('full-width');
  if (!FIRST_DIGIT.test(text)) return { ok: false, reason: 'no-digits' };
  const exponent = /^['"=\u2019]*\+?(\d)(?:[.,](\d+))?[eE]\+?(\d{1,2})["']*$/.exec(text);
  if (exponent) {
    const digits = `${exponent[1] ?? ''}${exponent[2] ?? ''}`;
    const wanted = Number(exponent[3]) + 1;
    // Only exact when every digit of the number was kept.
    if (digits.length < wanted) return { ok: false, reason: 'exponent-inexact' };
    text = digits.slice(0, wanted);
    notes.push('exponent');
  }
  // Two numbers in one cell: the first is taken, and it is said (rules.md, phone numbers).
  const several = text
    .split(/\s*(?:[;,|\n]|\s\/\s|\bor\b|\band\b|\bo\b|\by\b)\s*/i)
    .filter((p) => (p.match(/\d/g) ?? []).length >= 7);
  if (several.length > 1) {
    text = several[0] ?? text;
    notes.push('two-numbers');
  }
  const context = /;phone-context=(\+[\d.()-]*\d)/i.exec(text)?.[1];
  if (/;phone-context=/i.test(text) || /^tel:/i.test(text)) {
    const bare = text.replace(/^.*?tel:/i, '').replace(/;phone-context=[^;]*/i, '');
    text = context ? `${context}${bare}` : bare;
  }
  text = text.replace(/;isub=.*$/i, '');
  text = text.slice(Math.max(0, text.search(FIRST_DIGIT))).replace(TRAILING, '');
  const second = SECOND_NUMBER.exec(text);
  if (second) text = text.slice(0, second.index);
  if (!VIABLE.test(text)) return { ok: false, reason: unviable(text) };
  let extension: string | undefined;
  const ext = AT_END.exec(text);
  if (ext && VIABLE.test(text.slice(0, ext.index))) {
    extension = plainDigits(ext.slice(1).find((g) => g !== undefined && g !== '') ?? '');
    text = text.slice(0, ext.index);
    notes.push('extension');
  }
  const digits = normalised(text);
  const here = viaLibrary(digits, options, notes, extension);
  if (here.ok || !/^00[1-9]/.test(digits)) return here;
  // From anywhere 00 is written for the plus (ITU-T E.123), also where another prefix is dialled.
  const abroad = viaLibrary(`+${digits.slice(2)}`, options, notes, extension);
  return abroad.ok || options.defaultRegion === 'US' || options.defaultRegion === 'CA' ? abroad : here;
}

function unviable(text: string): PhoneRefusal {
  const digits = text.replace(/\D/g, '').length;
  return digits < 7 ? 'too-short' : digits > 15 ? 'too-long' : 'invalid';
}

/** Plus and digits only; three letters or more are keys, fewer are left out. */
function normalised(text: string): string {
  const keys = (text.match(/[A-Za-z]/g) ?? []).length >= 3;
  const written = keys ? text.replace(/[A-Za-z]/g, (c) => KEYPAD[c.toUpperCase().charCodeAt(0) - 65] ?? '') : text;
  return `${/^[+\uFF0B]/.test(written) ? '+' : ''}${plainDigits(written)}`;
}

function plainDigits(text: string): string {
  return text
    .replace(/[\uFF10-\uFF19\u0660-\u0669\u06F0-\u06F9]/g, (c) => {
      const code = c.charCodeAt(0);
      return String(code - (code >= 0xff10 ? 0xff10 : code >= 0x06f0 ? 0x06f0 : 0x0660));
    })
    .replace(/\D/g, '');
}

function viaLibrary(text: string, options: ParseOptions, notes: PhoneNote[], extension?: string): ParsedPhone {
  const digits = text.replace(/\D/g, '');
  if (digits.length < 7) return { ok: false, reason: 'too-short' };
  // Fifteen digits at most (E.164), and a prefix of up to four dialled before them.
  if (digits.length > 19) return { ok: false, reason: 'too-long' };
  const parsed = parsePhoneNumberFromString(text, {
    defaultCountry: options.defaultRegion as CountryCode,
    extract: false,
  });
  if (!parsed) return { ok: false, reason: digits.length < 10 ? 'too-short' : 'invalid' };
  const national: string = parsed.nationalNumber;
  if (parsed.countryCallingCode === '1') {
    if (national.length < 10) return { ok: false, reason: 'too-short' };
    if (national.length > 10) return { ok: false, reason: 'too-long' };
    const npa = national.slice(0, 3);
    if (areaCode(npa) || TOLL_FREE_CODES.includes(npa) || npa === '900')
      return judgeNanp(national, options, notes, extension);
    return parsed.isValid()
      ? accept(parsed.number, parsed.country ?? 'US', parsed.formatNational(), notes, extension)
      : { ok: false, reason: 'no-such-area-code' };
  }
  const type = parsed.getType();
  if (type === 'PREMIUM_RATE') return { ok: false, reason: 'premium-rate' };
  if (!parsed.isValid()) {
    // Ranges set aside for drama are not in the metadata as assigned; the demo may still use them.
    if (options.allowFictional && /^\+44(?:7700900|1632960|2079460)\d{3}$/.test(parsed.number)) {
      return accept(parsed.number, 'GB', parsed.formatNational(), notes, extension);
    }
    return { ok: false, reason: parsed.isPossible() ? 'invalid' : digits.length < 10 ? 'too-short' : 'invalid' };
  }
  return accept(parsed.number, parsed.country ?? '001', parsed.formatNational(), notes, extension ?? parsed.ext);
}

function accept(e164: string, region: string, national: string, notes: PhoneNote[], extension?: string): ParsedPhone {
  return { ok: true, e164, region, national, notes, ...(extension ? { extension } : {}) };
}
