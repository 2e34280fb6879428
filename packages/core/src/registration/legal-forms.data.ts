/** Legal forms of a brand (rules.md, A2P 10DLC). */
export const LEGAL_FORMS = ['sole proprietor', 'private company', 'listed company', 'non-profit', 'public body'] as const;
export type LegalForm = (typeof LEGAL_FORMS)[number];
