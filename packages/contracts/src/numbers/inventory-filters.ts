import * as z from 'zod';
import type { NumberView } from './numbers.js';

/** What the inventory is narrowed by, several values of one facet joined by `~`; the same on screen and in its file. */
export const InventoryQuery = z.object({
  may: z.string().max(200).optional(),
  kind: z.string().max(200).optional(),
  source: z.string().max(200).optional(),
  state: z.string().max(200).optional(),
  /** Digits in a row of the number, or words of its label or campaign. */
  q: z.string().max(100).optional(),
  order: z.string().max(60).optional(),
});
export type InventoryFilters = z.infer<typeof InventoryQuery>;
export type InventoryFacet = 'may' | 'kind' | 'source' | 'state';

/** What each facet reads of a number. */
export const INVENTORY_FACETS: Readonly<Record<InventoryFacet, { label: string; of: (n: NumberView) => string }>> = {
  may: { label: 'May send', of: (n) => (n.deciding === null && n.state === 'active' ? 'yes' : 'not yet') },
  kind: { label: 'Kind', of: (n) => n.kind },
  source: { label: 'Came by', of: (n) => n.source },
  state: { label: 'State', of: (n) => n.state },
};

/** Whether a number is one that was searched for: what holds beside the facets. */
export function isSearchedFor(n: NumberView, { q, order }: Pick<InventoryFilters, 'q' | 'order'>): boolean {
  const words = (q ?? '').trim().toLowerCase();
  const digits = words.replace(/\D/g, '');
  return (
    (order === undefined || n.orderId === order) &&
    (words === '' ||
      (digits !== '' && !/[a-z]/.test(words) && n.e164.includes(digits)) ||
      `${n.label} ${n.campaignName ?? ''}`.toLowerCase().includes(words))
  );
}

/** Whether a number is among those the filters leave: values of one facet are alternatives, facets narrow one another. */
export function isInInventory(n: NumberView, filters: InventoryFilters): boolean {
  return (
    isSearchedFor(n, filters) &&
    (Object.keys(INVENTORY_FACETS) as InventoryFacet[]).every((key) => {
      const values = (filters[key] ?? '').split('~').filter((v) => v !== '');
      return values.length === 0 || values.includes(INVENTORY_FACETS[key].of(n));
    })
  );
}
