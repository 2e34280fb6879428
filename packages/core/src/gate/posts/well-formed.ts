import { PASS, post, stop } from '../post.js';

export const wellFormed = post({
  key: 'well-formed',
  label: 'number well-formed',
  short: 'well-formed',
  reads: ['subject.wellFormed'],
  notAsked: [],
  reasons: { 'not-well-formed': { why: 'not a well-formed number', lift: 'correct the number' } },
  ask: ({ subject }) => (subject.wellFormed ? PASS : stop('not-well-formed')),
});
