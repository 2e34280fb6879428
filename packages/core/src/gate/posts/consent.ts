import { hold, PASS, post, stop } from '../post.js';

/** Consent for the purpose; where a person is answered, their own word stands in for it. */
export const consent = post({
  key: 'consent',
  label: 'consent for this purpose',
  short: 'consent',
  reads: [
    'subject.consent',
    'subject.conversationUntil',
    'subject.reassignment',
    'message.kind',
    'message.purpose',
    'rules.at',
  ],
  notAsked: ['opt-out confirmation', 'help answer', 'opt-in request', 'opt-in answer', 'staff test'],
  reasons: {
    'consent-none': { why: 'never agreed to this kind of text', lift: 'their own act: the opt-in page' },
    'consent-unproven': { why: 'imported claim without proof', lift: 'file the form, or invite to the page' },
    'consent-awaiting': { why: 'confirming text not answered yet', lift: 'their YES' },
    'consent-lapsed': { why: 'confirming text never answered', lift: 'their own act: the opt-in page' },
    'consent-declined': { why: 'declined', lift: 'their own act: the opt-in page' },
    'consent-expired': { why: 'consent expired', lift: 'their own act: the opt-in page' },
    'consent-voided': { why: 'number changed hands since consent', lift: 'ask for the new number' },
    'consent-disputed': { why: 'consent disputed', lift: 'the dispute’s end' },
    'reassignment-due': { why: 'asked first whether it changed hands', lift: 'the answer' },
    'reassignment-no-data': { why: 'not known whether it changed hands', lift: 'a later query that says no' },
    'conversation-over': { why: 'last word too long ago to answer', lift: 'their next message, or consent' },
    'purpose-not-for-dispatch': {
      why: 'a dispatch is never conversational',
      lift: 'choose informational or promotional',
    },
  },
  ask: ({ subject: s, message: m, rules }) => {
    if (m.kind === 'answer')
      return s.conversationUntil !== null && s.conversationUntil > rules.at
        ? { result: 'pass', until: s.conversationUntil }
        : stop('conversation-over');
    // A dispatch asks nobody back: it cannot live on the person's own word.
    if (m.kind === 'dispatch' && m.purpose === 'conversational') return stop('purpose-not-for-dispatch');
    const state = s.consent[m.purpose];
    switch (state) {
      case 'granted':
        if (s.reassignment === 'due') return hold('reassignment-due');
        return s.reassignment === 'no data' && m.purpose === 'promotional' ? hold('reassignment-no-data') : PASS;
      case 'awaiting':
        return hold('consent-awaiting');
      case 'disputed':
        return hold('consent-disputed');
      // A revocation is answered by the post before, which every kind that is asked this one is also asked.
      case 'revoked':
        return stop('consent-none');
      default:
        return stop(`consent-${state}`);
    }
  },
});
