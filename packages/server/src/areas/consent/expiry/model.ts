import type { ContactCounts, ContactKind } from '@long-gate/core';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { z } from 'zod';
import { big, flag, json, key, maybe, refers, table, text, whole } from '../../../platform/table.js';

export const ExpiryPurposes = z.array(z.enum(['informational', 'promotional']));
/** What the last walk through a business's numbers counted. */
export const ExpiryOutlook = z.object({
  inForce: z.number(),
  months: z.array(z.object({ month: z.string(), n: z.number() })),
});

/** When a business's consent ends that nobody stood by. A business without a row ends none. */
export class ExpiryPolicyModel extends Model<
  InferAttributes<ExpiryPolicyModel>,
  InferCreationAttributes<ExpiryPolicyModel>
> {
  declare businessId: string;
  declare active: boolean;
  declare months: number;
  declare counts: ContactCounts;
  declare purposes: z.output<typeof ExpiryPurposes>;
  declare askDays: number;
  declare invitationId: CreationOptional<string>;
  /** When its numbers were last gone through to the end. */
  declare lookedAt: CreationOptional<number | null>;
  declare outlook: CreationOptional<z.output<typeof ExpiryOutlook> | null>;
  declare version: CreationOptional<number>;
}
export const expiryPolicyTable = table(ExpiryPolicyModel, 'consent_expiry_policy', {
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

/** A number whose consent ends within the days for asking, as it was when its business was last gone through. */
export class ExpiringModel extends Model<InferAttributes<ExpiringModel>, InferCreationAttributes<ExpiringModel>> {
  declare businessId: string;
  declare e164: string;
  declare contactId: string;
  declare lastAt: number;
  declare lastHow: ContactKind;
  declare endsAt: number;
  /** Since when it is known that it ends: nobody's does before the days for asking have gone by since. */
  declare listedAt: number;
  declare askedAt: CreationOptional<number | null>;
  declare why: CreationOptional<string>;
  /** The turn through the business in which it was last found to end. */
  declare seenAt: number;
}
export const expiringTable = table(ExpiringModel, 'consent_expiring', {
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
