import { PURPOSES, type Purpose } from '../consent/events.js';
import { isReaction, ownWords } from './cuttings.js';
import { clean, keyword, type Clause, type Cleaned } from './dress.js';
import { weigh } from './features.js';
import {
  ASKS_HOW,
  FILLERS,
  FOREIGN_STOPS,
  HARMLESS,
  KEYWORDS,
  NO_WISH,
  RESTRICTED,
  WISHES,
  YES_WORDS,
} from './grammar.data.js';
import { WEIGHTS } from './weights.data.js';

export type Intent = 'stop' | 'start' | 'help' | 'yes' | 'join' | 'other';

export interface ReplyReading {
  intent: Intent;
  /** 0 to 1. A stop at or above {@link STOP_AT_ONCE} is carried out at once. */
  confidence: number;
  /** The words that decided, as they were read; empty for `other`. */
  matched: string;
  /** Which purposes are meant, where the words name some. */
  purposes?: Purpose[];
  /** A person should look; promotional texts are held meanwhile. */
  review: boolean;
}

/** A list of the business by its name, with the purposes it has been texted for. */
export interface NamedList {
  name: string;
  purposes: readonly Purpose[];
}

/** From this confidence on a stop in the person's own words is carried out at once (and still shown). */
export const STOP_AT_ONCE = 0.75;

/** A pattern this heavy is not doubted. */
const CERTAIN = 0.95;
/** A pattern this heavy is doubted only where the words all but exclude a wish. */
const SURE = 0.9;
/** Below these the weighed words take a pattern's find back, and it is only shown. */
const DOUBTS = { sure: 0.04, soft: 0.2 };
/** From these on the weighed words are a wish by themselves, to be looked at; more where the sentence says the opposite. */
const HEARS = { alone: 0.6, against: 0.93 };

/** Heaviest first, so that the first match decides. */
const BY_WEIGHT = [...WISHES].sort((a, b) => b.weight - a.weight);

const OTHER: ReplyReading = { intent: 'other', confidence: 1, matched: '', review: false };

/**
 * Reads what a person wrote back: out of its dress, without what is quoted, sentence by sentence. A keyword alone or
 * among its like is certain; a wish in the person's own words carries the weight of the pattern that found it; a wish
 * for less than all names its purposes; a question about stopping, or a limit of hours, is shown and is no stop.
 * Source: 47 CFR 64.1200(a)(10) (any reasonable means); the carriers' keyword lists; rules.md, consent.
 * @param context.lastSent the last text sent to this person: what quotes it is not their own word.
 * @param context.keywords joining words of the business.
 * @param context.lists the business's lists and what is sent to them: one that is named limits a wish to that.
 */
export function readReply(
  text: string,
  context: { lastSent?: string; keywords?: readonly string[]; lists?: readonly NamedList[] } = {},
): ReplyReading {
  if (isReaction(text)) return OTHER;
  const read = clean(ownWords(text, context.lastSent));
  if (read.whole === '') return read.stopSign ? wish(0.8, '🛑') : OTHER;
  return byKeyword(read, text, context.keywords ?? []) ?? byWords(read, context.lists ?? []) ?? OTHER;
}

const wish = (confidence: number, matched: string, purposes?: Purpose[]): ReplyReading => ({
  intent: 'stop',
  confidence,
  matched: matched.trim(),
  ...(purposes ? { purposes } : {}),
  review: true,
});
const sure = (intent: Intent, matched: string): ReplyReading => ({ intent, confidence: 1, matched, review: false });

/** A text of nothing but keywords and courtesies. A stop among them wins. */
function byKeyword(read: Cleaned, text: string, joining: readonly string[]): ReplyReading | null {
  const words = read.whole.split(' ').filter((w) => !FILLERS.has(w));
  if (words.length > 0 && words.length <= 8) {
    const kinds = words.map((w) => KEYWORDS[w]);
    if (kinds.every((k) => k !== undefined)) {
      if (kinds.includes('stop')) return sure('stop', read.whole);
      for (const kind of ['start', 'help', 'yes'] as const)
        if (kinds.every((k) => k === kind || k === 'yes')) if (kinds.includes(kind)) return sure(kind, read.whole);
    }
    const bare = words.join(' ');
    const spelled = text
      .normalize('NFKC')
      .replace(/[^\p{L}\p{N}]/gu, '')
      .toLowerCase();
    const join = joining.find((k) => [bare, spelled].includes(keyword(k)));
    if (join) return sure('join', join);
  }
  // "No" is a courtesy before STOP, and a denial before a word of another language.
  const foreign = read.whole
    .split(' ')
    .filter((w) => w === 'no' || !FILLERS.has(w))
    .join(' ');
  if (FOREIGN_STOPS.has(read.whole) || FOREIGN_STOPS.has(foreign)) return wish(0.95, read.whole);
  if (read.whole.length <= 40 && YES_WORDS.test(read.whole)) return sure('yes', read.whole);
  return null;
}

/** Sentence by sentence: the strongest wish counts, and what takes a wish back counts against it. */
function byWords(read: Cleaned, lists: readonly NamedList[]): ReplyReading | null {
  let best: ReplyReading | null = null;
  let asked = '';
  let denied = false;
  const all: Clause = { words: ` ${read.whole} `, question: read.clauses.some((c) => c.question) };
  for (const clause of [...read.clauses, ...(read.clauses.length > 1 ? [all] : [])]) {
    const how = ASKS_HOW.exec(clause.words)?.[0];
    if (how !== undefined) {
      asked ||= how;
      continue;
    }
    denied ||= NO_WISH.some((re) => re.test(clause.words));
    const found = wishIn(clause, read.clauses.length > 1 && clause !== all);
    if (found && (best === null || found.confidence > best.confidence)) best = found;
  }
  // Words one by one, and by the parts they play: hears what no pattern foresaw, and doubts a pattern that stands alone.
  const likely = best && best.confidence >= CERTAIN ? 1 : weigh(read, WEIGHTS);
  if (best && likely < DOUBTS[best.confidence >= SURE ? 'sure' : 'soft'])
    return { ...OTHER, matched: best.matched, review: true };
  if (best) {
    const part = restriction(read, lists);
    if (part) return wish(Math.min(best.confidence, 0.9), best.matched, part);
    return best;
  }
  const part = denied || asked !== '' || all.question ? null : restriction(read, []);
  if (part) return wish(0.8, read.whole.slice(0, 60), part);
  if (likely >= (denied || asked !== '' ? HEARS.against : HEARS.alone))
    return wish(Math.min(0.74, likely), read.whole.slice(0, 60), purposesOfNamed(all.words, lists));
  if (asked !== '') return { ...OTHER, matched: asked.trim(), review: true };
  return null;
}

/** The strongest wish to stop in one sentence; null where it has none, or is something else in a wish's words. */
function wishIn({ words, question }: Clause, alone: boolean): ReplyReading | null {
  if (alone) {
    const bare = words
      .trim()
      .split(' ')
      .filter((w) => !FILLERS.has(w));
    if (bare.length > 0 && bare.every((w) => KEYWORDS[w] === 'stop') && !question)
      return wish(bare.some((w) => w === 'end' || w === 'cancel') ? 0.6 : 0.95, words);
  }
  for (const re of NO_WISH) if (re.test(words)) return null;
  const rest = words.replace(HARMLESS, ' _ ').replace(/ {2,}/g, ' ');
  for (const { re, weight, questionToo } of BY_WEIGHT) {
    if (question && !questionToo) continue;
    const m = re.exec(rest);
    if (m) return wish(weight, m[0]);
  }
  return null;
}

/** The purposes a wish is limited to; null where it is for all. */
function restriction(read: Cleaned, lists: readonly NamedList[]): Purpose[] | null {
  const whole = ` ${read.whole} `;
  if (RESTRICTED.all.test(whole)) return null;
  const listed = purposesOfNamed(whole, lists);
  if (listed) return listed;
  for (const { re, purpose } of RESTRICTED.parts) if (re.test(whole)) return PURPOSES.filter((p) => p === purpose);
  return null;
}

/**
 * What the lists are for that a sentence names: by all words of the name, and by "list" behind a name of one word, which
 * may be any word. A list that was never texted is for nothing, so that the wish stays whole.
 */
function purposesOfNamed(whole: string, lists: readonly NamedList[]): Purpose[] | undefined {
  const named = lists.filter((l) => {
    const name = keyword(l.name);
    return name !== '' && whole.includes(` ${name.includes(' ') ? name : `${name} list`} `);
  });
  const meant = PURPOSES.filter((p) => named.some((l) => l.purposes.includes(p)));
  return meant.length > 0 && named.every((l) => l.purposes.length > 0) ? meant : undefined;
}
