const FIRST =
  'Ada Brandt Cora Dunmore Eide Farrow Greta Hollis Imre Joss Kestrel Linnet Maren Nell Odette Perrin Quill Rosalind Sable Teasel Una Vesper Wren Yarrow Zephra'.split(
    ' ',
  );
const LAST =
  'Alderquay Brackwater Carrowmere Dunfold Elmsarn Fenwharf Gorsedale Harcastle Islemoor Jarrowby Kilnfoss Larchwith Mossgate Northbank Orrinsea Pellwick Quillmere Reedholt Saltmarsh Thornquay Umberley Vinegarth Withyham Yarnside'.split(
    ' ',
  );
const AREAS = '201 551 609 732 212 315 718 914 215 610 203 860 410 561 904 312 713 303 206 415'.split(' ');

const FURTHER = '202 404 505 702 801 816 901 503 602 615 512 214 305 407 417 480 520 541 502 504'.split(' ');

/** Generated numbers, never shown and never called: exchanges 2XX to 9XX spread by a fixed step. */
export function number(i: number): string {
  const exchange = 200 + ((Math.floor(i / 200_000) * 97 + i * 7) % 700);
  const fit = exchange === 555 ? 556 : exchange % 100 === 11 ? exchange + 1 : exchange;
  return `+1${AREAS[i % AREAS.length]}${fit}${String(Math.floor(i / 20) % 10_000).padStart(4, '0')}`;
}

const pick = (list: readonly string[], n: number): string => list[n % list.length] ?? '';
/** The same at every run. */
const spread = (i: number, salt: number): number => Math.imul(i + salt, 0x9e3779b1) >>> 8;

export function person(i: number): { firstName: string; lastName: string; email: string } {
  const firstName = pick(FIRST, spread(i, 1));
  const lastName = `${pick(LAST, spread(i, 2))}${pick(['', 's', 'e', 'en', 'by'], spread(i, 3))}`;
  const email = spread(i, 4) % 10 < 6 ? `${firstName}.${lastName}${i}@post.example`.toLowerCase() : '';
  return { firstName, lastName, email };
}

/** Values of a choice that a business keeps of its people. */
export const PREFERENCES = ['Window', 'Aisle', 'Deck', 'Quiet car'] as const;
export const TAGS = ['Season', 'Concession'] as const;

/** What a field of their own holds, another text for nearly everybody. */
export const seat = (i: number): string => `Row ${spread(i, 5) % 997} ${pick(LAST, spread(i, 6))}`;

export const tags = (i: number): string[] => TAGS.filter((_, k) => spread(i, 7 + k) % 4 === 0);

/** One in eight has a further number: of an area code that nobody's first one has. */
export function further(i: number): string {
  return spread(i, 9) % 8 === 0
    ? number(i).replace(/^\+1(\d{3})/, (_, area: string) => `+1${FURTHER[AREAS.indexOf(area)]}`)
    : '';
}
