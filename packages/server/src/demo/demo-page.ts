import { hash } from 'node:crypto';
import { disclosureOf, optInPage } from '@long-gate/core';
import type { DemoBusiness } from './scenario.data.js';

export const pagesOf = (b: DemoBusiness) => ({
  privacyUrl: `https://${b.domain}/privacy`,
  termsUrl: `https://${b.domain}/terms`,
});

/** How the page looks, and what it asks. */
export const faceOf = (b: DemoBusiness) => ({
  language: 'en' as const,
  button: '',
  ...b.page.face,
  asks: { firstName: 'asked', lastName: 'no', email: 'no' } as const,
});

/** The words beside a purpose's box on the opt-in page. */
export const wordsOn = (b: DemoBusiness, purpose: 'informational' | 'promotional'): string =>
  disclosureOf(b.legalName, { purpose, ...b.page[purpose] }, pagesOf(b));

/** The opt-in page as everybody saw it who agreed on it, and its digest. */
export function pageSeen(b: DemoBusiness): { html: string; sha256: string } {
  const { slug, title, intro } = b.page;
  const seen = {
    slug,
    business: b.legalName,
    title,
    intro,
    ...faceOf(b),
    picture: null,
    paused: false,
    purposes: (['informational', 'promotional'] as const).map((purpose) => ({
      purpose,
      disclosure: wordsOn(b, purpose),
    })),
    ...pagesOf(b),
  };
  const html = optInPage(seen, { as: 'kept' });
  return { html, sha256: hash('sha256', html, 'hex') };
}
