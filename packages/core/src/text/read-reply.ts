import type { Purpose } from '../consent/events.js';

export type Intent = 'stop' | 'start' | 'help' | 'yes' | 'join' | 'other';

export interface ReplyReading {
  intent: Intent;
  /** 0 to 1. A stop at or above {@link STOP_AT_ONCE} is carried out at once. */
  confidence: number;
  /** The words that decided, as written; empty for `other`. */
  matched: string;
  /** Which purposes are meant, where the words name some. */
  purposes?: Purpose[];
  /** A person should look; promotional texts are held meanwhile. */
  review: boolean;
}

/** From this confidence on a stop in the person's own words is carried out at once (and still shown). */
export const STOP_AT_ONCE = 0.75;

const STOP_WORDS = new Set([
  'STOP',
  'STOPALL',
  'STOP ALL',
  'UNSUBSCRIBE',
  'CANCEL',
  'END',
  'QUIT',
  'REVOKE',
  'OPT OUT',
  'OPTOUT',
]);
const START_WORDS = new Set(['START', 'UNSTOP']);
const HELP_WORDS = new Set(['HELP', 'INFO']);

/** Plain wishes to stop, in the person's own words; English and Spanish, strongest first. */
const STOP_PHRASES: { re: RegExp; confidence: number }[] = [
  {
    re: /\b(?:stop|quit|cease|please stop)\s+(?:texting|messaging|contacting|sending|bothering|spamming|these|the|all)\b/i,
    confidence: 0.95,
  },
  { re: /\b(?:unsubscribe|opt(?:ing)?[ -]?out|opt me out)\b/i, confidence: 0.9 },
  { re: /\b(?:take|get|remove)\s+(?:me|my (?:number|name|phone))\s+(?:off|out|from)\b/i, confidence: 0.95 },
  { re: /\bremove me\b/i, confidence: 0.95 },
  {
    re: /\b(?:do not|don'?t|dont|never)\s+(?:text|txt|message|contact|send|write)\b(?!\s+(?:forget|worry))/i,
    confidence: 0.92,
  },
  { re: /\bno more (?:texts?|messages?|msgs?)\b/i, confidence: 0.93 },
  { re: /\b(?:lose|delete) my number\b/i, confidence: 0.93 },
  { re: /\bleave me alone\b/i, confidence: 0.9 },
  { re: /\bwrong (?:number|person)\b/i, confidence: 0.6 },
  { re: /\b(?:not interested|no longer interested|no thanks?,? (?:stop|don'?t))\b/i, confidence: 0.6 },
  { re: /\b(?:revoke|withdraw)\b.{0,20}\b(?:consent|permission)\b/i, confidence: 0.97 },
  {
    re: /\b(?:no me|dejen? de|deje de|parar? de|paren de)\s+(?:mand|envi|escrib|mensaje|text|molest|manden|envíen|escriban)\w*/i,
    confidence: 0.93,
  },
  { re: /\b(?:no (?:quiero|deseo)(?: recibir)? (?:más |mas )?(?:mensajes|textos))\b/i, confidence: 0.93 },
  { re: /\b(?:darme de baja|dar de baja|denme de baja|cancelar (?:la )?suscripci[oó]n)\b/i, confidence: 0.93 },
  { re: /^\s*(?:alto|basta|baja|parar?)\s*[.!]*\s*$/i, confidence: 0.8 },
];

const QUOTE = /^\s*(?:liked|loved|disliked|laughed at|emphasized|questioned|removed an? \w+ from)\s+[“"'‘]/i;
/** Words between "stop" and its object that show something else is meant ("bus stop", "can't stop laughing"). */
const NOT_A_WISH =
  /\b(?:bus|ferry|next|first|last|pit|full|non)[- ]?stop\b|\bstop (?:by|in|over|at)\b|\b(?:can'?t|cannot|couldn'?t|won'?t) stop\b|\b(?:when|where|does|do|will|what time)\b[^?]*\bstop\b[^?]*\?/i;

/**
 * Reads what a person wrote back.
 * Source: 47 CFR 64.1200(a)(10) (any reasonable means); the carriers' keyword lists; rules.md, consent.
 * @param context.lastSent the last text sent to this person: a reaction that quotes it is no opt-out.
 * @param context.keywords joining words of the business.
 */
export function readReply(
  text: string,
  context: { lastSent?: string; keywords?: readonly string[] } = {},
): ReplyReading {
  const other: ReplyReading = { intent: 'other', confidence: 1, matched: '', review: false };
  if (QUOTE.test(text) && quotes(text, context.lastSent)) return other;
  const body = stripSignature(text);
  const word = normalize(body);
  const words = word.split(' ').filter(Boolean);
  if (word === '') return other;
  if (STOP_WORDS.has(word)) return { intent: 'stop', confidence: 1, matched: body.trim(), review: false };
  const known = (w: string): boolean =>
    STOP_WORDS.has(w) ||
    START_WORDS.has(w) ||
    HELP_WORDS.has(w) ||
    w === 'YES' ||
    w === 'PLEASE' ||
    w === 'ALL' ||
    w === 'NOW';
  const flat = word.replace(/\bOPT OUT\b/g, 'OPTOUT').split(' ');
  if (flat.every(known) && flat.some((w) => STOP_WORDS.has(w)))
    return { intent: 'stop', confidence: 1, matched: body.trim(), review: false };
  if (START_WORDS.has(word)) return { intent: 'start', confidence: 1, matched: body.trim(), review: false };
  if (HELP_WORDS.has(word)) return { intent: 'help', confidence: 1, matched: body.trim(), review: false };
  if (word === 'YES' || word === 'Y') return { intent: 'yes', confidence: 1, matched: body.trim(), review: false };
  const join = (context.keywords ?? []).find((k) => normalize(k) === word);
  if (join) return { intent: 'join', confidence: 1, matched: join, review: false };
  if (NOT_A_WISH.test(body) && !/\btexting|messag/i.test(body)) return other;
  for (const { re, confidence } of STOP_PHRASES) {
    const m = re.exec(body);
    if (!m) continue;
    const promoOnly = /\b(?:offers?|promo\w*|ads?|advertis\w*|marketing|deals?|ofertas|promociones)\b/i.test(body);
    if (promoOnly)
      return {
        intent: 'stop',
        confidence: Math.min(confidence, 0.7),
        matched: m[0],
        purposes: ['promotional'],
        review: true,
      };
    return { intent: 'stop', confidence, matched: m[0], review: true };
  }
  // The stop word first and then a little more ("STOP please I mean it"): a wish more likely than not.
  const first = words[0] ?? '';
  if (STOP_WORDS.has(first) && words.length <= 6 && first !== 'END' && first !== 'CANCEL') {
    return { intent: 'stop', confidence: 0.85, matched: first, review: true };
  }
  if ((first === 'CANCEL' || first === 'END') && words.length <= 3)
    return { intent: 'stop', confidence: 0.6, matched: first, review: true };
  return other;
}

/** Upper case, width folded, without punctuation, emoji or doubled spaces: the form keywords are compared in. */
export function normalize(text: string): string {
  return text
    .normalize('NFKC')
    .toUpperCase()
    .replace(/['’]/g, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim();
}

/** Cuts a mail-style signature: a line of dashes, or "Sent from my …", and what follows. */
function stripSignature(text: string): string {
  const cut = text.search(/\n\s*(?:--|__|sent from my\b|enviado desde\b)/i);
  return cut > 0 ? text.slice(0, cut) : text;
}

function quotes(text: string, lastSent: string | undefined): boolean {
  if (!lastSent) return true;
  const inner = /[“"'‘](.+?)(?:…|\.\.\.)?[”"'’]?\s*$/s.exec(text)?.[1] ?? '';
  return inner.length >= 4 && normalize(lastSent).includes(normalize(inner));
}
