import { parsePhone, PHONE_REFUSALS, type PhoneNote } from '@long-gate/core';

/** What a column of the file is taken for. */
export const COLUMN_USES = ['phone', 'firstName', 'lastName', 'email', 'stateCode', 'ignore'] as const;
export type ColumnUse = (typeof COLUMN_USES)[number];
export const USE_LABELS: Record<ColumnUse, string> = {
  phone: 'Phone number',
  firstName: 'First name',
  lastName: 'Last name',
  email: 'E-mail',
  stateCode: 'State',
  ignore: 'Leave out',
};

export interface ReadRow {
  /** Line of the file, from 1. */
  row: number;
  phone: string;
  firstName: string;
  lastName: string;
  email: string;
  stateCode: string;
  outcome: 'ok' | 'look' | 'refused' | 'repeat';
  reason: string;
  e164: string;
  keep: boolean;
}

/** Rows of one outcome and reason, with a few examples. */
export interface Group {
  outcome: ReadRow['outcome'];
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
export function readPhone(raw: string): Pick<ReadRow, 'outcome' | 'reason' | 'e164'> {
  const p = parsePhone(raw, { defaultRegion: 'US', allowFictional: true });
  if (!p.ok) return { outcome: 'refused', reason: PHONE_REFUSALS[p.reason], e164: '' };
  const notes = p.notes.filter((n) => !HARMLESS.includes(n));
  return { outcome: notes.length > 0 ? 'look' : 'ok', reason: notes.map((n) => NOTES[n]).join('; '), e164: p.e164 };
}

const GUESSES: [ColumnUse, RegExp][] = [
  ['email', /e-?mail/i],
  ['phone', /phone|mobile|cell|tel|number/i],
  ['lastName', /last|family|sur ?name/i],
  ['firstName', /first|given|fore ?name|^name$/i],
  ['stateCode', /^state$|state ?code|province/i],
];

/** Guesses each column's use from its heading, then from what stands in it; a use is given once. */
export function guessColumns(header: readonly string[], samples: readonly (readonly string[])[]): ColumnUse[] {
  const uses: ColumnUse[] = header.map(() => 'ignore');
  const given = new Set<ColumnUse>();
  const give = (i: number, use: ColumnUse): void => {
    if (uses[i] === 'ignore' && !given.has(use)) {
      uses[i] = use;
      given.add(use);
    }
  };
  header.forEach((h, i) => {
    const guess = GUESSES.find(([, re]) => re.test(h.trim()));
    if (guess) give(i, guess[0]);
  });
  if (!given.has('phone')) {
    const score = header.map(
      (_, i) => samples.filter((s) => parsePhone(s[i] ?? '', { defaultRegion: 'US', allowFictional: true }).ok).length,
    );
    const best = score.indexOf(Math.max(...score));
    if ((score[best] ?? 0) > 0) give(best, 'phone');
  }
  if (!given.has('email'))
    give(
      header.findIndex((_, i) => samples.some((s) => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(s[i] ?? ''))),
      'email',
    );
  return uses;
}

/** A first row with no readable phone number and no digits-heavy cell is a heading. */
export function looksLikeHeader(first: readonly string[], second: readonly string[] | undefined): boolean {
  const phones = (row: readonly string[]): number => row.filter((c) => readPhone(c).outcome !== 'refused').length;
  return (
    phones(first) === 0 &&
    (second === undefined || phones(second) > 0 || GUESSES.some(([, re]) => first.some((c) => re.test(c))))
  );
}

/** Decodes a file as UTF-8, UTF-16 (by its mark or its zero bytes) or, failing that, Windows-1252; refuses what is no text. */
export function decodeText(bytes: Uint8Array): { text: string; encoding: string } | { error: string } {
  if (bytes.length === 0) return { error: 'The file is empty.' };
  const head = bytes.subarray(0, 4096);
  if (head[0] === 0xff && head[1] === 0xfe)
    return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
  if (head[0] === 0xfe && head[1] === 0xff)
    return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
  const odd = head.filter((b, i) => i % 2 === 1 && b === 0).length;
  const even = head.filter((b, i) => i % 2 === 0 && b === 0).length;
  const half = head.length / 2;
  if (half > 4 && odd > half * 0.6 && even < half * 0.1)
    return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
  if (half > 4 && even > half * 0.6 && odd < half * 0.1)
    return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
  const control = head.filter((b) => b < 9 || (b > 13 && b < 32)).length;
  if (control > head.length * 0.02)
    return { error: 'This is no CSV or text file: it holds binary data. Export the list as CSV and drop that.' };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' };
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'Windows-1252' };
  }
}
