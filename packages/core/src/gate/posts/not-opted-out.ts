import { hold, PASS, post, stop } from '../post.js';

/** The person's own no, wherever it was said. Only the answer to that no itself is not asked. */
export const notOptedOut = post({
  key: 'not-opted-out',
  label: 'not opted out or suppressed',
  short: 'not opted out',
  reads: [
    'subject.trouble',
    'subject.consent',
    'subject.suppression',
    'subject.related',
    'subject.wishInReview',
    'message.purpose',
  ],
  notAsked: ['opt-out confirmation', 'help answer', 'opt-in request', 'opt-in answer'],
  reasons: {
    'opted-out': { why: 'opted out', lift: 'only the contact: START, or the opt-in page' },
    'refused-at-carrier': { why: 'opted out at the carrier', lift: 'only the contact, at the carrier' },
    suppressed: { why: 'on a suppression list', lift: 'the list’s end' },
    'do-not-call': {
      why: 'on a do-not-call list',
      lift: 'their written consent, a purchase or an inquiry of theirs, or the list’s end',
    },
    'wish-in-review': { why: 'may have asked to stop', lift: 'a person reads the reply' },
  },
  ask: ({ subject: s, message: m }) => {
    if (s.trouble === 'refused-by-owner') return stop('refused-at-carrier');
    if (s.consent[m.purpose] === 'revoked') return stop('opted-out');
    if (s.suppression === 'all') return stop('suppressed');
    // A relationship excepts them from the list alone: offers by text want their written consent all the same.
    const excepted = s.consent.promotional === 'granted' || s.related;
    if (s.suppression === 'solicitations' && m.purpose === 'promotional' && !excepted) return stop('do-not-call');
    return s.wishInReview && m.purpose === 'promotional' ? hold('wish-in-review') : PASS;
  },
});
