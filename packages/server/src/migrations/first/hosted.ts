import type { QueryInterface } from 'sequelize';
import { createTable, big, flag, key, maybe, oneOf, refers, text, whole, index } from '../../platform/table.js';

export async function hosted(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'hosted', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    e164: text(),
    kind: text(),
    voiceCarrier: text(''),
    enabledElsewhere: text(''),
    state: oneOf(['draft', 'submitted', 'refused', 'on', 'off', 'cancelled'], 'draft'),
    holderName: text(),
    authorisedName: text(),
    street: text(),
    city: text(),
    stateCode: text(),
    postalCode: text(),
    label: text(''),
    campaignId: maybe(text()),
    letter: maybe(text()),
    calledAt: maybe(big()),
    codeConfirmed: flag(false),
    attempt: whole(0),
    submitKey: text(''),
    reasons: text('[]'),
    charged: big(0),
    numberId: maybe(text()),
    begunAt: big(),
    submittedAt: maybe(big()),
    answeredAt: maybe(big()),
    version: whole(1),
    codeTries: whole(0),
  });
  await index(qi, 'hosted', 'hosted_open', ['e164'], {
    unique: true,
    where: "state IN ('draft','submitted','refused','on')",
  });
  await index(qi, 'hosted', 'hosted_business', ['business_id', 'begun_at DESC']);
}
