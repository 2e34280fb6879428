import type { Span } from '../../finding/finding.js';

/** A sentence of a text, with the place where it begins; the space before it is not its own. */
export interface Sentence {
  text: string;
  start: number;
}

/** The sentences of a text. A full stop inside a word, as in a web address, ends none. */
export function sentencesOf(text: string): Sentence[] {
  const out: Sentence[] = [];
  for (const m of text.matchAll(/(?:[^.!?;]|[.!?](?=\S))+[.!?;]*/g)) {
    const lead = /^\s*/.exec(m[0])?.[0].length ?? 0;
    if (m[0].trim() !== '') out.push({ text: m[0].slice(lead).trimEnd(), start: m.index + lead });
  }
  return out;
}

const DENIAL =
  /\b(?:not|never|no|nobody|none|neither|nor|without|don['’]?t|doesn['’]?t|do(?:es)? not|isn['’]?t|aren['’]?t|needn['’]?t|won['’]?t|cannot|can['’]?t)\b/i;

/** Whether a match is denied by the words right before it in its clause, or within it: “no condition of purchase”. */
export function isDenied(sentence: string, at: Span, before = 40): boolean {
  const clause = sentence.slice(Math.max(0, at.start - before), at.end);
  const cut = Math.max(clause.lastIndexOf(', but '), clause.lastIndexOf(' but '), clause.lastIndexOf(': '));
  return DENIAL.test(cut < 0 ? clause : clause.slice(cut));
}

/** Where a pattern is found in a text, every time. @param re with the flag `g`. */
export function everyMatch(text: string, re: RegExp): (Span & { words: string })[] {
  return [...text.matchAll(re)].map((m) => {
    const lead = /^\s*/.exec(m[0])?.[0].length ?? 0;
    return { start: m.index + lead, end: m.index + m[0].length, words: m[0].slice(lead) };
  });
}
