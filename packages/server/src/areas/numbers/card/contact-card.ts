/** What stands on a number's contact card. */
export interface CardFacts {
  business: string;
  nameLine: string;
  /** What people are to know it by; the name line where empty. */
  cardName: string;
  e164: string;
  website: string;
  email: string;
  picture: { type: string; bytes: Buffer };
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

/** The contact card people keep, so that they recognise who writes (vCard 4.0). source: RFC 6350. */
export function vCard(f: CardFacts): string {
  const lines = [
    'BEGIN:VCARD',
    'VERSION:4.0',
    'KIND:org',
    `FN:${escape(f.cardName || f.nameLine)}`,
    `ORG:${escape(f.business)}`,
    `TEL;TYPE="text,voice";VALUE=uri:tel:${f.e164}`,
    ...(f.website ? [`URL:${f.website}`] : []),
    ...(f.email ? [`EMAIL:${escape(f.email)}`] : []),
    `PHOTO:data:${f.picture.type};base64,${f.picture.bytes.toString('base64')}`,
    `REV:${new Date(f.revision).toISOString().replace(/[-:]/g, '').slice(0, 15)}Z`,
    'END:VCARD',
  ];
  return lines.map(fold).join('\r\n') + '\r\n';
}
