import type { Span } from '../finding/finding.js';

/** Words that make an offer, whatever surrounds them. */
const OFFERS: readonly RegExp[] = [
  /\b\d{1,2}\s?(?:%|percent|per cent) ?(?:off|discount|less|savings?|de descuento)\b/i,
  /[$€£]\s?\d+(?:\.\d\d)? (?:off|less|discount)\b/i,
  /\b(?:save|saving) (?:up to )?(?:[$€£]\s?\d|\d{1,2}\s?%)/i,
  /\b(?:half[- ]price|clearance|flash sale|on sale now|sale (?:ends|starts|now on|price)|(?:spring|summer|autumn|fall|winter|holiday|weekend|big|annual|end-of-season) sale)\b/i,
  /\b(?:special|exclusive|limited[- ]time|introductory|last[- ]minute|members?[- ]only) (?:offers?|deals?|prices?|rates?|fares?)\b/i,
  /\b(?:discounts?|promo(?:tion)?s?|promo code|coupons?|cash ?back|buy one|two for one|2 for 1|bogo|free gift|early[- ]?bird|descuentos?|rebajas?|oferta especial)\b/i,
  // One that somebody already has is only brought along.
  /(?<!\b(?:bring|show|present|scan|print|hand in)\b[^.!?]{0,200})\bvouchers?\b/i,
  /\b(?:book|order|shop|buy|subscribe|upgrade) (?:now|today|early) (?:and|to|for|at|from)\b/i,
  /\b(?:shop|order|buy|book) now\b/i,
  /\b(?:last chance to|don'?t miss (?:out|our|this)|hurry,|while (?:stocks?|supplies) lasts?)\b/i,
  /\b(?:great|best|good|hot|today'?s|this week'?s) deals?\b/i,
  /\b(?:from|only|just|now) [$€£]\s?\d[\d.,]*/i,
  /\bwin (?:a|an|one|our|tickets|free)\b/i,
  /\b(?:enter|join) (?:now|our|the) (?:raffle|draw|giveaway|sweepstakes|contest)\b/i,
  /\bfree (?:trial|sample|shipping|delivery|entry|upgrade|drink|ticket)s?\b/i,
];
/** Words that may only name a programme of offers ("reply YES to get offers"). */
const NAMES_OFFERS =
  /\boffers?\b(?! (?:you|us|to|help|a|an|the|your|my|no)\b)|\bdeals?\b(?= (?:on|for|at|of|inside)\b)/i;

/**
 * The first words that make a text promotional, or null: an inducement to buy, rent or invest (47 CFR 64.1200(f)(13),
 * "telephone solicitation"; (f)(1), "advertisement").
 * @param namesOffers also take the mere naming of offers for one; left out for answers about a programme of offers.
 */
export function promotionalWords(text: string, namesOffers = true): (Span & { words: string }) | null {
  let best: (Span & { words: string }) | null = null;
  for (const re of namesOffers ? [...OFFERS, NAMES_OFFERS] : OFFERS) {
    const m = re.exec(text);
    if (m && (best === null || m.index < best.start))
      best = { start: m.index, end: m.index + m[0].length, words: m[0] };
  }
  return best;
}
