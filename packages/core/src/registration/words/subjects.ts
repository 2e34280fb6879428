import type { Span } from '../../finding/finding.js';

type Found = Span & { words: string };
/** A subject: words that speak of it, and everyday words that look like them. */
interface Subject {
  words: readonly RegExp[];
  innocent?: RegExp;
}

/** Subjects the carriers forbid. source: rules.md, A2P 10DLC; checked: 2026-11-28 */
const FORBIDDEN: readonly Subject[] = [
  {
    // gambling
    words: [
      /\b(?:casinos?|gambl\w+|sports? ?book\w*|slot machines?|poker (?:room|chips?|site|tournament)s?|roulette|blackjack|free spins?|betting|bookmaker\w*|jackpots?|place (?:a|your) bets?|odds boost|double your (?:first )?deposit|online bingo|lottery tickets?)\b/i,
    ],
    innocent: /\b(?:betting shop|casino (?:royale|night decorations)|no gambling|we bet)\b/gi,
  },
  {
    // cannabis and illegal drugs
    words: [
      /\b(?:cannabis|marijuana|marihuana|weed (?:deals?|delivery|strains?)|thc|cbd|delta[- ]?(?:8|9|10)|kratom|kush|edibles|dispensary (?:deals?|specials?)|pre[- ]?rolls?|magic mushrooms?|psilocybin|steroids)\b/i,
    ],
    innocent: /\b(?:drug[- ]free|weed(?:ing|killer|s)?\b(?! (?:deals|delivery|strains)))\b/gi,
  },
  {
    // high-risk loans
    words: [
      /\b(?:pay ?day (?:loans?|advances?|cash)|(?:loans?|cash|advance) until (?:pay ?day|your next pay)|title loans?|cash advances?|short[- ]term (?:cash )?loans?|no credit check\w*|bad credit (?:ok|okay|welcome|loans?)|instant (?:cash|loan) approval|guaranteed (?:loan )?approval)\b/i,
    ],
    innocent: /\b(?:we make no|against) (?:payday|short[- ]term) loans?\b/gi,
  },
  {
    // debt relief and credit repair
    words: [
      /\b(?:debt (?:relief|consolidation|settlement|reduction|forgiveness|collect\w+|elimination)|(?:eras|cut|reduc|settl|wip|eliminat|slash)\w* (?:\w+ )?(?:up to )?(?:\d+ ?% )?(?:of )?(?:your |their |what (?:you|they) owe|what one owes)?\s?(?:debts?|owe)\b|settl\w+ what (?:you|they|people) owe|credit (?:repair|score boost\w*|fix\w*)|(?:fix|repair|raise|boost) your credit\b|student loan forgiveness|tax relief program)/i,
    ],
    innocent: /\bsettl\w+ (?:a|the|your) (?:bill|invoice|dispute|claim)\b/gi,
  },
  {
    // get rich
    words: [
      /\b(?:get rich|work from home and earn|earn (?:\$ ?[\d,]+|an? \w+ income|money) (?:\w+ ){0,3}(?:from home|online|a (?:day|week))|(?:make|earn) \$ ?[\d,]+(?:\.\d+)? ?(?:a|per|each|every) (?:hour|day|week|month)|passive income|financial freedom|be your own boss|multi[- ]?level|mlm|pyramid|earn an income from home|crypto(?:currency)? (?:investments?|signals?|trading)|forex signals?|double your money|guaranteed returns?)\b/i,
    ],
    innocent: /\bwe pay \$ ?[\d.]+ (?:an|per) hour\b/gi,
  },
  {
    // resale of leads
    words: [
      /\b(?:lead (?:gen(?:eration)?|resale|buyers?|brokers?)|(?:sell|resell|buy)\w* (?:your |our )?leads?\b(?! the way))/i,
    ],
    innocent: /\b(?:lead(?:s|ing)? (?:the|a|singer|guitar|climb\w*|pipes?|paint)|dog lead)\b/gi,
  },
  {
    // hate and sex
    words: [
      /\b(?:escorts? (?:service|tonight)|adult (?:content|entertainment|videos?)|xxx|porn\w*|nudes?|sex (?:toys?|chat|cam)s?|white power|racial purity)\b/i,
    ],
    innocent: /\b(?:police|motor) escort\b/gi,
  },
];

/** Subjects that need an age gate, and everyday words that look like them. */
const AGE: Subject = {
  words: [
    /\b(?:beers?|ales?|stouts?|lagers?|pints?|wines?|whisk(?:e)?ys?|bourbon|vodka|gin|rum|tequila|liquors?|spirits tasting|cocktails?|champagne|alcohol\w*|brewer(?:y|ies)|brewing|distiller(?:y|ies)|winer(?:y|ies)|happy hour|tobacco|cigars?|cigarettes?|vap(?:e|es|ing)|e-?liquid|nicotine|firearms?|ammunition|ammo|handguns?|rifles?|shotguns?|pistols?|guns?)\b/i,
  ],
  innocent:
    /\b(?:(?:ginger|root|birch|butter|non-?alcoholic) (?:beer|ale|wine)s?|rum[- ]raisin\w*|wine[- ](?:red|coloured|colored|gums?)|(?:nail|staple|glue|heat|caulk\w*|spray|massage|water|squirt|paint ?ball|radar|grease|toy|nerf)[- ]guns?|top guns?|jump(?:ing|ed)? the gun|gun(?:metal|nera|wale)|alcohol[- ]free|rubbing alcohol|hand sanitizer|ale ?(?:house)? ?road|cotton gin|gin rummy|pints? of (?:milk|cream|ice|berries|blood|strawberries)|give (?:a )?(?:pint|blood)|tobacco[- ]free|quit (?:smoking|tobacco|vaping))\b/gi,
};

/** Lending that has to be declared; not a credit for one's next visit. */
const LENDING: Subject = {
  words: [
    /\b(?:loans?|mortgages?|refinanc\w+|lines? of credit|home equity|lend(?:ing|ers?)|apr|financing (?:from|at|for)|(?:personal|car|auto|home|student) (?:loan|credit)s?)\b/i,
  ],
  innocent:
    /\b(?:inter-?library loans?|loan(?:ed|s|er)? (?:of )?(?:a |the )?(?:book|bike|boat|tool|car|skate|canoe|kayak|board)s?|(?:tool|book|toy|bike) (?:loan|lending)s?|lend(?:ing)? (?:librar\w+|seeds|books?|tools?|a hand)|on loan|loaner (?:car|bike)s?|april)\b/gi,
};

function find(text: string, { words, innocent }: Subject): Found | null {
  // What is innocent is blanked out, so that places stay where they are.
  const left = innocent ? text.replace(innocent, (m) => ' '.repeat(m.length)) : text;
  for (const re of words) {
    const m = re.exec(left);
    if (m) return { start: m.index, end: m.index + m[0].length, words: m[0] };
  }
  return null;
}

/** The first words of a text that speak of a subject the carriers forbid; null where none do. */
export function forbiddenSubject(text: string): Found | null {
  const all = FORBIDDEN.map((s) => find(text, s)).filter((f) => f !== null);
  return all.sort((a, b) => a.start - b.start)[0] ?? null;
}

/** The first words that speak of what only adults may have; null where none do. */
export const adultsOnly = (text: string): Found | null => find(text, AGE);

/** The first words that speak of lending money; null where none do. */
export const lendingWords = (text: string): Found | null => find(text, LENDING);
