/** What a merge reads of a contact; empty texts are not known. */
export interface MergedFacts {
  firstName: string;
  lastName: string;
  email: string;
  stateCode: string;
  language: string;
  street: string;
  city: string;
  postalCode: string;
  own: Readonly<Record<string, string>>;
}

/** What is one fact: the parts of an address belong together, and so do those of a name. */
const TOGETHER: readonly (readonly (keyof Omit<MergedFacts, 'own'>)[])[] = [
  ['firstName', 'lastName'],
  ['email'],
  ['street', 'city', 'postalCode', 'stateCode'],
  ['language'],
];

/**
 * One contact of two that are the same person. What is known of the kept one stays; where nothing is known of it, the
 * other's fills the blank, name and address as a whole so that no name or address arises that nobody has.
 */
export function mergeContacts(kept: MergedFacts, gone: MergedFacts): MergedFacts {
  const merged = { ...kept, own: { ...gone.own, ...kept.own } };
  for (const fact of TOGETHER) {
    if (fact.some((f) => kept[f] !== '')) continue;
    for (const f of fact) merged[f] = gone[f];
  }
  return merged;
}
