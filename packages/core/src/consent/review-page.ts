import { finding, type Finding } from '../finding/finding.js';
import { contrast, CONTRAST, inkOn } from '../public-page/colours.js';
import type { PageLanguage } from '../public-page/words.js';
import { saysHowOften } from '../text/disclosed.js';
import { promotionalWords } from '../text/promotion.js';
import { disclosureOf, reviewWords, type Programme } from './disclosure.js';

/** What somebody writes of an opt-in page, as far as it is looked through. */
export interface PageDraft {
  title: string;
  intro: string;
  purposes: readonly Programme[];
  privacyUrl: string;
  termsUrl: string;
  language: PageLanguage;
  ground: string;
  accent: string;
  thanks: string;
  picture: { words: string } | null;
}

/** As often as something happens, said in a field that is about how often and nothing else. */
const AS_IT_HAPPENS =
  /\b(?:before|after|at|on|with) (?:each|every|any)\b|\bas (?:it|they|something|things?)\b|\bwhen(?:ever)?\b|\bvar(?:y|ies)\b|\brarely|\bonly (?:if|when)\b/i;
const OFTEN_ES =
  /\b(?:diari|semanal|quincenal|mensual|anual)|\b(?:al|por|cada) (?:d[ií]a|semana|mes|a[nñ]o)\b|\bcada vez\b|\bcuando\b|\bseg[uú]n\b|\bvar[ií]a\b|\d+ (?:mensajes|veces)\b/i;
/** Words that make agreeing a condition of something. Source: 47 CFR 64.1200(f)(9)(i)(B); rules.md, consent. */
const CONDITION =
  /\b(?:you (?:must|have to|need to) (?:agree|join|sign up|opt in)|(?:required|mandatory|necessary) (?:to|for) (?:book|order|buy|purchase|enter|ride|sail)\w*|only if you (?:agree|join|sign up)|debe (?:aceptar|inscribirse)|obligatorio para)\b/i;

const often = (words: string, language: PageLanguage): boolean =>
  language === 'es' ? OFTEN_ES.test(words) : saysHowOften(words) || AS_IT_HAPPENS.test(words);

/**
 * What is missing or wrong in an opt-in page: parts of each kind's disclosure, a kind that is called by another's name,
 * agreement made a condition, pages that cannot be opened, colours nobody can read. Fields are those of the form:
 * `informational`, `promotionalOften`, `privacyUrl`, `ground` …
 * Source: rules.md, consent; 47 CFR 64.1200(f)(9); WCAG 2.2.
 */
export function reviewPage(p: PageDraft, names: { legalName: string; nameLine: string }): Finding[] {
  const out: Finding[] = [];
  for (const kind of p.purposes) {
    const { purpose } = kind;
    // Of the words that are put together only what the business wrote of it can be missing; Spanish ones are ours.
    const whole =
      p.language === 'en' ? reviewWords(disclosureOf(names.legalName, kind, p), [purpose], names, purpose) : [];
    out.push(...whole.filter((f) => f.code !== 'disclosure-no-frequency'));
    if (!often(kind.frequency, p.language))
      out.push(
        finding(
          'disclosure-no-frequency',
          `${purpose}Often`,
          `“${kind.frequency}” does not say how often.`,
          p.language === 'es' ? 'Say how often: “unos cuatro al mes”.' : 'Say how often: “about four a month”.',
        ),
      );
    const offer = purpose === 'informational' ? promotionalWords(kind.label) : null;
    if (offer)
      out.push(
        finding(
          'page-kind-promotional',
          purpose,
          `“${offer.words}” is an offer, and this box is for notices.`,
          'Offer it under offers, with a box of its own; who wants notices has not agreed to offers.',
          { start: offer.start, end: offer.end },
        ),
      );
  }
  for (const field of ['title', 'intro', 'thanks'] as const) {
    const found = CONDITION.exec(p[field]);
    if (found)
      out.push(
        finding(
          'page-conditional',
          field,
          `“${found[0]}” makes agreeing a condition.`,
          'Say what people get by it; what they buy or book must not depend on it.',
          { start: found.index, end: found.index + found[0].length },
        ),
      );
  }
  for (const [field, url, what] of [
    ['privacyUrl', p.privacyUrl, 'privacy page'],
    ['termsUrl', p.termsUrl, 'terms page'],
  ] as const)
    if (url.trim() !== '' && !/^https:\/\/[^\s/.]+\.[^\s/]+/i.test(url.trim()))
      out.push(
        finding(
          'page-no-link',
          field,
          `“${url.trim()}” cannot be opened from the page.`,
          `Give the ${what} as it stands in a browser: “https://…”.`,
        ),
      );
  out.push(...reviewColours(p));
  if (p.picture && p.picture.words.trim() === '')
    out.push(
      finding(
        'page-picture-unsaid',
        'pictureWords',
        'Who cannot see the picture is not told what it shows.',
        'Say it in a few words.',
      ),
    );
  return out;
}

function reviewColours({ ground, accent }: Pick<PageDraft, 'ground' | 'accent'>): Finding[] {
  const says = (field: 'ground' | 'accent', what: string, is: number, least: number): Finding[] =>
    is >= least
      ? []
      : [
          finding(
            'page-low-contrast',
            field,
            `${what} has a contrast of ${(Math.floor(is * 10) / 10).toFixed(1)} : 1; ${least} : 1 is the least.`,
            'Choose a lighter or a darker colour.',
          ),
        ];
  return [
    ...says('ground', 'Text on this ground', contrast(inkOn(ground), ground), CONTRAST.text),
    ...says('accent', 'The button’s text', contrast(inkOn(accent), accent), CONTRAST.text),
    ...says('accent', 'The button against the ground', contrast(accent, ground), CONTRAST.edge),
  ];
}
