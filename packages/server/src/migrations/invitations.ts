import { WhomShape } from '@long-gate/contracts';
import type { QueryInterface } from 'sequelize';
import { big, createTable, index, json, key, maybe, once, refers, text, whole } from '../platform/table.js';

/** Letters that invite people to texts, the links in them, and addresses that get none any more. */
export async function invitations(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'optin_invitation', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    title: text(),
    pageId: text(),
    subject: text(),
    text: text(),
    againDays: whole(),
    standing: maybe(json('standing', WhomShape)),
    createdBy: text(),
    createdAt: big(),
    lastSentAt: maybe(big()),
    version: whole(1),
  });
  await createTable(qi, 'personal_link', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    invitationId: refers(text(), 'optin_invitation'),
    contactId: text(),
    pageId: text(),
    tokenHash: once(text()),
    email: text(),
    e164: text(),
    newE164: maybe(text()),
    sentBy: text(),
    sentAt: big(),
    expiresAt: big(),
    openedAt: maybe(big()),
    answeredAt: maybe(big()),
    chose: text(''),
    joinedAt: maybe(big()),
    failed: text(''),
    why: text(''),
    withdrawnAt: maybe(big()),
  });
  await index(qi, 'personal_link', 'personal_link_contact', ['contact_id', 'sent_at']);
  await index(qi, 'personal_link', 'personal_link_sent', ['invitation_id', 'sent_at', 'id']);
  await index(qi, 'personal_link', 'personal_link_number', ['business_id', 'e164']);
  await index(qi, 'personal_link', 'personal_link_new_number', ['business_id', 'new_e164'], {
    where: 'new_e164 IS NOT NULL',
  });
  await createTable(qi, 'mail_refusal', { businessId: key(text()), emailHash: key(text()), why: text(), at: big() });
}
