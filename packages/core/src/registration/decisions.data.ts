// Written by `npm run readiness -- learn` from packages/core/testdata/dossiers: decisions on dossiers in which nothing
// blocks, by the risks found in them. Invented, as the corpus is.
export const DECISIONS_BY_RISK: Record<string, { approved: number; of: number } | undefined> = {
  '': { approved: 42, of: 42 },
  'phone-declared-but-absent': { approved: 2, of: 3 },
  'sample-many-segments': { approved: 1, of: 1 },
  'terms-page-missing': { approved: 2, of: 2 },
};
