import type { Span } from '../../finding/finding.js';

const WAYS: readonly RegExp[] = [
  // (201) 555-0142, 201-555-0142, 201.555.0142, +1 201 555 0142, 2015550142
  /(?<![\w.-])(?:\+?1[ .-]?)?(?:\(\d{3}\) ?|\d{3}[ .-]?)\d{3}[ .-]?\d{4}(?![\w-]|\.\d)/g,
  // vanity: 1-800-555-PANE, 800 FERRIES
  /(?<![\w.-])(?:1[ .-]?)?(?:\(?8(?:00|33|44|55|66|77|88)\)?)[ .-](?:[A-Z0-9][ .-]?){6,9}(?![a-z\w])/g,
  // abroad: +44 7700 900112
  /(?<![\w.-])\+[2-9]\d{0,2}(?:[ .()-]*\d){6,12}(?!\w)/g,
];

/** The phone numbers of a text as people write them: bracketed, dotted, foreign and in letters. No order or card number. */
export function phonesIn(text: string): Span[] {
  return WAYS.flatMap((re) => [...text.matchAll(re)])
    .filter(
      (m) =>
        !/\b(?:order|parcel|tracking|ref(?:erence)?|invoice|card|account|no|nr|number|#)[ .:#]*$/i.test(
          text.slice(0, m.index),
        ) || /[ .()-]/.test(m[0].trim()),
    )
    .map((m) => ({ start: m.index, end: m.index + m[0].trimEnd().length }))
    .sort((a, b) => a.start - b.start);
}
