import type { MessageFacts, Subject } from '../facts.js';
import { PASS, post, stop } from '../post.js';

/** Whether the words fit their purpose, the registered use, and this person. */
export const content = post({
  key: 'content',
  label: 'content fit',
  short: 'content fit',
  reads: [
    'subject.consent',
    'subject.fieldEmpty',
    'subject.firstText',
    'subject.stopLineDue',
    'message.kind',
    'message.purpose',
    'message.linkFiltered',
    'message.wordsPromotional',
    'message.wordsOverridden',
    'message.otherUse',
    'message.contentBlocked',
    'message.oneWay',
    'message.showsStop',
    'message.namesSender',
  ],
  notAsked: [],
  reasons: {
    'content-blocked': { why: 'the text does not fit', lift: 'mend the text' },
    'link-filtered': { why: 'a link that networks filter', lift: 'a link on your own domain' },
    'words-promotional': {
      why: 'reads as promotional, but has another purpose',
      lift: 'choose promotional, take the offer out, or an administrator’s written reason',
    },
    'other-use': {
      why: 'another use than this number’s campaign is registered for',
      lift: 'another number, or other words',
    },
    'first-text-incomplete': { why: 'a first text must name us and show STOP', lift: 'add the stop line' },
    'signature-missing': { why: 'one-way offers must name a way to stop', lift: 'give the sender a signature' },
    'stop-line-due': { why: 'stop line due after 30 days', lift: 'add the stop line' },
    'field-empty': { why: 'a merge field is empty', lift: 'give the field a fallback' },
  },
  ask: ({ subject: s, message: m }) => {
    if (m.linkFiltered) return stop('link-filtered');
    if (offersWithoutConsent(s, m)) return stop('words-promotional');
    if (m.otherUse && !m.wordsOverridden) return stop('other-use');
    if (m.contentBlocked) return stop('content-blocked');
    if (s.fieldEmpty) return stop('field-empty');
    if (m.oneWay && m.purpose === 'promotional' && !m.showsStop) return stop('signature-missing');
    if (m.kind !== 'dispatch') return PASS;
    if (s.firstText && !(m.namesSender && m.showsStop)) return stop('first-text-incomplete');
    return s.stopLineDue && !m.showsStop ? stop('stop-line-due') : PASS;
  },
});

/**
 * Offers in a text of another purpose. A dispatch has one purpose for all; an answer may carry an offer to somebody
 * who agreed to offers; the confirmation of an opt-out never does (47 CFR 64.1200(a)(12)).
 */
function offersWithoutConsent(s: Subject, m: MessageFacts): boolean {
  if (!m.wordsPromotional || m.purpose === 'promotional' || m.wordsOverridden) return false;
  if (m.kind === 'dispatch' || m.kind === 'staff test' || m.kind === 'opt-out confirmation') return true;
  return s.consent.promotional !== 'granted';
}
