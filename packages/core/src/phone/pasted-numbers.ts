import { parsePhone, PHONE_REFUSALS, type ParseOptions } from './parse-phone.js';

/** One number of a pasted text, or what could not be read as one. */
export type PastedNumber =
  | {
      ok: true;
      raw: string;
      e164: string;
      /** Digits behind the number that are dialled once it answers. */ extension: string;
    }
  | { ok: false; raw: string; why: string };

const DIGITS = /\d/g;
const digitsOf = (text: string): number => (text.match(DIGITS) ?? []).length;
/** What stands between numbers: a new line, a new cell, a sign or word that joins two. */
const BETWEEN = /[\n\t,;|]+|\s\/\s|\s&\s|\s(?:and|or)\s/i;
/** An extension that was cut from its number by the comma before it. */
const LOOSE_EXTENSION = /^(?:ext\.?|extension|x)\s*\d{1,6}$/i;

/**
 * All numbers of a pasted text, each once and in their order. Two in one cell are two, whatever stands between them;
 * an extension is told apart and never dropped in silence. source: rules.md, phone numbers.
 */
export function readPastedNumbers(text: string, options: ParseOptions): PastedNumber[] {
  const pieces: string[] = [];
  for (const piece of text.split(BETWEEN).map((p) => p.trim())) {
    if (piece === '') continue;
    if (LOOSE_EXTENSION.test(piece) && pieces.length > 0) pieces.push(`${pieces.pop() ?? ''} ${piece}`);
    else pieces.push(...unglued(piece));
  }
  const seen = new Set<string>();
  return pieces.flatMap((raw): PastedNumber[] => {
    const read = parsePhone(raw, options);
    if (!read.ok) return [{ ok: false, raw, why: PHONE_REFUSALS[read.reason] }];
    if (seen.has(read.e164)) return [];
    seen.add(read.e164);
    return [{ ok: true, raw, e164: read.e164, extension: read.extension ?? '' }];
  });
}

/** Numbers with nothing but space between them: after ten digits, or eleven with a leading 1, the next begins. */
function unglued(piece: string): string[] {
  if (digitsOf(piece) < 20 || /[a-z]/i.test(piece)) return [piece];
  const out: string[] = [];
  let now = '';
  for (const word of piece.split(/\s+/)) {
    const whole = /^\D*1/.test(now) ? 11 : 10;
    if (digitsOf(now) >= whole) {
      out.push(now.trim());
      now = '';
    }
    now += ` ${word}`;
  }
  return [...out, now.trim()];
}
