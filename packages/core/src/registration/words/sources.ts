import type { Span } from '../../finding/finding.js';
import { everyMatch, isDenied, sentencesOf } from './sentences.js';

const PEOPLE = '(?:lists?|leads?|contacts?|numbers?|names|databases?|records|data|details|addresses|prospects)';
const GOT =
  '(?:bought|buys?|buying|purchas\\w+|rent(?:s|ed|ing)?|leas(?:e[ds]?|ing)|licen[cs]\\w+|acquir\\w+|scrap\\w+|harvest\\w+|append\\w+)';
const STRANGERS =
  '(?:(?:data|list|lead|consumer[- ]data|marketing)(?:[- ](?:data|list|lead))? (?:brokers?|vendors?|providers?|suppliers?|compan(?:y|ies)|aggregators?|sellers?)|third[- ]part(?:y|ies)|(?:marketing |affiliate |our )?partners?|affiliates?|comparison sites?|other (?:companies|businesses|firms))';

const WAYS: readonly RegExp[] = [
  new RegExp(`\\b${GOT} (?:\\w+ ){0,2}?${PEOPLE}\\b`, 'gi'),
  new RegExp(`\\b${PEOPLE} (?:that |which )?(?:(?:we|they|were|was|are|is) ){0,2}(?:also )?${GOT}\\b`, 'gi'),
  /\b(?:third[- ]party|partner(?:['’]s|s['’])?|shared|borrowed|inherited) (?:\w+ )?(?:lists?|leads?|contacts?|numbers?|databases?)\b/gi,
  /\b(?:data|list|lead) (?:broker|vendor|supplier|aggregator)s?\b/gi,
  new RegExp(
    `\\b${STRANGERS}\\b[^.]{0,60}\\b(?:pass|send|give|sell|hand|forward|share|transfer|provide)\\w*\\b[^.]{0,40}\\b(?:to us|on to|us (?:with )?(?:\\w+ )?${PEOPLE}|their (?:customers|details))`,
    'gi',
  ),
  new RegExp(
    `\\b(?:get|got|receive|obtain|source|come|collect)\\w*\\b[^.]{0,40}\\b(?:from|through|by) (?:a |an |the |our |other )?(?:\\w+ )?${STRANGERS}\\b`,
    'gi',
  ),
  /\b(?:phone book|public (?:records|directories|registers|sources)|directories|yellow pages|linkedin|voter (?:file|roll)s?|property records|business cards we found|web ?scraping)\b/gi,
];

/** Words by which numbers come from strangers: bought, rented, shared or gathered lists; not those that deny it. */
export function strangersLists(text: string): Span[] {
  const found: Span[] = [];
  for (const { text: sentence, start } of sentencesOf(text))
    for (const re of WAYS)
      for (const m of everyMatch(sentence, re)) {
        if (isDenied(sentence, m)) continue;
        const at = { start: start + m.start, end: start + m.end };
        // The same words by another way are one finding.
        if (!found.some((f) => f.start < at.end && at.start < f.end)) found.push(at);
      }
  return found.sort((a, b) => a.start - b.start);
}
