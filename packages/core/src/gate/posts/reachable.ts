import { hold, PASS, post, stop } from '../post.js';

export const reachable = post({
  key: 'reachable',
  label: 'reachable',
  short: 'reachable',
  reads: ['subject.trouble', 'subject.faultsInReview', 'subject.lookedUp', 'subject.reachable'],
  notAsked: [],
  reasons: {
    'out-of-service': { why: 'out of service', lift: 'a new number from the contact' },
    'faults-in-review': { why: 'three faults in 30 days', lift: 'a look at the number' },
    unreachable: { why: 'not reachable when last asked', lift: 'ask again' },
  },
  ask: ({ subject: s }) => {
    if (s.trouble === 'out-of-service') return stop('out-of-service');
    if (s.faultsInReview) return hold('faults-in-review');
    return s.lookedUp && !s.reachable ? hold('unreachable') : PASS;
  },
});
