import { finding, type Finding } from '../finding/finding.js';
import { countryRule } from './countries.js';

export const SENDER_ID_LENGTH = 11;
/** Letters and digits of the GSM alphabet that every network shows, space, and a few signs. source: 3GPP TS 23.040, 9.1.2.5. */
const ALLOWED = /[A-Za-z0-9 _&+.-]/;

/** What is wrong with a sender ID, while it is being typed. */
export function reviewSenderId(text: string): Finding[] {
  const out: Finding[] = [];
  if (text.trim() === '')
    return [
      finding(
        'sender-id-empty',
        'text',
        'There is no sender ID yet.',
        'Write the name people know, such as a short form of the business.',
      ),
    ];
  if (text.length > SENDER_ID_LENGTH)
    out.push(
      finding(
        'sender-id-long',
        'text',
        `${text.length} characters; networks show at most ${SENDER_ID_LENGTH}.`,
        'Shorten it.',
        { start: SENDER_ID_LENGTH, end: text.length },
      ),
    );
  const bad = [...text].findIndex((c) => !ALLOWED.test(c));
  if (bad >= 0)
    out.push(
      finding(
        'sender-id-character',
        'text',
        `“${[...text][bad] ?? ''}” is not shown by every network.`,
        'Letters A to Z, digits, space and _ & + . - only.',
        { start: bad, end: bad + ([...text][bad] ?? '').length },
      ),
    );
  if (!/[A-Za-z]/.test(text))
    out.push(
      finding('sender-id-no-letter', 'text', 'Digits alone look like a telephone number.', 'Use at least one letter.'),
    );
  if (text !== text.trim() || / {2}/.test(text))
    out.push(
      finding('sender-id-spaces', 'text', 'Spaces at the ends or two in a row are cut by networks.', 'Take them out.'),
    );
  return out;
}

/**
 * What a sender ID needs in a country before it may be used there: nothing, a registration, or it cannot be used.
 * source: the shipped country table.
 */
export function senderIdIn(code: string): 'free' | 'to register' | 'not allowed' {
  return countryRule(code)?.senderId ?? 'not allowed';
}

/**
 * The signature of a one-way sender: no reply can arrive, so it names another way to reply and to stop
 * (rules.md, Alphanumeric sender IDs).
 */
export function reviewSignature(signature: string): Finding[] {
  const way = /(?:https?:\/\/|\b[a-z0-9-]+(?:\.[a-z0-9-]+)+(?:\/\S*)?|\+?\d[\d ().-]{6,}|\S+@\S+)/i.test(signature);
  const stop = /\b(?:stop|end|opt[- ]?out|unsubscribe|abmelden|arr[êe]t)\b/i.test(signature);
  if (way && stop) return [];
  return [
    finding(
      'signature-incomplete',
      'signature',
      stop ? 'It names no way to go: a page, a number or an address.' : 'It does not say how to stop.',
      'For instance: Stop or reply: saltmarsh.example/stop',
    ),
  ];
}
