/** What counts as contact: their own word alone, or a text of ours that reached them too. */
export const CONTACT_COUNTS = ['either way', 'their word'] as const;
export type ContactCounts = (typeof CONTACT_COUNTS)[number];
/** How somebody was last in contact. */
export const CONTACT_KINDS = ['agreed', 'wrote or called', 'kept', 'a text reached them'] as const;
export type ContactKind = (typeof CONTACT_KINDS)[number];

/** When consent ends that nobody stood by, and how long before that its person is asked again. */
export interface ExpiryPolicy {
  /** Calendar months without contact. */
  months: number;
  counts: ContactCounts;
  /** Days before the end in which they are asked. */
  askDays: number;
}
/** Months and days as they can be chosen; a carrier or regulator asks for no number of its own. */
export const EXPIRY_LIMITS = { months: { least: 3, usual: 18, most: 60 }, askDays: { least: 7, usual: 30, most: 90 } };

/** Moments, milliseconds, at which one person was in contact; null where they never were in this way. */
export type Contacted = Record<ContactKind, number | null>;

const DAY_MS = 86_400_000;

/** The last contact that counts; null where there was none. */
export function lastContact(seen: Contacted, counts: ContactCounts): { at: number; how: ContactKind } | null {
  let last: { at: number; how: ContactKind } | null = null;
  for (const how of CONTACT_KINDS) {
    const at = seen[how];
    if (at === null || (how === 'a text reached them' && counts === 'their word')) continue;
    if (last === null || at > last.at) last = { at, how };
  }
  return last;
}

/**
 * The same time of day so many calendar months later (UTC), milliseconds; where that month has no such day, its last.
 * 31 August and six months are 28 or 29 February.
 */
export function monthsAfter(at: number, months: number): number {
  const d = new Date(at);
  const day = d.getUTCDate();
  d.setUTCDate(1);
  d.setUTCMonth(d.getUTCMonth() + months);
  const last = new Date(Date.UTC(d.getUTCFullYear(), d.getUTCMonth() + 1, 0)).getUTCDate();
  d.setUTCDate(Math.min(day, last));
  return d.getTime();
}

/**
 * Where somebody stands at `now`: in contact, to be asked since their consent ends within the days for asking, or over.
 * @param listedAt since when it has been known that it will end; null where it was not known yet. Nobody's consent ends
 *   before the days for asking have gone by since then, whatever the policy was before and however long nothing ran.
 */
export function expiryOf(
  last: number,
  policy: ExpiryPolicy,
  listedAt: number | null,
  now: number,
): { standing: 'in contact' | 'ending' | 'over'; endsAt: number } {
  const due = monthsAfter(last, policy.months);
  const warned = policy.askDays * DAY_MS;
  if (now < due - warned) return { standing: 'in contact', endsAt: due };
  const endsAt = Math.max(due, (listedAt ?? now) + warned);
  return { standing: now >= endsAt ? 'over' : 'ending', endsAt };
}
