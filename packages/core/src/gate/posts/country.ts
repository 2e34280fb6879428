import { PASS, post, stop } from '../post.js';

export const country = post({
  key: 'country',
  label: 'country open for this number',
  short: 'country open',
  reads: ['subject.country', 'rules.openCountries'],
  notAsked: [],
  reasons: { 'country-closed': { why: 'country not open for this number', lift: 'open the country for texting' } },
  ask: ({ subject, rules }) => (rules.openCountries.includes(subject.country) ? PASS : stop('country-closed')),
});
