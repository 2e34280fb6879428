/** What the registrar's people read by; their own, and not the readiness check's. */

export const has = (text: string, ...words: string[]): boolean => {
  const plain = ` ${text.toLowerCase().replace(/[^a-z0-9%$]+/g, ' ')} `;
  return words.some((w) => plain.includes(` ${w} `));
};
export const squeezed = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');
export const names = (text: string, f: { nameLine: string; legalName: string }): boolean =>
  [f.nameLine, f.legalName].some((n) => n.trim() !== '' && squeezed(text).includes(squeezed(n)));

export const SITE = /^(?:https?:\/\/)?[a-z0-9-]+(?:\.[a-z0-9-]+)+(?:[/?#].*)?$/i;
export const hostOf = (site: string): string =>
  site
    .replace(/^https?:\/\//i, '')
    .split(/[/?#:]/)[0]
    ?.toLowerCase()
    .replace(/^www\./, '') ?? '';
export const LINK =
  /(?:https?:\/\/|www\.)\S+|\b[a-z0-9-]+(?:\.[a-z0-9-]+)*\.(?:com|org|net|gov|edu|io|co|shop|example|ly|gl|gd|gy|us|info)(?:\/\S*)?/i;
export const PHONE = /\(?\b\d{3}\)?[-. ]?\d{3}[-. ]\d{4}\b|\b1?-?8\d\d-[A-Z0-9-]{7,}/;

/** Subjects that no network carries. */
export const BANNED = [
  'casino',
  'gambling',
  'betting',
  'slot machines',
  'free spins',
  'cannabis',
  'marijuana',
  'cbd',
  'kratom',
  'payday loan',
  'payday loans',
  'debt relief',
  'debt settlement',
  'your debt',
  'get rich',
  'passive income',
  'lead generation',
  'no credit check',
];
export const SHARED_HOSTS = [
  'bit.ly',
  'tinyurl.com',
  'goo.gl',
  't.co',
  'ow.ly',
  'is.gd',
  'cutt.ly',
  'rb.gy',
  'lnk.example',
];
