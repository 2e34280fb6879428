import type { QueryInterface } from 'sequelize';
import { big, createTable, index, key, maybe, oneOf, refers, text, whole } from '../platform/table.js';

/** Who asks for proof of consent, the packs made for them, and opt-in pages as they were. */
export async function evidencePacks(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'evidence_request', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    asker: oneOf(['carrier', 'regulator', 'lawyer', 'the person', 'our own file']),
    who: text(),
    reference: text(),
    question: text(),
    dueOn: maybe(text()),
    numbers: text(),
    askedAt: big(),
    askedBy: text(),
    answeredAt: maybe(big()),
    answeredBy: text(''),
    answer: text(''),
    version: whole(1),
  });
  await index(qi, 'evidence_request', 'evidence_request_asked', ['business_id', 'asked_at', 'id']);
  await createTable(qi, 'evidence_pack', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    requestId: refers(text(), 'evidence_request'),
    state: oneOf(['making', 'ready', 'failed', 'gone'], 'making'),
    jobId: text(),
    madeAt: big(),
    madeBy: text(),
    size: whole(0),
    sha256: text(''),
    events: whole(0),
    texts: whole(0),
    keptUntil: big(),
  });
  await index(qi, 'evidence_pack', 'evidence_pack_request', ['request_id', 'made_at']);
  await createTable(qi, 'page_version', {
    businessId: key(text()),
    sha256: key(text()),
    pageId: refers(text(), 'optin_page'),
    pageVersion: whole(),
    title: text(),
    html: text(),
    firstAt: big(),
  });
  await index(qi, 'page_version', 'page_version_page', ['page_id', 'first_at']);
}
