import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, flag, key, maybe, oneOf, refers, text, whole, table } from '../../../platform/table.js';

export class PortModel extends Model<InferAttributes<PortModel>, InferCreationAttributes<PortModel>> {
  declare id: string;
  declare businessId: string;
  declare state: CreationOptional<
    'draft' | 'submitted' | 'rejected' | 'accepted' | 'cutting over' | 'done' | 'cancelled' | 'returning' | 'returned'
  >;
  declare losingCarrier: CreationOptional<string>;
  declare facts: string;
  declare secrets: CreationOptional<string>;
  declare acknowledged: CreationOptional<string>;
  declare record: CreationOptional<string>;
  declare recordState: CreationOptional<string>;
  declare recordAt: CreationOptional<number | null>;
  declare letter: CreationOptional<string | null>;
  declare billDated: CreationOptional<string>;
  declare attempt: CreationOptional<number>;
  declare reasons: CreationOptional<string>;
  declare lastSubmitted: CreationOptional<string | null>;
  declare submitKey: CreationOptional<string>;
  declare focAt: CreationOptional<number | null>;
  declare askedDate: CreationOptional<string>;
  declare runbook: CreationOptional<string>;
  declare charged: CreationOptional<number>;
  declare begunAt: number;
  declare submittedAt: CreationOptional<number | null>;
  declare answeredAt: CreationOptional<number | null>;
  declare completedAt: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
  declare lastSecrets: CreationOptional<string>;
}
export const portTable = table(PortModel, 'port', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  state: oneOf(
    ['draft', 'submitted', 'rejected', 'accepted', 'cutting over', 'done', 'cancelled', 'returning', 'returned'],
    'draft',
  ),
  losingCarrier: text(''),
  facts: text(),
  secrets: text(''),
  acknowledged: text('[]'),
  record: text(''),
  recordState: text('not asked'),
  recordAt: maybe(big()),
  letter: maybe(text()),
  billDated: text(''),
  attempt: whole(0),
  reasons: text('[]'),
  lastSubmitted: maybe(text()),
  submitKey: text(''),
  focAt: maybe(big()),
  askedDate: text(''),
  runbook: text('{}'),
  charged: big(0),
  begunAt: big(),
  submittedAt: maybe(big()),
  answeredAt: maybe(big()),
  completedAt: maybe(big()),
  version: whole(1),
  lastSecrets: text(''),
});

export class PortNumberModel extends Model<InferAttributes<PortNumberModel>, InferCreationAttributes<PortNumberModel>> {
  declare portId: string;
  declare e164: string;
  declare kind: CreationOptional<string | null>;
  declare losingCarrier: CreationOptional<string>;
  declare portable: CreationOptional<boolean | null>;
  declare whyNot: CreationOptional<string>;
  declare label: CreationOptional<string>;
  declare campaignId: CreationOptional<string | null>;
  declare numberId: CreationOptional<string | null>;
  declare open: CreationOptional<boolean>;
  declare forwardTo: CreationOptional<string>;
}
export const portNumberTable = table(PortNumberModel, 'port_number', {
  portId: refers(key(text()), 'port'),
  e164: key(text()),
  kind: maybe(text()),
  losingCarrier: text(''),
  portable: maybe(flag()),
  whyNot: text(''),
  label: text(''),
  campaignId: maybe(text()),
  numberId: maybe(text()),
  open: flag(true),
  forwardTo: text(''),
});

export class CalendarFeedModel extends Model<
  InferAttributes<CalendarFeedModel>,
  InferCreationAttributes<CalendarFeedModel>
> {
  declare tokenHash: string;
  declare token: string;
  declare businessId: string;
  declare userId: string;
}
export const calendarFeedTable = table(CalendarFeedModel, 'calendar_feed', {
  tokenHash: key(text()),
  token: text(),
  businessId: text(),
  userId: refers(text(), 'user'),
});
