/** What stands on a number's contact card. */
export interface CardFacts {
  business: string;
  nameLine: string;
  label: string;
  e164: string;
  website: string;
  email: string;
  /** Changes with what stands on the card. */
  revision: number;
}

const escape = (text: string): string => text.replace(/[\\,;]/g, (c) => `\\${c}`).replace(/\n/g, '\\n');

/** Folds a line as RFC 6350, 3.2 asks: at most 75 octets, a space before each further piece. */
function fold(line: string): string {
  const out: string[] = [];
  let rest = line;
  while (Buffer.byteLength(rest) > 75) {
    let n = 75;
    while (Buffer.byteLength(rest.slice(0, n)) > 75) n--;
    out.push(rest.slice(0, n));
    rest = ` ${rest.slice(n)}`;
  }
  return [...out, rest].join('\r\n');
}

/** A plain picture with the first letters of the name, in the colour of the house, as an SVG. */
function picture(nameLine: string): string {
  const letters = nameLine
    .split(/\s+/)
    .slice(0, 2)
    .map((w) => w.charAt(0).toUpperCase())
    .join('')
    .replace(/[<&>]/g, '');
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 96 96"><rect width="96" height="96" fill="#0F5C63"/><text x="48" y="62" font-family="sans-serif" font-size="40" fill="#fff" text-anchor="middle">${letters}</text></svg>`;
}

/** The contact card people keep, so that they recognise who writes (vCard 4.0). source: RFC 6350. */
export function vCard(f: CardFacts): string {
  const lines = [
    'BEGIN:VCARD',
    'VERSION:4.0',
    'KIND:org',
    `FN:${escape(f.label === '' ? f.nameLine : `${f.nameLine}: ${f.label}`)}`,
    `ORG:${escape(f.business)}`,
    `TEL;TYPE="text,voice";VALUE=uri:tel:${f.e164}`,
    ...(f.website ? [`URL:${f.website}`] : []),
    ...(f.email ? [`EMAIL:${escape(f.email)}`] : []),
    `PHOTO:data:image/svg+xml;base64,${Buffer.from(picture(f.nameLine)).toString('base64')}`,
    `REV:${new Date(f.revision).toISOString().replace(/[-:]/g, '').slice(0, 15)}Z`,
    'END:VCARD',
  ];
  return lines.map(fold).join('\r\n') + '\r\n';
}
