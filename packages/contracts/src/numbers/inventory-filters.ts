import * as z from 'zod';
import { SEARCH_MOST } from '../endpoint.js';
import type { NumberView } from './numbers.js';

const Values = z.string().max(400).optional();
/** What the inventory is narrowed by, several values of one facet joined by `~`; the same on screen and in its file. */
export const InventoryQuery = z.object({
  may: Values,
  registration: Values,
  campaign: Values,
  can: Values,
  kind: Values,
  source: Values,
  state: Values,
  ended: Values,
  /** Digits in a row of the number, or words of its label or campaign. */
  q: z.string().max(SEARCH_MOST).optional(),
  order: z.string().max(60).optional(),
});
export type InventoryFilters = z.infer<typeof InventoryQuery>;
export type InventoryFacet = Exclude<keyof InventoryFilters, 'q' | 'order'>;

/** How a toll-free number's verification stands, by what the gate says of the number. */
const VERIFIED: Readonly<Record<string, string | undefined>> = {
  cleared: 'verified',
  'registration-pending': 'being verified',
  'registration-declined': 'verification declined',
};
const CLOSED = ['declined', 'suspended', 'expired'];

/** How the registration of a number stands, in words. */
function registrationOf(n: NumberView): string {
  if (n.kind === 'sender ID') return 'by country';
  if (n.kind === 'short code') return n.state === 'ordered' ? 'programme in review' : 'programme approved';
  if (n.kind === 'toll-free') return VERIFIED[n.clearance] ?? 'not verified';
  if (n.campaignName === null) return 'in no campaign';
  if (n.campaignState !== null && CLOSED.includes(n.campaignState)) return `campaign ${n.campaignState}`;
  return n.campaignState === 'registered' && n.tieState === 'attached' ? 'confirmed' : 'networks confirming';
}

/** What each facet reads of a number: one value, several, or none where it does not speak of it. */
export const INVENTORY_FACETS: Readonly<
  Record<InventoryFacet, { label: string; of: (n: NumberView) => string | readonly string[] }>
> = {
  may: {
    label: 'May send',
    of: (n) => (n.ended !== '' ? [] : n.deciding === null && n.state === 'active' ? 'yes' : 'not yet'),
  },
  registration: { label: 'Registration', of: (n) => (n.state === 'released' ? [] : registrationOf(n)) },
  campaign: { label: 'Campaign', of: (n) => n.campaignName ?? [] },
  can: { label: 'Can', of: (n) => n.capabilities },
  kind: { label: 'Kind', of: (n) => n.kind },
  source: { label: 'Came by', of: (n) => n.source },
  state: { label: 'State', of: (n) => (n.ended !== '' ? 'ended' : n.state) },
  ended: { label: 'Ended', of: (n) => n.ended || [] },
};

/** Whether a number is one that was searched for: what holds beside the facets. */
export function isSearchedFor(n: NumberView, { q, order }: Pick<InventoryFilters, 'q' | 'order'>): boolean {
  const words = (q ?? '').trim().toLowerCase();
  const digits = words.replace(/\D/g, '');
  // What holds a letter is looked for in labels, digits in a row of the number.
  const lettered = /\p{L}/u.test(words);
  return (
    (order === undefined || n.orderId === order) &&
    (words === '' ||
      (digits !== '' && !lettered && n.e164.includes(digits)) ||
      ((lettered || digits === '') &&
        `${n.label} ${n.campaignName ?? ''} ${n.kind === 'sender ID' ? n.e164 : ''}`.toLowerCase().includes(words)))
  );
}

/** Whether a number is among those the filters leave: values of one facet are alternatives, facets narrow one another. */
export function isInInventory(n: NumberView, filters: InventoryFilters): boolean {
  return (
    isSearchedFor(n, filters) &&
    (Object.keys(INVENTORY_FACETS) as InventoryFacet[]).every((key) => {
      const values = (filters[key] ?? '').split('~').filter((v) => v !== '');
      return values.length === 0 || [INVENTORY_FACETS[key].of(n)].flat().some((v) => values.includes(v));
    })
  );
}
