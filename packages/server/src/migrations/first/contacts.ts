import type { QueryInterface } from 'sequelize';
import { createTable, big, flag, key, maybe, oneOf, refers, serial, text, whole, index } from '../../platform/table.js';

export async function contacts(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'contact', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    firstName: text(''),
    lastName: text(''),
    email: text(''),
    stateCode: text(''),
    sortName: text(),
    createdAt: big(),
    version: whole(1),
  });
  await index(qi, 'contact', 'contact_business', ['business_id']);
  await createTable(qi, 'contact_number', {
    id: serial(),
    businessId: text(),
    contactId: refers(text(), 'contact'),
    e164: text(),
    sortName: text(),
    extension: text(''),
    country: text(),
    zones: text(),
    states: text(),
    lineType: text('unknown'),
    carrier: text(''),
    carrierKind: text('A'),
    reachable: flag(true),
    lookedUpAt: maybe(big()),
    textable: text('unknown'),
    trouble: text('none'),
    troubleAt: maybe(big()),
    faultsInReview: flag(false),
    suppressed: flag(false),
    wishInReview: flag(false),
    consentConversational: text('none'),
    consentInformational: text('none'),
    consentPromotional: text('none'),
    conversationUntil: maybe(big()),
    promotionalCapUntil: maybe(big()),
    faultsSeenAt: big(0),
  });
  await index(qi, 'contact_number', 'contact_number_once', ['business_id', 'e164'], { unique: true });
  await index(qi, 'contact_number', 'contact_number_contact', ['contact_id']);
  // The list is walked in its order, whole or by one filter; the other filters stand in each index, so that a second
  // one is answered without going to the row.
  const rest = ['textable', 'consent_informational', 'consent_promotional', 'faults_in_review'];
  await index(qi, 'contact_number', 'contact_number_order', ['business_id', 'sort_name', 'contact_id', 'id', ...rest]);
  for (const filter of rest.slice(0, 3))
    await index(qi, 'contact_number', `contact_number_by_${filter}`, [
      'business_id',
      filter,
      'sort_name',
      'contact_id',
      'id',
      ...rest.filter((x) => x !== filter),
    ]);
  await index(qi, 'contact_number', 'contact_number_faults', ['business_id', 'sort_name', 'contact_id', 'id'], {
    where: 'faults_in_review',
  });
  // Whose answer has gone stale.
  await index(qi, 'contact_number', 'contact_number_looked_up', ['business_id', 'looked_up_at', 'reachable']);
  await createTable(qi, 'contact_sender', {
    contactNumberId: refers(key(whole()), 'contact_number'),
    numberId: key(text()),
    firstAt: big(),
    stopLineAt: maybe(big()),
  });
  // Whom a number of ours has texted, asked before it is given up.
  await index(qi, 'contact_sender', 'contact_sender_number', ['number_id']);
  await createTable(qi, 'contact_list', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    name: text(),
    kind: oneOf(['list', 'tag'], 'list'),
    members: whole(0),
    createdAt: big(),
  });
  await index(qi, 'contact_list', 'contact_list_once', ['business_id', 'kind', 'name'], { unique: true });
  await createTable(qi, 'list_member', {
    listId: refers(key(text()), 'contact_list'),
    contactId: refers(key(text()), 'contact'),
    sortName: text(),
  });
  await index(qi, 'list_member', 'list_member_contact', ['contact_id']);
  await index(qi, 'list_member', 'list_member_order', ['list_id', 'sort_name', 'contact_id']);
  await createTable(qi, 'intake', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    fileName: text(),
    state: oneOf(['reading', 'storing', 'stored', 'cancelled']),
    total: whole(),
    received: whole(0),
    listId: maybe(text()),
    consentClaim: text(''),
    createdBy: text(),
    createdAt: big(),
    result: text('{}'),
  });
  await createTable(qi, 'intake_row', {
    intakeId: refers(key(text()), 'intake'),
    row: key(whole()),
    phone: text(),
    firstName: text(),
    lastName: text(),
    email: text(),
    stateCode: text(),
    e164: maybe(text()),
    outcome: text(),
    reason: text(),
    keep: flag(),
  });
  // Whether a number stood in an earlier row of the same file.
  await index(qi, 'intake_row', 'intake_row_number', ['intake_id', 'e164'], { where: 'keep' });
  await createTable(qi, 'contact_count', {
    businessId: key(text()),
    lookedUp: key(flag()),
    textable: key(text()),
    informational: key(text()),
    promotional: key(text()),
    faultsInReview: key(flag()),
    country: key(text()),
    n: whole(),
  });
}
