import { finding, type Finding } from '../finding/finding.js';
import type { Purpose } from '../consent/events.js';
import { mergeText, reviewMerge, type MergeField } from './merge.js';
import { filteredLink } from './links.js';
import { promotionalWords } from './promotion.js';
import { segmentText, swapToGsm } from './segments.js';
import { showsStop } from './stop-way.js';
import { otherUse, type RegisteredUse } from './use.js';

/** What surrounds the written text when it leaves. */
export interface Envelope {
  /** The short business name that opens each text. */
  nameLine: string;
  stopLine: boolean;
  /** What a one-way sender adds instead of a stop line: another way to reply and to stop. */
  signature?: string;
  /** The link to the contact's own page, its key hidden (own-page-link.ts); where there is none, none is set up. */
  ownPage?: string;
}

export const STOP_LINE = 'Reply STOP to end.';

/** The text exactly as it is sent to one contact: name line, merged text, stop line. */
export function composeText(text: string, envelope: Envelope, values: Partial<Record<MergeField, string>>): string {
  const merged = mergeText(text, { ownPage: envelope.ownPage ?? '', ...values }).trim();
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

/** What is declared about a dispatch beside its words. */
export interface TextContext {
  purpose: Purpose | null;
  transactional: boolean;
  /** An administrator's written reason to let the words go with this purpose; empty for none. */
  override: string;
  /** The use of the sending number's campaign; null where none is known. */
  registered: RegisteredUse | null;
}

/** Everything to be said about a dispatch's text before it may be sent. */
export function reviewText(
  text: string,
  context: TextContext,
  envelope: Envelope,
  longest: Partial<Record<MergeField, string>> = {},
): Finding[] {
  if (text.trim() === '')
    return [finding('text-empty', 'text', 'There is no text yet.', 'Write what the contacts shall read.')];
  const out = [...reviewMerge(text), ...reviewPurpose(text, context)];
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

/** Whether the words go with the declared purpose and with the campaign's registration (rules.md, the gate, post 8). */
function reviewPurpose(text: string, c: TextContext): Finding[] {
  const out: Finding[] = [];
  if (c.purpose === 'conversational')
    out.push(
      finding(
        'purpose-conversational',
        'purpose',
        'A dispatch is never conversational: nobody wrote first.',
        'Choose informational or promotional.',
      ),
    );
  if (c.purpose === 'promotional' && c.transactional)
    out.push(
      finding(
        'transactional-promotional',
        'transactional',
        'A promotional text is never called for by a booking, order or case.',
        'Take “transactional” away, or choose informational.',
      ),
    );
  const overridden = c.override.trim() !== '';
  const promo = promotionalWords(text);
  if (promo && c.purpose !== null && c.purpose !== 'promotional')
    out.push(
      overridden
        ? finding(
            'purpose-overridden',
            'text',
            `“${promo.words}” reads as promotional; an administrator lets it go as ${c.purpose}: ${c.override.trim()}`,
            'Choose promotional where it is an offer after all.',
            promo,
          )
        : finding(
            'purpose-contradicted',
            'text',
            `“${promo.words}” reads as promotional, but the purpose is ${c.purpose}.`,
            'Choose promotional, or take the offer out. An administrator may let it go with a written reason.',
            promo,
          ),
    );
  const use = otherUse(text, c.registered);
  if (use) {
    const span = { start: use.start, end: use.end };
    const words = text.slice(use.start, use.end);
    out.push(
      overridden
        ? finding(
            'use-overridden',
            'text',
            `“${words}” belongs to ${use.label}; the campaign is registered for ${use.registeredFor}. An administrator lets it go: ${c.override.trim()}`,
            'Use a number whose campaign is registered for it.',
            span,
          )
        : finding(
            'use-not-registered',
            'text',
            `“${words}” belongs to ${use.label}, but this number’s campaign is registered for ${use.registeredFor}.`,
            'Use a number whose campaign is registered for it, or other words.',
            span,
          ),
    );
  }
  const link = filteredLink(text);
  if (link)
    out.push(
      finding(
        'link-filtered',
        'text',
        link.bareAddress
          ? 'A link to a bare IP address is filtered.'
          : `Networks filter links on ${link.host}, which many senders share.`,
        'Use a link on your own domain.',
        { start: link.start, end: link.end },
      ),
    );
  return out;
}
