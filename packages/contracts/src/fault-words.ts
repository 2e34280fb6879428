import type * as z from 'zod';

type Raw = z.core.$ZodRawIssue;

const KINDS: Readonly<Record<string, string>> = {
  string: 'words',
  number: 'a number',
  int: 'a whole number',
  boolean: 'yes or no',
  array: 'a list',
  object: 'several values, each by its name',
  record: 'several values, each by its name',
};
const FORMATS: Readonly<Record<string, string>> = {
  email: 'an e-mail address, such as name@firm.example',
  url: 'an address that begins with https://',
  date: 'a day as year-month-day, such as 2027-03-12',
  datetime: 'a moment, such as 2027-03-12T09:30:00Z',
  time: 'a time, such as 09:30',
};
const counted = (n: number | bigint, one: string, many: string): string => `${n} ${n === 1n || n === 1 ? one : many}`;

/** How much of something is meant: characters, entries, or the number itself. */
function muchOf(origin: string, n: number | bigint): string {
  if (origin === 'string') return counted(n, 'character', 'characters');
  if (origin === 'array' || origin === 'set') return counted(n, 'entry', 'entries');
  return String(n);
}

/**
 * What is wrong, and how to mend it, as a sentence for people: where a schema has no words of its own for a fault.
 * Given to every reading of what people wrote, on the server and in forms.
 */
export function faultWords(fault: Raw): string {
  switch (fault.code) {
    case 'invalid_type':
      if (fault.input === undefined || fault.input === null || fault.input === '') return 'This is missing.';
      return `Give ${KINDS[fault.expected] ?? 'what belongs here'}.`;
    case 'too_big':
      return fault.inclusive === false
        ? `Less than ${muchOf(fault.origin, fault.maximum)}, please.`
        : `At most ${muchOf(fault.origin, fault.maximum)}.`;
    case 'too_small':
      if (fault.origin === 'string' && fault.minimum === 1) return 'This is missing.';
      return fault.inclusive === false
        ? `More than ${muchOf(fault.origin, fault.minimum)}, please.`
        : `At least ${muchOf(fault.origin, fault.minimum)}.`;
    case 'invalid_format':
      return `Give ${FORMATS[fault.format] ?? 'it in the form that belongs here'}.`;
    case 'not_multiple_of':
      return `Give a multiple of ${fault.divisor}.`;
    case 'invalid_value':
      return fault.values.length > 1 && fault.values.length <= 12
        ? `Choose one of these: ${fault.values.map(String).join(', ')}.`
        : 'Choose one of those that are offered.';
    case 'unrecognized_keys':
      return `Nobody knows ${fault.keys.map((k) => `“${k}”`).join(', ')} here: leave it out.`;
    default:
      return 'This cannot be read as what belongs here.';
  }
}
