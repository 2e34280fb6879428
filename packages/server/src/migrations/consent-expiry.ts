import type { QueryInterface } from 'sequelize';
import { ExpiryOutlook, ExpiryPurposes } from '../areas/consent/expiry/model.js';
import { big, createTable, flag, index, json, key, maybe, refers, text, whole } from '../platform/table.js';

/** When consent ends that nobody stood by, and whose does next. */
export async function consentExpiry(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'consent_expiry_policy', {
    businessId: key(refers(text(), 'business')),
    active: flag(),
    months: whole(),
    counts: text(),
    purposes: json('purposes', ExpiryPurposes),
    askDays: whole(),
    invitationId: text(''),
    lookedAt: maybe(big()),
    outlook: maybe(json('outlook', ExpiryOutlook)),
    version: whole(1),
  });
  await createTable(qi, 'consent_expiring', {
    businessId: key(text()),
    e164: key(text()),
    contactId: text(),
    lastAt: big(),
    lastHow: text(),
    endsAt: big(),
    listedAt: big(),
    askedAt: maybe(big()),
    why: text(''),
    seenAt: big(),
  });
  await index(qi, 'consent_expiring', 'consent_expiring_next', ['business_id', 'ends_at', 'e164']);
  await index(qi, 'personal_link', 'personal_link_kept', ['business_id', 'e164', 'answered_at'], {
    where: "chose = 'kept'",
  });
}
