/** How the business of a dossier relates to whoever files it. */
export const RELATIONS = ['own business', 'client'] as const;
export type Relation = (typeof RELATIONS)[number];

/** What a business does, as the registrar asks it; plain words of the trade. */
export const INDUSTRIES = [
  'agriculture',
  'arts and recreation',
  'construction',
  'education',
  'energy and utilities',
  'finance and insurance',
  'food and lodging',
  'government',
  'health care',
  'legal',
  'manufacturing',
  'non-profit work',
  'real estate',
  'retail',
  'technology',
  'transport',
  'other',
] as const;
export type Industry = (typeof INDUSTRIES)[number];
