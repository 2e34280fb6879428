import { OptInPageEdit } from '@long-gate/contracts';
import type { z } from 'zod';

/** What a page offers that has both kinds of text. */
export const BOTH_KINDS = [
  { purpose: 'informational' as const, label: 'Text me order updates', frequency: 'up to four a week' },
  { purpose: 'promotional' as const, label: 'Text me offers of bread', frequency: 'weekly' },
];

/** An opt-in page of the bakery, as it is saved; all that is not said is what a new page has. */
export function heronPage(
  numberId: string,
  over: Partial<z.input<typeof OptInPageEdit>> = {},
): z.output<typeof OptInPageEdit> {
  return OptInPageEdit.parse({
    slug: 'heron',
    title: 'Texts from the bakery',
    intro: 'Word of each bake.',
    purposes: [{ purpose: 'informational', label: 'Text me order updates', frequency: 'up to four a week' }],
    numberId,
    privacyUrl: 'https://heron.example/privacy',
    termsUrl: 'https://heron.example/terms',
    published: true,
    ...over,
  });
}
