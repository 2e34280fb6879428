import type { Span } from '../../finding/finding.js';
import { isDenied, sentencesOf } from './sentences.js';

const DATA =
  '(?:it|them|this|your|their|the|mobile|phone|personal)? ?(?:numbers?|information|data|details|consents?|opt[- ]?ins?)?';
const OTHERS =
  '(?:partners?|third[- ]part(?:y|ies)|affiliates?|sponsors?|advertisers?|other (?:companies|businesses|agencies|agents|organi[sz]ations)|lenders|buyers|installers|providers)';
const WAYS: readonly RegExp[] = [
  new RegExp(
    `\\b(?:shar(?:e[sd]?|ing)|s(?:ell(?:s|ing)?|old)|rent(?:s|ed|ing)?|disclos(?:e[sd]?|ing)|transfer(?:s|red|ring)?|pass(?:es|ed|ing)?|provid(?:e[sd]?|ing)|g(?:ive[sn]?|iving)|forward(?:s|ed|ing)?|releas(?:e[sd]?|ing))\\b ?${DATA}[^.]{0,40}\\b(?:with|to|on to)\\b[^.]{0,30}\\b${OTHERS}\\b[^.]{0,60}\\b(?:marketing|promot\\w+|offers?|advertis\\w+|own purposes|contact you|texts?)`,
    'i',
  ),
  new RegExp(
    `\\b(?:shar(?:e[sd]?|ing)|s(?:ell(?:s|ing)?|old)|rent(?:s|ed|ing)?)\\b ?${DATA}[^.]{0,30}\\b(?:with|to)\\b[^.]{0,30}\\b(?:up to \\w+ )?(?:marketing |trusted |selected )?${OTHERS}\\b`,
    'i',
  ),
  new RegExp(`\\b${OTHERS}\\b[^.]{0,30}\\b(?:may|can|will) (?:also )?(?:contact|text|call|message|send)\\b`, 'i'),
];
/** Those who carry the texts are no strangers to them. */
const CARRIERS =
  /\b(?:service providers?|processors?|carriers?|messaging provider|deliver(?:y of)? (?:the |our )?(?:texts?|messages?))\b/i;

/** The sentences by which numbers, or the consent to text them, go to others for their own marketing; not their denial. */
export function sharingForMarketing(text: string): Span[] {
  return sentencesOf(text).flatMap(({ text: sentence, start }) => {
    const shared = WAYS.some((re) => {
      const m = re.exec(sentence);
      if (!m || isDenied(sentence, { start: m.index, end: m.index + m[0].length }, 60)) return false;
      return !(CARRIERS.test(sentence) && !/\bmarketing|promot/i.test(m[0]));
    });
    return shared ? [{ start, end: start + sentence.length }] : [];
  });
}
