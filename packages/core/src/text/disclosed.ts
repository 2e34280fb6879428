// Parts of a disclosure as real ones put them, and not words that only look like them.

const OFTEN =
  /\b(?:(?:msg|message|text)?s? ?frequency|how often|daily|weekly|fortnightly|monthly|yearly|(?:a|per|each|every|once|twice|times?) (?:a |an |per |each )?(?:day|week|month|year|quarter|fortnight)|every (?:day|week|month|\w+day|other \w+)|as (?:they|it) happens?|when(?:ever)? (?:\w+ ){1,6}(?:change|changes|is|are)|(?:frequency|number|volume)[^.]{0,20}\bvar(?:y|ies)|one[- ]time|recurring|a few (?:texts?|messages?|times?)|up to (?:\d+|one|two|three|four|five|six|ten)\b|\d+(?: ?(?:-|–|to|or) ?\d+)? ?(?:texts?|messages?|msgs?|alerts?)\b|(?:\d+|one|two|three|four)(?: ?(?:-|–|to|or) ?(?:\d+|two|three|four|five))? (?:texts?|messages?|times?)|\d+ ?\/ ?(?:mo|month|wk|week|day))\b/i;
/** Said of prices, passes and days, not of texts: “a monthly pass”, “open weekdays”. */
const NOT_OF_TEXTS =
  /\b(?:monthly|weekly|daily|yearly) (?:passe?s?|tickets?|fees?|rents?|plans?|payments?|bills?|specials?|rides?)\b/gi;

/** True where words say how often texts come, or that it varies. */
export function saysHowOften(words: string): boolean {
  return OFTEN.test(words.replace(NOT_OF_TEXTS, ' '));
}

/** True where words say that the carrier may charge: “Msg & data rates may apply”. A “first-rate school” says no such thing. */
export function saysRates(words: string): boolean {
  return /\b(?:msgs?|messages?|texts?|data|standard|carriers?['’]?s?|normal|usual)\b[^.!?]{0,30}\b(?:rates?|charges?|fees?)\b|\b(?:rates?|charges?|fees?)\b[^.!?]{0,12}\bmay (?:apply|be charged)\b/i.test(
    words,
  );
}
