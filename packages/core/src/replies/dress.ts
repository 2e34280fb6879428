/** Letters of other scripts that look like Latin ones, as they are used to dress a word up. */
const LOOK_ALIKES: Readonly<Record<string, string>> = Object.fromEntries(
  [
    ...'АA ВB ЕE КK МM НH ОO РP СC ТT ХX ЅS ІI ЈJ аa еe оo рp сc уy хx ѕs іi јj ΑA ΒB ΕE ΗH ΙI ΚK ΜM ΝN ΟO ΡP ΤT ΥY ΧX οo'.matchAll(
      /(\S)(\S)/gu,
    ),
  ].map((m) => [m[1] ?? '', m[2] ?? '']),
);
const LOOK_ALIKE = new RegExp(`[${Object.keys(LOOK_ALIKES).join('')}]`, 'gu');
const DIGIT_LETTERS: Readonly<Record<string, string>> = {
  0: 'o',
  1: 'l',
  3: 'e',
  4: 'a',
  5: 's',
  7: 't',
  $: 's',
  '@': 'a',
};

/** Words a person may dress up letter by letter, and that are looked for behind the dress. */
const DRESSED = new Set(
  'stop stopall end quit cancel unsubscribe revoke optout start unstop help info yes alto baja basta parar ayuda'.split(
    ' ',
  ),
);

/** How words are written in texts, and how they are slipped; each as the word meant. */
const WRITTEN: Readonly<Record<string, string>> = {
  u: 'you',
  ur: 'your',
  r: 'are',
  y: 'y',
  pls: 'please',
  plz: 'please',
  plse: 'please',
  pleas: 'please',
  plez: 'please',
  txt: 'text',
  txts: 'texts',
  txting: 'texting',
  txtin: 'texting',
  texing: 'texting',
  texin: 'texting',
  textin: 'texting',
  texitng: 'texting',
  tex: 'text',
  msg: 'message',
  msgs: 'messages',
  msging: 'messaging',
  messagin: 'messaging',
  mesage: 'message',
  mesages: 'messages',
  messges: 'messages',
  massages: 'messages',
  messege: 'message',
  messeges: 'messages',
  sms: 'texts',
  sendin: 'sending',
  snding: 'sending',
  dnt: 'dont',
  dont: 'dont',
  donot: 'dont',
  dont_: 'dont',
  wont: 'wont',
  im: 'im',
  thx: 'thanks',
  ty: 'thanks',
  tks: 'thanks',
  anymore: 'anymore',
  mor: 'more',
  outta: 'out of',
  frm: 'from',
  plx: 'please',
  txtng: 'texting',
  nmore: 'no more',
  yall: 'yall',
  intrested: 'interested',
  intersted: 'interested',
  numer_: 'number',
  stopit: 'stop it',
  nomore: 'no more',
  rmove: 'remove',
  remov: 'remove',
  reomve: 'remove',
  remve: 'remove',
  removve: 'remove',
  delet: 'delete',
  dlete: 'delete',
  unsub: 'unsubscribe',
  unsubs: 'unsubscribe',
  unsuscribe: 'unsubscribe',
  wrng: 'wrong',
  worng: 'wrong',
  num: 'number',
  nmbr: 'number',
  numbr: 'number',
  numer: 'number',
  cancle: 'cancel',
  canel: 'cancel',
  cancell: 'cancel',
  cansel: 'cancel',
  cancal: 'cancel',
  qiut: 'quit',
  qut: 'quit',
  quitt: 'quit',
  hlep: 'help',
  hepl: 'help',
  optuot: 'optout',
  optot: 'optout',
  k: 'ok',
  okay: 'ok',
  ppl: 'people',
  b4: 'before',
  gonna: 'going to',
  wanna: 'want to',
  ya: 'ya',
  ill: 'ill',
  batsa: 'basta',
  bsta: 'basta',
  canselar: 'cancelar',
  cancelr: 'cancelar',
  cancelen: 'cancelen',
  mensages: 'mensajes',
  mensaje: 'mensaje',
  msj: 'mensaje',
  msjs: 'mensajes',
  q: 'que',
  xfa: 'por favor',
  porfa: 'por favor',
  porfavor: 'por favor',
  nomas: 'no mas',
  alot: 'a lot',
};
/** Words one letter away from "stop" that are words of their own. */
const NOT_STOP = new Set(
  'shop step top slop atop stops stow stomp strop stock store stoop stove stone stood stoup'.split(' '),
);

/** One sentence of a reply, cleaned: lower case, single spaces, a space at either end. */
export interface Clause {
  words: string;
  question: boolean;
}

export interface Cleaned {
  /** All of it in one: what keywords are compared with. */
  whole: string;
  clauses: Clause[];
  /** A sign to stop, by itself or among words. */
  stopSign: boolean;
}

/** Takes a text out of every dress phones and people put words in. Source: Unicode UAX 15 (NFKC), UTS 39 (confusables). */
export function clean(text: string): Cleaned {
  const stopSign = /[🛑⛔🚫✋]/u.test(text);
  let s = text.normalize('NFKC');
  if (/[^\x20-\x7e]/.test(s))
    s = s
      .replace(/[\p{Cf}\u{fe00}-\u{fe0f}\u{e0100}-\u{e01ef}]/gu, '')
      .replace(LOOK_ALIKE, (c) => LOOK_ALIKES[c] ?? c)
      .replace(/[’‘‛`´ʼ′]/g, "'")
      .replace(/[“”„«»″]/g, '"')
      .replace(/[\p{Extended_Pictographic}\p{Emoji_Modifier}]/gu, ' ')
      .replace(/đ/gi, 'd')
      .normalize('NFD')
      .replace(/\p{M}/gu, '')
      .normalize('NFC');
  s = s.toLowerCase().replace(/'/g, '');
  s = undress(s);
  const clauses: Clause[] = [];
  for (const m of s.matchAll(/([^.!?;\n…]+)([.!?;\n…]*)/g)) {
    const words = tidy(m[1] ?? '');
    if (words !== '')
      clauses.push({ words: ` ${words} `, question: (m[2] ?? '').includes('?') || (m[1] ?? '').includes('¿') });
  }
  return { whole: clauses.map((c) => c.words.trim()).join(' '), clauses, stopSign };
}

/** Spaced and dotted letters together, digits that stand for letters, letters held down. */
function undress(s: string): string {
  let out = s.replace(
    /(?<![\p{L}\p{N}])(?:[\p{L}\p{N}$@][\s.\-_*·•,/|~+]{1,2}){2,}[\p{L}\p{N}$@](?![\p{L}\p{N}])/gu,
    (run) => {
      const joined = undigit(run.replace(/[\s.\-_*·•,/|~+]/g, ''));
      return DRESSED.has(joined) || DRESSED.has(single(joined)) ? single(joined) : run;
    },
  );
  out = out
    .replace(/\bun[- ]sub/g, 'unsub')
    .replace(/\bopt[- ]?(?:ing|ed)?[- ]?out\b/g, (m) => (/ing|ed/.test(m) ? m : 'optout'));
  return out;
}

const undigit = (w: string): string => w.replace(/[0134 57$@]/g, (c) => DIGIT_LETTERS[c] ?? c);
const single = (w: string): string => (DRESSED.has(w) ? w : w.replace(/(\p{L})\1+/gu, '$1'));

function tidy(part: string): string {
  return part
    .replace(/[^\p{L}\p{N}$@#*&]+/gu, ' ')
    .trim()
    .split(' ')
    .map(word)
    .filter((w) => w !== '')
    .join(' ');
}

function word(raw: string): string {
  let w = raw;
  if (/[$@\d]/.test(w) && /[\p{L}$@]/u.test(w)) {
    const plain = undigit(w);
    if (DRESSED.has(plain)) w = plain;
  }
  // Letters held down; none of our words has three in a row.
  if (/(.)\1\1/u.test(w)) {
    const one = w.replace(/(.)\1{2,}/gu, '$1');
    const two = w.replace(/(.)\1{2,}/gu, '$1$1');
    w = DRESSED.has(one) ? one : DRESSED.has(single(two)) ? single(two) : one;
  } else if (DRESSED.has(single(w)) && single(w).length >= 4) w = single(w);
  w = w.replace(/[*#&$@]/g, (c) => (c === '#' ? ' number' : ' ')).trim();
  if (w in WRITTEN && Object.hasOwn(WRITTEN, w)) return WRITTEN[w] ?? w;
  const glued =
    /^(stop|quit|unsubscribe|cancel|remove)(it|texting|now|please|pls|this|me|messages|texts|messaging|sending|spamming|all)$/.exec(
      w,
    );
  if (glued && w !== 'stopall') return `${glued[1] ?? ''} ${glued[2] ?? ''}`;
  if (isSlip(w, 'stop') && !NOT_STOP.has(w)) return 'stop';
  if (w.length >= 9 && w.startsWith('u') && distance(w, 'unsubscribe') <= 3)
    return w.endsWith('d') || w.endsWith('r') ? w : 'unsubscribe';
  return w;
}

/** One letter missing, too many, wrong or swapped; the first letter may slip only to a neighbour or be doubled. */
function isSlip(w: string, meant: string): boolean {
  if (w === meant || w.length < 3 || w.length > meant.length + 1) return false;
  if (w.length === meant.length - 1) return w === 'stp' || w === 'sto';
  if (!/^[sdawxzt]/.test(w) || !/[tsop]$/.test(w)) return false;
  return distance(w, meant) === 1;
}

/** Damerau's distance (optimal string alignment). */
function distance(a: string, b: string): number {
  const rows: number[][] = [Array.from({ length: b.length + 1 }, (_, j) => j)];
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const cost = a[i - 1] === b[j - 1] ? 0 : 1;
      let best = Math.min((rows[i - 1]?.[j] ?? 0) + 1, (row[j - 1] ?? 0) + 1, (rows[i - 1]?.[j - 1] ?? 0) + cost);
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        best = Math.min(best, (rows[i - 2]?.[j - 2] ?? 0) + 1);
      row.push(best);
    }
    rows.push(row);
  }
  return rows[a.length]?.[b.length] ?? 0;
}

const joining = new Map<string, string>();

/** The form joining words are compared in; there are few of them, and each is cleaned once. */
export function keyword(text: string): string {
  let word = joining.get(text);
  if (word === undefined) {
    word = clean(text).whole;
    if (joining.size > 1000) joining.clear();
    joining.set(text, word);
  }
  return word;
}
