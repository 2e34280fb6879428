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

/**
 * What a country will refuse of a sender ID, found before its fee: a registry takes a name that follows from the
 * business's own, and some countries want the business admitted first. source: the shipped country table; rules.md,
 * Alphanumeric sender IDs.
 * @param open whether the business may send to the country.
 */
export function reviewSenderIdIn(
  text: string,
  names: { legalName: string; nameLine: string },
  code: string,
  open: boolean,
): Finding[] {
  const rule = countryRule(code);
  if (!rule || rule.senderId === 'not allowed') return [];
  const out: Finding[] = [];
  if (rule.senderId === 'to register' && !followsFrom(text, names))
    out.push(
      finding(
        'sender-id-unrelated',
        code,
        `${rule.name} registers a sender ID that follows from the name of the business; “${text}” does not follow from “${names.nameLine}”.`,
        'Make one that begins as a word of the name does.',
      ),
    );
  if (rule.registration && !open)
    out.push(
      finding(
        'sender-id-not-admitted',
        code,
        `${rule.name} registers sender IDs of admitted businesses only.`,
        'Ask for admission in Countries first.',
      ),
    );
  else if (!open)
    out.push(
      finding('sender-id-country-closed', code, `${rule.name} is not open yet.`, 'Open it in Countries to send there.'),
    );
  return out;
}

/** Whether its letters begin as a word of the names does. */
function followsFrom(text: string, names: { legalName: string; nameLine: string }): boolean {
  const sender = text.toLowerCase().replace(/[^a-z]/g, '');
  const words = `${names.nameLine} ${names.legalName}`
    .toLowerCase()
    .split(/[^a-z]+/)
    .filter((w) => w.length > 1);
  return words.some(
    (w) => w.length >= 3 && (sender.startsWith(w.slice(0, 4)) || (sender.length >= 3 && w.startsWith(sender))),
  );
}
