import type { Span } from '../finding/finding.js';
import type { CustomerRecord, PortFacts } from './port-request.js';

/** How a value of ours stands to the old carrier's: what a reviewer there would say. */
export type Likeness = 'same' | 'doubtful' | 'will be rejected';

/** One field of the request laid beside the record. Spans mark the characters that differ, on either side. */
export interface FieldComparison {
  field: ComparedField;
  ours: string;
  theirs: string;
  likeness: Likeness;
  why: string;
  oursDiffer: Span[];
  theirsDiffer: Span[];
}

export const COMPARED_FIELDS = [
  'holderName',
  'accountNumber',
  'street',
  'unit',
  'city',
  'state',
  'postalCode',
  'billingNumber',
] as const;
export type ComparedField = (typeof COMPARED_FIELDS)[number];

/** Usual abbreviations of streets and units. source: USPS Publication 28, appendices C1 and C2 (those in common use). */
const ABBREVIATIONS: Readonly<Record<string, string>> = {
  avenue: 'ave',
  av: 'ave',
  boulevard: 'blvd',
  circle: 'cir',
  court: 'ct',
  drive: 'dr',
  expressway: 'expy',
  highway: 'hwy',
  junction: 'jct',
  lane: 'ln',
  parkway: 'pkwy',
  place: 'pl',
  plaza: 'plz',
  point: 'pt',
  road: 'rd',
  square: 'sq',
  str: 'street',
  terrace: 'ter',
  trail: 'trl',
  turnpike: 'tpke',
  way: 'way',
  quay: 'quay',
  mount: 'mt',
  fort: 'ft',
  north: 'n',
  south: 's',
  east: 'e',
  west: 'w',
  northeast: 'ne',
  northwest: 'nw',
  southeast: 'se',
  southwest: 'sw',
  apartment: 'apt',
  building: 'bldg',
  department: 'dept',
  floor: 'fl',
  suite: 'ste',
  unit: 'unit',
  room: 'rm',
  number: '#',
  no: '#',
};
/** Words for a part of a building that carriers take for one another; a floor, a building and a department are others. */
const SUITE_WORDS = new Set(['apt', 'ste', 'unit', 'rm', '#']);
const OTHER_PARTS = new Set(['fl', 'bldg', 'dept']);
const DIRECTIONS: Readonly<Record<string, string>> = {
  n: 'North',
  s: 'South',
  e: 'East',
  w: 'West',
  ne: 'Northeast',
  nw: 'Northwest',
  se: 'Southeast',
  sw: 'Southwest',
};
const LEGAL_FORMS: Readonly<Record<string, string>> = {
  incorporated: 'inc',
  corporation: 'corp',
  company: 'co',
  limited: 'ltd',
  '&': 'and',
  llc: 'llc',
};

function words(text: string, table: Readonly<Record<string, string>>): string[] {
  return text
    .normalize('NFKD')
    .replace(/\p{Diacritic}/gu, '')
    .toLowerCase()
    .replace(/l\.l\.c\.?/g, 'llc')
    .replace(/#/g, ' # ')
    .replace(/&/g, ' and ')
    .replace(/[.,'’"()]/g, '')
    .split(/[^\p{L}\p{N}#]+/u)
    .filter((w) => w !== '')
    .map((w) => table[w] ?? w);
}

/** The letters and digits of a text in lower case, with the place of each in it. */
function letters(text: string): { char: string; at: number }[] {
  const out: { char: string; at: number }[] = [];
  for (let i = 0; i < text.length; i++) {
    const char = text.charAt(i).toLowerCase();
    if (/[\p{L}\p{N}]/u.test(char)) out.push({ char, at: i });
  }
  return out;
}

/** Which characters differ, by the longest common subsequence of letters and digits; case and punctuation never do. */
export function differingSpans(a: string, b: string): { a: Span[]; b: Span[] } {
  const [x, y] = [letters(a), letters(b)];
  const table = Array.from({ length: x.length + 1 }, () => new Uint16Array(y.length + 1));
  for (let i = x.length - 1; i >= 0; i--)
    for (let j = y.length - 1; j >= 0; j--)
      (table[i] as Uint16Array)[j] =
        x[i]?.char === y[j]?.char
          ? (table[i + 1]?.[j + 1] ?? 0) + 1
          : Math.max(table[i + 1]?.[j] ?? 0, table[i]?.[j + 1] ?? 0);
  const [onlyA, onlyB]: [number[], number[]] = [[], []];
  let [i, j] = [0, 0];
  while (i < x.length || j < y.length) {
    if (i < x.length && j < y.length && x[i]?.char === y[j]?.char) [i, j] = [i + 1, j + 1];
    else if (j >= y.length || (i < x.length && (table[i + 1]?.[j] ?? 0) >= (table[i]?.[j + 1] ?? 0)))
      onlyA.push(x[i++]?.at ?? 0);
    else onlyB.push(y[j++]?.at ?? 0);
  }
  return { a: merge(onlyA, a), b: merge(onlyB, b) };
}

/** Neighbouring places become one span; what lies between them and is no letter belongs to it. */
function merge(places: readonly number[], text: string): Span[] {
  const spans: Span[] = [];
  for (const at of places) {
    const last = spans.at(-1);
    if (last && !/[\p{L}\p{N}]/u.test(text.slice(last.end, at))) last.end = at + 1;
    else spans.push({ start: at, end: at + 1 });
  }
  return spans;
}

/** Levenshtein distance, for typing mistakes. */
function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next[j] = Math.min(
        (next[j - 1] ?? 0) + 1,
        (row[j] ?? 0) + 1,
        (row[j - 1] ?? 0) + (a.charAt(i - 1) === b.charAt(j - 1) ? 0 : 1),
      );
    row = next;
  }
  return row[b.length] ?? 0;
}

type Judged = Pick<FieldComparison, 'likeness' | 'why'>;
/** What is said of a field that carriers take for the same although its letters differ. */
export const SPELLED_OTHERWISE = 'The same, spelled otherwise.';
const SAME: Judged = { likeness: 'same', why: 'The same.' };
/** Carriers take it for the same, though it is written otherwise. */
const spelled = (ours: string, theirs: string): Judged =>
  ours === theirs ? SAME : { likeness: 'same', why: SPELLED_OTHERWISE };
const doubtful = (why: string): Judged => ({ likeness: 'doubtful', why });
const rejected = (why: string): Judged => ({ likeness: 'will be rejected', why });

function judgeName(ours: string, theirs: string, tradingAs: string): Judged {
  const [a, b] = [words(ours, LEGAL_FORMS), words(theirs, LEGAL_FORMS)];
  const [left, right] = [a.join(' '), b.join(' ')];
  if (left === right) return spelled(ours, theirs);
  if (
    /\b(dba|d\/b\/a|trading as|t\/a)\b/i.test(ours) ||
    (tradingAs && words(tradingAs, LEGAL_FORMS).join(' ') === left)
  )
    return rejected('A trading name (dba) stands here; the record is under the legal name.');
  const forms = new Set(['llc', 'inc', 'corp', 'co', 'ltd']);
  const bare = (list: readonly string[]): string => list.filter((w) => !forms.has(w)).join(' ');
  if (bare(a) === bare(b)) return rejected('The legal form at the end of the name differs.');
  const extra = (from: readonly string[], than: readonly string[]): string[] => from.filter((w) => !than.includes(w));
  const [more, missing] = [extra(a, b), extra(b, a)];
  if (more.length === 0 && missing.length === 1 && missing[0]?.length === 1)
    return rejected(`The record has the middle initial “${missing[0].toUpperCase()}”, which is missing here.`);
  if (missing.length === 0 && more.length === 1 && more[0]?.length === 1)
    return rejected(`The record has no middle initial “${more[0].toUpperCase()}”.`);
  if (more.length === 0 && missing.length > 0) return rejected(`The record also has “${missing.join(' ')}”.`);
  if (missing.length === 0 && more.length > 0) return rejected(`“${more.join(' ')}” is not in the record.`);
  if (more.length === 0) return doubtful('The same words in another order.');
  return rejected(typingMistake(left, right) || 'Another name than in the record.');
}

/** A slip of one or two keys, in words; empty where it is more than that. Carriers compare letter by letter and reject it. */
function typingMistake(ours: string, theirs: string): string {
  const slips = editDistance(ours, theirs);
  if (slips > 2 || ours.length <= 6) return '';
  return `${slips === 1 ? 'One letter differs' : 'Two letters differ'}: the record is compared letter by letter.`;
}

/**
 * The words of an address, with St told apart by its place: before a name it is a saint, behind one a street.
 * “12 St Mark St” is 12, Saint Mark, Street.
 */
function addressWords(text: string): string[] {
  const list = words(text, ABBREVIATIONS);
  return list.map((word, i) => {
    if (word !== 'st') return word;
    const name = list.slice(i + 1).some((w) => !(w in DIRECTIONS) && !/\d/.test(w) && !isPart(w));
    return name ? 'saint' : 'street';
  });
}
const isPart = (word: string): boolean => SUITE_WORDS.has(word) || OTHER_PARTS.has(word);

function judgeAddress(ours: string, theirs: string): Judged {
  const [a, b] = [addressWords(ours), addressWords(theirs)];
  const [left, right] = [a.join(' '), b.join(' ')];
  if (left === right) return spelled(ours, theirs);
  const digits = (list: readonly string[]): string => list.filter((w) => /\d/.test(w)).join(' ');
  if (digits(a) !== digits(b)) return rejected('Another house number than in the record.');
  const directions = (list: readonly string[]): string[] => list.filter((w) => w in DIRECTIONS);
  const without = (list: readonly string[]): string => list.filter((w) => !(w in DIRECTIONS)).join(' ');
  if (without(a) === without(b)) {
    const [here, there] = [directions(a), directions(b)].map((d) => d.map((w) => DIRECTIONS[w] ?? w).join(' '));
    if (!here) return rejected(`The record has “${there}”, which is missing here.`);
    return rejected(there ? `${here} here, ${there} in the record.` : `“${here}” is not in the record.`);
  }
  return rejected(typingMistake(left, right) || 'Another street than in the record.');
}

/** What each part of a building is said to be: `ste 4` and `#4` are one kind, a floor is another. */
function partsOf(text: string): Map<string, string> {
  const parts = new Map<string, string>();
  let kind = 'suite';
  for (const word of words(text, ABBREVIATIONS)) {
    if (SUITE_WORDS.has(word)) kind = 'suite';
    else if (OTHER_PARTS.has(word)) kind = word;
    else parts.set(kind, [parts.get(kind), word].filter((w) => w !== undefined).join(' '));
  }
  return parts;
}
const PART_WORDS: Readonly<Record<string, string>> = {
  suite: 'suite or unit',
  fl: 'floor',
  bldg: 'building',
  dept: 'department',
};

/** Part by part: the digits of one never slide into another, and a floor is no suite. */
function judgeUnit(ours: string, theirs: string): Judged {
  const [a, b] = [partsOf(ours), partsOf(theirs)];
  for (const kind of new Set([...b.keys(), ...a.keys()])) {
    const [mine, kept] = [a.get(kind), b.get(kind)];
    const what = PART_WORDS[kind] ?? kind;
    if (mine === undefined) return rejected(`The record has a ${what} that is missing here.`);
    if (kept === undefined) return rejected(`The record has no ${what}.`);
    if (mine !== kept) return rejected(`Another ${what} than in the record.`);
  }
  return spelled(ours, theirs);
}

function judgeExact(ours: string, theirs: string, what: string): Judged {
  const bare = (t: string): string => t.replace(/[^\p{L}\p{N}]/gu, '').toUpperCase();
  if (bare(ours) === bare(theirs)) return spelled(ours, theirs);
  if (bare(ours).replace(/^0+/, '') === bare(theirs).replace(/^0+/, ''))
    return rejected('Leading zeros count: write them as in the record.');
  return rejected(`Another ${what} than in the record.`);
}

function judgePostalCode(ours: string, theirs: string): Judged {
  const five = (t: string): string => t.replace(/\D/g, '').slice(0, 5);
  return five(ours) === five(theirs) ? spelled(ours, theirs) : rejected('Another ZIP code than in the record.');
}

/** One field of a request beside the record's, judged as the old carrier would. */
export function compareField(field: ComparedField, ours: string, theirs: string, tradingAs = ''): FieldComparison {
  const judged = ((): Judged => {
    switch (field) {
      case 'holderName':
        return judgeName(ours, theirs, tradingAs);
      case 'street':
      case 'city':
        return judgeAddress(ours, theirs);
      case 'unit':
        return judgeUnit(ours, theirs);
      case 'postalCode':
        return judgePostalCode(ours, theirs);
      case 'accountNumber':
        return judgeExact(ours, theirs, 'account number');
      case 'billingNumber':
        return judgeExact(ours, theirs, 'billing number');
      case 'state':
        return judgeExact(ours, theirs, 'state');
    }
  })();
  const spans = judged.likeness === 'same' ? { a: [], b: [] } : differingSpans(ours, theirs);
  return { field, ours, theirs, ...judged, oursDiffer: spans.a, theirsDiffer: spans.b };
}

/** The request beside the record, field by field. */
export function compareRecord(facts: PortFacts, record: CustomerRecord): FieldComparison[] {
  return COMPARED_FIELDS.map((f) => compareField(f, facts[f], record[f], record.tradingAs));
}
