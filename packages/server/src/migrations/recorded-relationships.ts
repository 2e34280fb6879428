import { RELATIONSHIP_KINDS } from '@long-gate/core';
import type { QueryInterface } from 'sequelize';
import { RefusedLines } from '../areas/consent/refused-lines.js';
import { addColumn, big, createTable, index, json, key, maybe, oneOf, refers, text, whole } from '../platform/table.js';

/** Purchases and inquiries on record, and until when they except a contact number from registries. */
export async function recordedRelationships(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'consent_relationship', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    e164: text(),
    kind: oneOf([...RELATIONSHIP_KINDS]),
    happenedOn: text(),
    reference: text(),
    endsAt: big(),
    brokenAt: maybe(big()),
    fileId: text(''),
    recordedBy: text(),
    recordedAt: big(),
    withdrawnAt: maybe(big()),
    withdrawnBy: text(''),
    withdrawnWhy: text(''),
  });
  await index(qi, 'consent_relationship', 'consent_relationship_number', ['business_id', 'e164', 'ends_at']);
  await index(qi, 'consent_relationship', 'consent_relationship_recorded', ['business_id', 'recorded_at', 'id']);
  // The same once more is on record already, unless it was withdrawn.
  await index(qi, 'consent_relationship', 'consent_relationship_once', ['business_id', 'e164', 'kind', 'happened_on'], {
    unique: true,
    where: 'withdrawn_at IS NULL',
  });
  await createTable(qi, 'relationship_file', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    name: text(),
    parts: whole(0),
    read: whole(0),
    taken: whole(0),
    known: whole(0),
    refused: whole(0),
    refusals: json('refusals', RefusedLines),
    broughtBy: text(),
    broughtAt: big(),
  });
  await addColumn(qi, 'contact_number', 'relatedUntil', maybe(big()));
}
