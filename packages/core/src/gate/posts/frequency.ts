import { holdUntil, PASS, post } from '../post.js';

export const frequency = post({
  key: 'frequency',
  label: 'frequency',
  short: 'frequency',
  reads: ['subject.promotionalCapUntil', 'message.purpose', 'rules.at'],
  notAsked: ['answer', 'opt-out confirmation', 'help answer', 'opt-in request', 'opt-in answer', 'staff test'],
  reasons: { 'frequency-cap': { why: 'three offers in 24 hours', lift: 'time' } },
  ask: ({ subject: s, message: m, rules }) =>
    m.purpose === 'promotional' && s.promotionalCapUntil !== null && s.promotionalCapUntil > rules.at
      ? holdUntil('frequency-cap', s.promotionalCapUntil)
      : PASS,
});
