/** GSM-7 default alphabet (3GPP TS 23.038, 6.2.1). */
const GSM_BASIC =
  '@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !"#¤%&\'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà';
/** Extension table: each costs two septets (3GPP TS 23.038, 6.2.1.1). */
const GSM_EXTENDED = '\f^{}\\[~]|€';

const SEPTETS = new Map<string, number>([
  ...[...GSM_BASIC].map((c) => [c, 1] as const),
  ...[...GSM_EXTENDED].map((c) => [c, 2] as const),
]);

/** What a character that forces UCS-2 could be swapped for without changing the sense. */
const SWAPS: Record<string, string> = {
  '‘': "'",
  '’': "'",
  '‚': "'",
  '“': '"',
  '”': '"',
  '„': '"',
  '«': '"',
  '»': '"',
  '–': '-',
  '—': '-',
  '‐': '-',
  '‑': '-',
  '−': '-',
  '…': '...',
  '\u00A0': ' ',
  '\u202F': ' ',
  '\u2009': ' ',
  '\u200B': '',
  '\uFEFF': '',
  '•': '*',
  '·': '.',
  '`': "'",
  '´': "'",
  á: 'a',
  í: 'i',
  ó: 'o',
  ú: 'u',
  ç: 'Ç',
  ê: 'e',
  â: 'a',
  ô: 'o',
  '\t': ' ',
  '×': 'x',
  '™': '(TM)',
  '©': '(c)',
  '®': '(R)',
};

export interface Segmented {
  encoding: 'GSM-7' | 'UCS-2';
  /** Septets (GSM-7) or UTF-16 code units (UCS-2) of the whole text. */
  units: number;
  parts: { text: string; units: number }[];
  /** Characters outside GSM-7, each once, with where it first stands and what could take its place. */
  culprits: { char: string; at: number; count: number; swap: string | null }[];
}

/**
 * Splits a text into the segments it is sent as (3GPP TS 23.040, 9.2.3.24.1: concatenation header with 8-bit
 * reference; `wideReference` for 16-bit). Never separates an escape pair or a surrogate pair. The empty text has
 * no part.
 */
export function segmentText(text: string, options: { wideReference?: boolean } = {}): Segmented {
  const culprits = new Map<string, { char: string; at: number; count: number; swap: string | null }>();
  let septets = 0;
  let at = 0;
  for (const char of text) {
    const cost = SEPTETS.get(char);
    if (cost === undefined) {
      const seen = culprits.get(char);
      if (seen) seen.count++;
      else culprits.set(char, { char, at, count: 1, swap: SWAPS[char] ?? null });
    } else septets += cost;
    at += char.length;
  }
  const gsm = culprits.size === 0;
  const wide = options.wideReference === true;
  const units = gsm ? septets : text.length;
  const single = gsm ? 160 : 70;
  const several = gsm ? (wide ? 152 : 153) : wide ? 66 : 67;
  const cost = (char: string): number => (gsm ? (SEPTETS.get(char) ?? 1) : char.length);
  const parts: Segmented['parts'] = [];
  if (units <= single) {
    if (units > 0) parts.push({ text, units });
  } else {
    let part = '';
    let used = 0;
    for (const char of text) {
      const c = cost(char);
      if (used + c > several) {
        parts.push({ text: part, units: used });
        part = '';
        used = 0;
      }
      part += char;
      used += c;
    }
    parts.push({ text: part, units: used });
  }
  return { encoding: gsm ? 'GSM-7' : 'UCS-2', units, parts, culprits: [...culprits.values()] };
}

/** The text with every culprit that has a harmless swap swapped; null when nothing would change. */
export function swapToGsm(text: string): string | null {
  let out = '';
  for (const char of text) out += SEPTETS.has(char) ? char : (SWAPS[char] ?? char);
  return out === text ? null : out;
}
