const FIRST =
  'Ada Brandt Cora Dunmore Eide Farrow Greta Hollis Imre Joss Kestrel Linnet Maren Nell Odette Perrin Quill Rosalind Sable Teasel Una Vesper Wren Yarrow Zephra'.split(
    ' ',
  );
const LAST =
  'Alderquay Brackwater Carrowmere Dunfold Elmsarn Fenwharf Gorsedale Harcastle Islemoor Jarrowby Kilnfoss Larchwith Mossgate Northbank Orrinsea Pellwick Quillmere Reedholt Saltmarsh Thornquay Umberley Vinegarth Withyham Yarnside'.split(
    ' ',
  );
const AREAS = '201 551 609 732 212 315 718 914 215 610 203 860 410 561 904 312 713 303 206 415'.split(' ');

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
