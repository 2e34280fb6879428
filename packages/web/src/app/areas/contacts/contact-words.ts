/** What the values of facets are called where people read them. */
export const FACET_WORDS: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  line: { none: 'no such line', unknown: 'not known' },
  replied: { week: 'in 7 days', month: 'in 30 days', earlier: 'earlier', never: 'never' },
  trouble: {
    none: 'no trouble',
    'not-textable': 'not textable',
    'out-of-service': 'out of service',
    'refused-by-owner': 'refused by its owner',
    'passing-fault': 'passing fault',
  },
};
/** What keeps texts from a number, in words. */
export const causeOf = (cause: string): string => FACET_WORDS['trouble']?.[cause] ?? cause;
export const nameOf = (c: { firstName: string; lastName: string }): string =>
  `${c.firstName} ${c.lastName}`.trim() || 'no name';
