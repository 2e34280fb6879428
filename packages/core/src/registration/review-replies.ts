import { finding, type Finding } from '../finding/finding.js';
import { saysHowOften, saysRates } from '../text/disclosed.js';
import { findLinks } from '../text/links.js';
import { namesBusiness, type About, type CampaignDraft } from './campaign-draft.js';
import { phonesIn } from './words/phones.js';

/** The parts a joining message has to have, and words that add one; the name stands before all else. */
const PARTS: readonly { what: string; in: (text: string, names: About) => boolean; add: string }[] = [
  { what: 'the name', in: namesBusiness, add: '' },
  { what: 'how often', in: saysHowOften, add: 'Message frequency varies.' },
  { what: 'that rates may apply', in: saysRates, add: 'Msg & data rates may apply.' },
  { what: 'HELP', in: (text) => /\bHELP\b/.test(text), add: 'Reply HELP for help.' },
  { what: 'STOP', in: (text) => /\bSTOP\b/.test(text), add: 'Reply STOP to end.' },
];

/** Which parts a joining message lacks, with the words that would add each. */
export const lackingOf = (text: string, names: About): readonly { what: string; add: string }[] =>
  PARTS.filter((part) => !part.in(text, names));

/** The messages that answer joining, STOP and HELP. */
export function reviewReplies(c: CampaignDraft, names: About): Finding[] {
  const out: Finding[] = [];
  for (const [field, text] of [
    ['optInMessage', c.optInMessage],
    ['optOutMessage', c.optOutMessage],
    ['helpMessage', c.helpMessage],
  ] as const) {
    const n = text.trim().length;
    if (n < 20 || n > 320)
      out.push(
        finding(
          'reply-length',
          field,
          `This reply has ${n} characters; 20 to 320 are allowed.`,
          n < 20 ? 'Write it out.' : 'Shorten it.',
        ),
      );
  }
  const optIn = c.optInMessage;
  const lacks = lackingOf(optIn, names).map((part) => part.what);
  if (optIn.trim() !== '' && lacks.length > 0)
    out.push(
      finding(
        'optin-message-incomplete',
        'optInMessage',
        `The joining message lacks ${lacks.join(', ')}.`,
        'Add what is missing.',
        { start: 0, end: optIn.length },
      ),
    );
  if (c.optOutMessage.trim() !== '') {
    const span = { start: 0, end: c.optOutMessage.length };
    if (!namesBusiness(c.optOutMessage, names))
      out.push(
        finding(
          'optout-reply-no-name',
          'optOutMessage',
          'The answer to STOP doesn’t name the business.',
          `Begin with “${names.nameLine}:”`,
          span,
        ),
      );
    if (!/\b(?:no (?:more|further|longer)|not (?:receive|get|send)|won.t)\b/i.test(c.optOutMessage))
      out.push(
        finding(
          'optout-reply-no-end',
          'optOutMessage',
          'It does not say that no more texts will come.',
          'Add “You will get no more texts from us.”',
          span,
        ),
      );
  }
  if (c.helpMessage.trim() !== '') {
    const contact =
      findLinks(c.helpMessage).length > 0 || phonesIn(c.helpMessage).length > 0 || /\S+@\S+\.\S+/.test(c.helpMessage);
    if (!contact)
      out.push(
        finding(
          'help-reply-no-contact',
          'helpMessage',
          'The answer to HELP names no way to reach you.',
          'Add a phone number, e-mail or page.',
          { start: 0, end: c.helpMessage.length },
        ),
      );
  }
  return out;
}
