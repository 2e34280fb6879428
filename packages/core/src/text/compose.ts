import { finding, type Finding } from '../finding/finding.js';
import type { Purpose } from '../consent/events.js';
import { mergeText, reviewMerge, type MergeField } from './merge.js';
import { segmentText, swapToGsm } from './segments.js';

/** What surrounds the written text when it leaves. */
export interface Envelope {
  /** The short business name that opens each text. */
  nameLine: string;
  stopLine: boolean;
  /** What a one-way sender adds instead of a stop line: another way to reply and to stop. */
  signature?: string;
}

export const STOP_LINE = 'Reply STOP to end.';

/** The text exactly as it is sent to one contact: name line, merged text, stop line. */
export function composeText(text: string, envelope: Envelope, values: Partial<Record<MergeField, string>>): string {
  const merged = mergeText(text, values).trim();
  const opened = namesSender(merged, envelope.nameLine) ? merged : `${envelope.nameLine}: ${merged}`;
  if (envelope.signature) return opened.includes(envelope.signature) ? opened : `${opened} ${envelope.signature}`;
  return envelope.stopLine && !showsStop(opened) ? `${opened} ${STOP_LINE}` : opened;
}

/** True when the text says who is speaking by the given name (case and punctuation apart). */
export function namesSender(text: string, name: string): boolean {
  const plain = (s: string): string =>
    s
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, ' ')
      .trim();
  const wanted = plain(name);
  return wanted !== '' && ` ${plain(text)} `.includes(` ${wanted} `);
}

/** True when the text tells how to stop. */
export function showsStop(text: string): boolean {
  return (
    /\b(?:reply|text|send|txt|responda|envíe)\b[^.!?\n]{0,24}\b(?:STOP|END|QUIT|CANCEL|UNSUBSCRIBE|ALTO)\b/i.test(
      text,
    ) || /\bSTOP\b\s*(?:=|to|2)\s*\b/i.test(text)
  );
}

const PROMOTIONAL = [
  /\b\d{1,2}\s?% ?(?:off|discount)\b/i,
  /\b(?:sale|special offer|limited[- ]time|last chance|deal|discount|promo(?:tion)?|coupon|voucher|buy one|two for one|book now|order now|shop now|free gift|early bird|earlybird)\b/i,
  /\bfrom \$\s?\d/i,
  /\bonly \$\s?\d/i,
  /\boffers?\b/i,
];

/** The first words that make a text promotional, or null. */
export function promotionalWords(text: string): { start: number; end: number; words: string } | null {
  for (const re of PROMOTIONAL) {
    const m = re.exec(text);
    if (m) return { start: m.index, end: m.index + m[0].length, words: m[0] };
  }
  return null;
}

export const LINK =
  /\b(?:https?:\/\/[^\s]+|(?:[a-z0-9-]+\.)+(?:com|org|net|example|io|co|us|info|biz|ly|gl|me|app|link|page|test)(?:\/[^\s]*)?)/gi;

/** Everything to be said about a dispatch's text before it may be sent. */
export function reviewText(
  text: string,
  purpose: Purpose | null,
  envelope: Envelope,
  longest: Partial<Record<MergeField, string>> = {},
): Finding[] {
  if (text.trim() === '')
    return [finding('text-empty', 'text', 'There is no text yet.', 'Write what the contacts shall read.')];
  const out = reviewMerge(text);
  const promo = promotionalWords(text);
  if (promo && purpose !== null && purpose !== 'promotional') {
    out.push(
      finding(
        'purpose-contradicted',
        'text',
        `“${promo.words}” reads as promotional, but the purpose is ${purpose}.`,
        'Choose promotional, or take the offer out.',
        promo,
      ),
    );
  }
  const whole = composeText(text, envelope, longest);
  const seg = segmentText(whole);
  if (seg.encoding === 'UCS-2') {
    const chars = seg.culprits.map((c) => `“${c.char}”`).join(' ');
    const swapped = swapToGsm(whole);
    const saved = swapped ? seg.parts.length - segmentText(swapped).parts.length : 0;
    const first = seg.culprits[0];
    const at = first ? text.indexOf(first.char) : -1;
    out.push(
      finding(
        'forces-ucs2',
        'text',
        `${chars} ${seg.culprits.length === 1 ? 'is' : 'are'} outside GSM-7, so a segment holds 70 instead of 160.`,
        saved > 0
          ? `Swap for plain characters: ${saved} segment${saved === 1 ? '' : 's'} fewer.`
          : 'Swap for plain characters, or keep on purpose.',
        first && at >= 0 ? { start: at, end: at + first.char.length } : undefined,
      ),
    );
  }
  if (seg.parts.length > 2)
    out.push(
      finding(
        'many-segments',
        'text',
        `${seg.parts.length} segments for each contact.`,
        'Shorten it; each segment is charged.',
      ),
    );
  return out;
}
