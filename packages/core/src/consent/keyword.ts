import { finding, type Finding } from '../finding/finding.js';
import { lackingOf } from '../registration/review-replies.js';
import { readReply } from '../replies/read-reply.js';
import { parseMerge } from '../text/merge.js';
import { segmentText, type Segmented } from '../text/segments.js';
import { PURPOSE_WORDS, reviewWords, type Programme } from './disclosure.js';
import type { ConsentState, Purpose } from './events.js';

/** How long a keyword may be, in letters and digits. */
export const KEYWORD_LENGTH = { least: 2, most: 20 };

/** A word people text to join: its one way of writing, or why it can be none. */
export type ReadKeyword = { ok: true; word: string } | { ok: false; why: string };

/**
 * Reads a word as a business writes it. Letters and digits alone, so that a phone keyboard has them; a word that means
 * something of itself (to stop, to come back, help, yes, in any language the reader of replies knows) is reserved.
 * Source: the carriers' keyword lists; rules.md, consent.
 */
export function readKeyword(raw: string): ReadKeyword {
  const word = raw.trim().toUpperCase();
  if (word === '') return { ok: false, why: 'Write a word.' };
  if (/[^A-Z0-9]/.test(word)) return { ok: false, why: `“${word}” has more than letters A to Z and digits in it.` };
  if (readReply(word).intent !== 'other')
    return { ok: false, why: `“${word}” is reserved: it means something of itself.` };
  if (word.length < KEYWORD_LENGTH.least)
    return { ok: false, why: `“${word}” is too short: ${KEYWORD_LENGTH.least} letters or digits at least.` };
  if (word.length > KEYWORD_LENGTH.most)
    return { ok: false, why: `“${word}” is too long: ${KEYWORD_LENGTH.most} letters or digits at most.` };
  return { ok: true, word };
}

/** Who texts a keyword: somebody new, somebody who is in already, or somebody who was in, or was asked, and left. */
export const KEYWORD_COMERS = ['new', 'already', 'back'] as const;
export type KeywordComer = (typeof KEYWORD_COMERS)[number];

const LEFT: readonly ConsentState[] = ['revoked', 'declined', 'lapsed', 'expired', 'voided'];

/**
 * @param states where the number stands now, by purpose.
 * @param barred purposes its owner refused by another of their numbers: these stand for nothing here.
 */
export function comerOf(
  states: Readonly<Record<Purpose, ConsentState>>,
  barred: readonly Purpose[],
  programmes: readonly Programme[],
): KeywordComer {
  if (programmes.every((p) => states[p.purpose] === 'granted' && !barred.includes(p.purpose))) return 'already';
  return programmes.some((p) => LEFT.includes(states[p.purpose]) || barred.includes(p.purpose)) ? 'back' : 'new';
}

/** What an answer to a keyword may carry of the one who texted it. */
export const KEYWORD_FIELDS = { firstName: 'first name', code: 'code' } as const;
export type KeywordField = keyof typeof KEYWORD_FIELDS;

/** An answer filled in; a field without a value comes out as its fallback. */
export function keywordAnswer(answer: string, values: Partial<Record<KeywordField, string>>): string {
  return parseMerge(answer)
    .map((p) => (p.kind === 'text' ? p.text : values[p.name as KeywordField]?.trim() || p.fallback || ''))
    .join('')
    .trim();
}

/** Whether an answer gives a code. */
export const givesCode = (answer: string): boolean =>
  parseMerge(answer).some((p) => p.kind === 'field' && p.name === 'code');

/** The longest first name that is counted on where none is known. */
const LONG_NAME = 'Bartholomew';

/** An answer as long as it gets. @param longestCode of the codes it may carry. */
export function longestAnswer(answer: string, longestCode: string): Segmented {
  return segmentText(keywordAnswer(answer, { firstName: LONG_NAME, code: longestCode }));
}

/** A programme people join by a word, as it is written. */
export interface KeywordDraft {
  words: readonly string[];
  programmes: readonly Programme[];
  /** The words by which people are told of it: on a sign, on the radio. */
  told: string;
  doubleOptIn: boolean;
  answers: Record<KeywordComer, string>;
}

/** Answers to start from; they say what has to be said. */
export function answersFor(nameLine: string, programmes: readonly Programme[]): Record<KeywordComer, string> {
  const kinds = programmes
    .map((p) => `${PURPOSE_WORDS[p.purpose]} (${p.frequency.trim().replace(/[.\s]+$/, '')})`)
    .join(' and ');
  const ends = 'Msg & data rates may apply. Reply HELP for help, STOP to end.';
  return {
    new: `${nameLine}: you are in for ${kinds}. ${ends}`,
    already: `${nameLine}: you are in already. Reply HELP for help, STOP to end.`,
    back: `${nameLine}: welcome back, [firstName|traveller]. You are in for ${kinds}. ${ends}`,
  };
}

/** Words to tell people by, to start from; they say what has to be said. @param to the number, as people write it. */
export function toldFor(
  nameLine: string,
  word: string,
  to: string,
  programmes: readonly Programme[],
  termsUrl: string,
): string {
  const kinds = programmes
    .map((p) => `${PURPOSE_WORDS[p.purpose]}, ${p.frequency.trim().replace(/[.\s]+$/, '')}`)
    .join('; ');
  const offers = programmes.some((p) => p.purpose === 'promotional');
  return [
    `Text ${word} to ${to} to get automated ${offers ? 'promotional ' : ''}texts from ${nameLine} (${kinds}).`,
    ...(offers ? ['Agreeing is not a condition of any purchase.'] : []),
    `Message and data rates may apply. Reply HELP for help, STOP to end. Terms and privacy: ${termsUrl}`,
  ].join(' ');
}

/** Two texts' worth: an answer is read at once, or not at all. */
const MOST_SEGMENTS = 2;
const CALLED: Record<KeywordComer, string> = {
  new: 'who is new',
  already: 'who is in already',
  back: 'who comes back',
};

/**
 * What keeps a keyword's programme from being proof, or its answers from being what they have to be: the words people
 * are told by, and who, how often, rates, HELP and STOP in the answer that says somebody is in.
 * Source: 47 CFR 64.1200(f)(9); the trade's messaging principles; rules.md, consent.
 * @param longestCode of the codes there are to give.
 */
export function reviewKeyword(
  k: KeywordDraft,
  names: { legalName: string; nameLine: string },
  longestCode = '',
): Finding[] {
  const purposes = k.programmes.map((p) => p.purpose);
  const out = reviewWords(k.told, purposes, names, 'told');
  if (k.words.length > 0 && k.told.trim() !== '' && !k.words.some((w) => new RegExp(`\\b${w}\\b`, 'i').test(k.told)))
    out.push(
      finding(
        'keyword-not-told',
        'told',
        `It tells nobody to text ${k.words.join(' or ')}.`,
        `Say “Text ${k.words[0] ?? ''} to …”: it is by this word that they agree.`,
      ),
    );
  if (!k.doubleOptIn && purposes.includes('promotional'))
    out.push(
      finding(
        'keyword-single-opt-in',
        'doubleOptIn',
        'Offers begin without a YES: a mistyped or passed-on phone is in at once.',
        'Ask for a YES first.',
      ),
    );
  for (const comer of KEYWORD_COMERS) out.push(...reviewAnswer(k.answers[comer], comer, names, longestCode));
  return out;
}

function reviewAnswer(
  answer: string,
  comer: KeywordComer,
  names: { legalName: string; nameLine: string },
  longestCode: string,
): Finding[] {
  const field = `answers.${comer}`;
  if (answer.trim() === '')
    return [
      finding(
        'keyword-answer-empty',
        field,
        `Somebody ${CALLED[comer]} would get no answer.`,
        'Write one; it is all they see of it.',
      ),
    ];
  const out: Finding[] = [];
  for (const p of parseMerge(answer)) {
    if (p.kind !== 'field') continue;
    const span = { start: p.start, end: p.end };
    if (!(p.name in KEYWORD_FIELDS))
      out.push(
        finding(
          'merge-unknown-field',
          field,
          `There is no field “${p.name}” here.`,
          `Use ${Object.keys(KEYWORD_FIELDS).join(' or ')}.`,
          span,
        ),
      );
    else if (!p.fallback)
      out.push(
        finding(
          'merge-no-fallback',
          field,
          p.name === 'code'
            ? 'When no code is left nothing stands there.'
            : 'Who has no first name here is called nothing.',
          p.name === 'code'
            ? 'Write [code|ask at the counter], for instance.'
            : 'Write [firstName|traveller], for instance.',
          span,
        ),
      );
  }
  const lacks = lackingOf(answer, names).filter((x) => comer !== 'already' || x.what === 'the name');
  if (lacks.length > 0)
    out.push(
      finding(
        'keyword-answer-incomplete',
        field,
        `What somebody ${CALLED[comer]} gets lacks ${lacks.map((x) => x.what).join(', ')}.`,
        lacks.map((x) => x.add || `Begin with “${names.nameLine}:”.`).join(' '),
      ),
    );
  const segments = longestAnswer(answer, longestCode).parts.length;
  if (segments > MOST_SEGMENTS)
    out.push(
      finding(
        'keyword-answer-long',
        field,
        `It goes out as ${segments} texts.`,
        `Shorten it to ${MOST_SEGMENTS}; each is paid for, and the last is read by few.`,
      ),
    );
  return out;
}

/** Codes as they are pasted: by lines, commas, semicolons or tabs, each once, in their order. */
export function readCodes(pasted: string): { codes: string[]; twice: number; refused: string[] } {
  const seen = new Set<string>();
  const refused: string[] = [];
  let twice = 0;
  for (const raw of pasted.split(/[\n\r,;\t]+/)) {
    const code = raw.trim();
    if (code === '') continue;
    if (code.length > 40 || /[\p{C}[\]]/u.test(code)) refused.push(code);
    else if (seen.has(code)) twice++;
    else seen.add(code);
  }
  return { codes: [...seen], twice, refused };
}
