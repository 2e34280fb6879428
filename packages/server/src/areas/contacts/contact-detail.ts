import type { ContactDetail } from '@long-gate/contracts';
import type { Reader } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { notFound } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { showContact } from './contact-row.js';
import { contactById, numbersOf, rowsByNumber } from './contact-store.js';
import { listNames } from './list-store.js';
import { alikeTo, openMerge } from './merge-store.js';
import { shownTrouble, troublesOf } from './trouble-store.js';

/** One contact whole: all its numbers, each judged by itself, its own fields, and who may be the same person. */
export async function contactDetail(
  p: Platform,
  businesses: Businesses,
  r: Reader,
  businessId: string,
  id: string,
): Promise<ContactDetail> {
  const contact = await contactById(r, businessId, id);
  const numbers = contact ? await numbersOf(r, id) : [];
  if (!contact || numbers.length === 0) throw notFound('contact');
  const now = p.clock.now();
  const ids = numbers.map((n) => n.id);
  const [rows, lists, business, troubles, merged, alike] = await Promise.all([
    rowsByNumber(r, ids, now),
    listNames(r, [id]),
    businesses.row(r, businessId),
    troublesOf(r, ids),
    openMerge(r, businessId, id),
    contact.email === '' ? [] : alikeTo(r, businessId, contact.email, id),
  ]);
  const o = { openCountries: business.open_countries.split(','), lists: lists.get(id) ?? [], now };
  const shown = rows.map((row) => showContact(row, o));
  const [first] = shown;
  if (!first) throw notFound('contact');
  return {
    ...first,
    language: contact.language,
    street: contact.street,
    city: contact.city,
    postalCode: contact.postalCode,
    own: contact.own,
    createdAt: contact.createdAt,
    numbers: shown.map((c, i) => ({
      ...c.number,
      preferred: numbers[i]?.preferred ?? false,
      verdicts: c.verdicts,
      troubles: troubles.filter((t) => t.contactNumberId === c.number.id).map(shownTrouble),
    })),
    merged: merged && {
      id: merged.id,
      name:
        `${String(merged.snapshot.gone['firstName'])} ${String(merged.snapshot.gone['lastName'])}`.trim() || 'no name',
      at: merged.mergedAt,
      by: merged.mergedBy,
    },
    alike,
  };
}
