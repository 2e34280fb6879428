import { finding, type Finding } from '../finding/finding.js';
import { saysHowOften, saysRates } from '../text/disclosed.js';
import type { PageLanguage } from '../public-page/words.js';
import type { Purpose } from './events.js';

/** What a recurring programme promises; page, joining text and confirming text are all made of it, so that they agree. */
export interface Programme {
  purpose: Exclude<Purpose, 'conversational'>;
  /** What is sent, in the business's words: "Text me fare offers". */
  label: string;
  /** How often: "two to four times a month". */
  frequency: string;
  /** In which language it is written and people are told of it; English where it does not say. */
  language?: PageLanguage;
}

/** The short word for a kind of text, the same in every text about it. */
export const PURPOSE_WORDS: Record<Purpose, string> = {
  conversational: 'answers',
  informational: 'notices',
  promotional: 'offers',
};
const PURPOSE_WORDS_ES: Record<Purpose, string> = {
  conversational: 'respuestas',
  informational: 'avisos',
  promotional: 'ofertas',
};
/** Whether programmes are told of in Spanish: all of one page are in one language. */
const inSpanish = (programmes: readonly Programme[]): boolean => programmes.some((p) => p.language === 'es');

const ended = (s: string): string => s.trim().replace(/[.\s]*$/, '.');
const bare = (s: string): string => s.trim().replace(/[.\s]+$/, '');

/**
 * The exact words beside a purpose's box: what is sent and how often, automated texts, no condition, rates, HELP, STOP,
 * privacy and terms. Source: 47 CFR 64.1200(f)(9) for promotional texts; the trade's messaging principles.
 */
export function disclosureOf(legalName: string, p: Programme, pages: { privacyUrl: string; termsUrl: string }): string {
  if (p.language === 'es') return disclosureInSpanish(legalName, p, pages);
  const agreed =
    p.purpose === 'promotional'
      ? `I agree that ${legalName} may send me automated promotional texts at this number. Agreeing is not a condition of any purchase.`
      : `I agree that ${legalName} may send me automated texts about this at this number.`;
  return `${ended(p.label)} How often: ${ended(p.frequency)} ${agreed} Message and data rates may apply. Reply HELP for help, STOP to end. Privacy: ${pages.privacyUrl} Terms: ${pages.termsUrl}`;
}

/** The same in Spanish. STOP, HELP and YES stay as they are: these are the words the carriers act on everywhere. */
function disclosureInSpanish(legalName: string, p: Programme, pages: { privacyUrl: string; termsUrl: string }): string {
  const agreed =
    p.purpose === 'promotional'
      ? `Acepto que ${legalName} me envíe a este número mensajes de texto promocionales automatizados. Aceptar no es condición de ninguna compra.`
      : `Acepto que ${legalName} me envíe a este número mensajes de texto automatizados sobre esto.`;
  return `${ended(p.label)} Frecuencia: ${ended(p.frequency)} ${agreed} Pueden aplicarse tarifas de mensajes y datos. Responda HELP para obtener ayuda, STOP para cancelar. Privacidad: ${pages.privacyUrl} Términos: ${pages.termsUrl}`;
}

/** "offers (two to four times a month) and notices (as sailings change)". */
function kinds(programmes: readonly Programme[], spanish = inSpanish(programmes)): string {
  if (spanish) return programmes.map((p) => `${PURPOSE_WORDS_ES[p.purpose]} (${bare(p.frequency)})`).join(' y ');
  return programmes.map((p) => `${PURPOSE_WORDS[p.purpose]} (${bare(p.frequency)})`).join(' and ');
}

/** The text that asks for the YES of a double opt-in: the same kinds and frequency as the page. */
export function confirmingText(nameLine: string, programmes: readonly Programme[], termsUrl: string): string {
  if (inSpanish(programmes))
    return `${nameLine}: responda YES para recibir ${kinds(programmes)} por mensaje. Pueden aplicarse tarifas. HELP: ayuda, STOP: cancelar. Términos: ${termsUrl}`;
  return `${nameLine}: reply YES to get ${kinds(programmes)} by text. Msg & data rates may apply. HELP for help, STOP to end. Terms: ${termsUrl}`;
}

/**
 * The words of a {@link confirmingText} once some of its kinds were refused before it left.
 * @param asked all it asks for, as it was made.
 * @param still what it is to ask for.
 */
export function confirmingLess(text: string, asked: readonly Programme[], still: readonly Programme[]): string {
  return text.replace(kinds(asked), () => kinds(still, inSpanish(asked)));
}

/** The text that says somebody is in, where the campaign has none of its own. */
export function joinedText(nameLine: string, programmes: readonly Programme[]): string {
  if (inSpanish(programmes))
    return `${nameLine}: ya está inscrito para recibir ${kinds(programmes)}. Pueden aplicarse tarifas. Responda HELP para ayuda, STOP para cancelar.`;
  return `${nameLine}: you are in for ${kinds(programmes)}. Rates may apply. Reply HELP for help, STOP to end.`;
}

/**
 * A greeting to start from, as it is spoken to a caller. One that invites tells all that a disclosure has to, so that
 * pressing 1 can be kept as consent; `reviewDisclosure` finds nothing missing in it.
 * @param website where terms and privacy are; its host is spoken.
 */
export function greetingTemplate(b: { nameLine: string; website: string }, invites: boolean): string {
  const hello = `This is ${b.nameLine}. We answer this number by text.`;
  if (!invites) return `${hello} Send us your question as a text, and we write back.`;
  const host = b.website.replace(/^https?:\/\//, '').replace(/\/$/, '');
  return `${hello} To get automated texts with notices from ${b.nameLine}, about four a month, press 1. Message and data rates may apply. Reply HELP for help and STOP to end. Terms and privacy are ${host ? `at ${host}` : 'on our website'}.`;
}

/**
 * What is missing from words by which people are told before they agree: the business, what kind of texts, how often,
 * that rates may apply, HELP, STOP, terms and privacy. One finding a part; none where all are there.
 * Source: the trade's messaging principles; rules.md, consent.
 */
export function reviewDisclosure(
  words: string,
  names: { legalName: string; nameLine: string },
  field: string,
): Finding[] {
  const plain = (s: string): string =>
    ` ${s
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, ' ')
      .trim()} `;
  const said = plain(words);
  const named = [
    names.legalName,
    names.nameLine,
    names.legalName.replace(/,? (?:LLC|Inc\.?|Ltd\.?|Corp\.?|Co\.)$/i, ''),
  ].some((n) => n.trim() !== '' && said.includes(plain(n)));
  const parts: [boolean, Parameters<typeof finding>[0], string, string][] = [
    [named, 'disclosure-no-name', 'It does not name the business.', `Say “${names.nameLine}”.`],
    [
      /\b(?:text|sms|message)s?\b/i.test(words) &&
        /\b(?:about|notices?|reminders?|alerts?|news|offers?|updates?|order|deals?|codes?|changes?|classes|sailings?|\w+ texts)\b/i.test(
          words,
        ),
      'disclosure-no-kind',
      'It does not say what kind of texts are sent.',
      'Say what they are about: “texts about your orders”.',
    ],
    [
      saysHowOften(words),
      'disclosure-no-frequency',
      'It does not say how often.',
      'Say how often: “about four a month”.',
    ],
    [
      saysRates(words),
      'disclosure-no-rates',
      'It does not say that rates may apply.',
      'Add “Message and data rates may apply.”',
    ],
    [/\bhelp\b/i.test(words), 'disclosure-no-help', 'It does not say how to get help.', 'Add “Reply HELP for help.”'],
    [/\bstop\b/i.test(words), 'disclosure-no-stop', 'It does not say how to stop.', 'Add “Reply STOP to end.”'],
    [
      /\bterms\b/i.test(words) && /\bprivacy\b/i.test(words),
      'disclosure-no-terms',
      'It does not say where terms and privacy are.',
      'Add “Terms and privacy at …”.',
    ],
  ];
  return parts.filter(([there]) => !there).map(([, code, message, fix]) => finding(code, field, message, fix));
}

/**
 * As {@link reviewDisclosure}, for words that are to be proof of these purposes: for promotional texts also that they are
 * automated and that agreeing is no condition of a purchase. Source: 47 CFR 64.1200(f)(9).
 */
export function reviewWords(
  words: string,
  purposes: readonly Purpose[],
  names: { legalName: string; nameLine: string },
  field: string,
): Finding[] {
  const out = reviewDisclosure(words, names, field);
  if (!purposes.includes('promotional')) return out;
  if (!/\bautomat(?:ed|ic(?:ally)?)\b|\bautodial/i.test(words))
    out.push(
      finding(
        'words-not-automated',
        field,
        'It does not say that the texts are automated, which promotional texts have to.',
        'Say “automated promotional texts”; without it the words are proof of informational texts only.',
      ),
    );
  if (!/\bnot?\b[^.]{0,40}\b(?:condition|requir\w+|need\w*)\b|\bwithout (?:buying|purchase)/i.test(words))
    out.push(
      finding(
        'words-conditional',
        field,
        'It does not say that agreeing is no condition of a purchase, which promotional texts have to.',
        'Say “not a condition of any purchase”; without it the words are proof of informational texts only.',
      ),
    );
  return out;
}

/** Whose words these are, by the version under which an event keeps them: a page, a programme of keywords, a form. */
export const sourceOfWords = (version: string): string => version.replace(/, version \d+$/, '');

/** A version of words by what its source is called. @param named what sources are called; where it is not, by itself. */
export function versionInWords(version: string, named: ReadonlyMap<string, string>): string {
  const source = sourceOfWords(version);
  return `${named.get(source) ?? source}${version.slice(source.length)}`;
}
