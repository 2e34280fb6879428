import { readDate, type DateOrder } from './read-date.js';

/** A field of a business's own, as far as reading what is written in it goes. */
export interface OwnField {
  kind: 'text' | 'number' | 'date' | 'choice';
  choices: readonly string[];
}
/** Of a text so much is kept, in characters. */
export const OWN_TEXT_MOST = 300;

/**
 * Reads what somebody wrote into a field: a text as it stands, a number in figures (a comma before three figures is
 * passed over), a date in any usual form, a choice by its name in any case.
 * @returns the value as it is kept: a number as JavaScript writes it, a date as `YYYY-MM-DD`, a choice as it was named.
 */
export function readOwnValue(
  field: OwnField,
  raw: string,
  order?: DateOrder,
): { ok: true; value: string } | { ok: false; reason: string } {
  const s = raw.trim();
  switch (field.kind) {
    case 'text':
      return s.length <= OWN_TEXT_MOST
        ? { ok: true, value: s }
        : { ok: false, reason: `longer than ${OWN_TEXT_MOST} characters` };
    case 'number': {
      const figures = s.replace(/(?<=\d),(?=\d{3}(?:\D|$))/g, '').replace(/^[$€£]\s*/, '');
      const n = Number(figures);
      return figures !== '' && Number.isFinite(n) && /^[-+]?[\d.]+(?:e[-+]?\d+)?$/i.test(figures)
        ? { ok: true, value: String(n) }
        : { ok: false, reason: 'no number' };
    }
    case 'date': {
      const date = readDate(s, order);
      if (date.ok) return { ok: true, value: date.date };
      return {
        ok: false,
        reason: date.reason === 'doubtful' ? 'day and month could be either: write it as 2026-03-12' : 'no date',
      };
    }
    case 'choice': {
      const choice = field.choices.find((c) => c.toLowerCase() === s.toLowerCase());
      return choice === undefined
        ? { ok: false, reason: `none of its choices (${field.choices.join(', ')})` }
        : { ok: true, value: choice };
    }
  }
}
