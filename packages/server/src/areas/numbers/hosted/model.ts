import type { HostedView } from '@long-gate/contracts';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { ReasonShape } from '@long-gate/contracts';
import { z } from 'zod';
import { KeptLetterShape, type KeptLetter } from '../letters/letter-shape.js';
import { big, flag, json, key, maybe, oneOf, refers, text, whole, table } from '../../../platform/table.js';

const Reasons = z.array(ReasonShape);

export class HostedModel extends Model<InferAttributes<HostedModel>, InferCreationAttributes<HostedModel>> {
  declare id: string;
  declare businessId: string;
  declare e164: string;
  declare kind: HostedView['kind'];
  declare voiceCarrier: CreationOptional<string>;
  declare enabledElsewhere: CreationOptional<string>;
  declare state: CreationOptional<'draft' | 'submitted' | 'refused' | 'on' | 'off' | 'cancelled'>;
  declare holderName: string;
  declare authorisedName: string;
  declare street: string;
  declare city: string;
  declare stateCode: string;
  declare postalCode: string;
  declare label: CreationOptional<string>;
  declare campaignId: CreationOptional<string | null>;
  declare letter: CreationOptional<KeptLetter | null>;
  declare calledAt: CreationOptional<number | null>;
  declare codeConfirmed: CreationOptional<boolean>;
  declare attempt: CreationOptional<number>;
  declare submitKey: CreationOptional<string>;
  declare reasons: CreationOptional<z.output<typeof Reasons>>;
  declare charged: CreationOptional<number>;
  declare numberId: CreationOptional<string | null>;
  declare begunAt: number;
  declare submittedAt: CreationOptional<number | null>;
  declare answeredAt: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
  declare codeTries: CreationOptional<number>;
}
export const hostedTable = table(HostedModel, 'hosted', {
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
  letter: maybe(json('letter', KeptLetterShape)),
  calledAt: maybe(big()),
  codeConfirmed: flag(false),
  attempt: whole(0),
  submitKey: text(''),
  reasons: json('reasons', Reasons, '[]'),
  charged: big(0),
  numberId: maybe(text()),
  begunAt: big(),
  submittedAt: maybe(big()),
  answeredAt: maybe(big()),
  version: whole(1),
  codeTries: whole(0),
});
