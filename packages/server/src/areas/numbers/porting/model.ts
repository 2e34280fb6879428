import {
  Model,
  Op,
  type CreationOptional,
  type NonAttribute,
  type InferAttributes,
  type InferCreationAttributes,
} from 'sequelize';
import { KeptLetterShape, type KeptLetter } from '../letters/letter-shape.js';
import { PortFactsShape, ReasonShape } from '@long-gate/contracts';
import { PORT_STATES, type PortKind, type PortState } from '@long-gate/core';
import { z } from 'zod';
import { hasMany, big, flag, json, key, maybe, oneOf, refers, text, whole, table } from '../../../platform/table.js';

/** The facts of a request without account number and PIN, which are sealed apart. */
const Facts = PortFactsShape.omit({ accountNumber: true, pin: true });
const Acknowledged = z.array(z.string());
const Reasons = z.array(ReasonShape);
/** What is kept of a submission, to say later what changed. */
const Submitted = z.record(z.string(), z.union([z.string(), z.boolean()]));
/** When each test of the runbook passed. */
const Runbook = z.record(z.string(), z.number());

export class PortModel extends Model<InferAttributes<PortModel>, InferCreationAttributes<PortModel>> {
  declare id: string;
  declare businessId: string;
  declare state: CreationOptional<PortState>;
  declare losingCarrier: CreationOptional<string>;
  declare facts: z.output<typeof Facts>;
  /** Account number and PIN, sealed. */
  declare secrets: CreationOptional<string>;
  declare acknowledged: CreationOptional<z.output<typeof Acknowledged>>;
  /** What the losing carrier has on file, sealed. */
  declare record: CreationOptional<string>;
  declare recordState: CreationOptional<'not asked' | 'answered' | 'none'>;
  declare recordAt: CreationOptional<number | null>;
  declare letter: CreationOptional<KeptLetter | null>;
  declare billDated: CreationOptional<string>;
  declare attempt: CreationOptional<number>;
  declare reasons: CreationOptional<z.output<typeof Reasons>>;
  declare lastSubmitted: CreationOptional<z.output<typeof Submitted> | null>;
  /** The idempotency key of the last submission. */
  declare submitKey: CreationOptional<string>;
  declare focAt: CreationOptional<number | null>;
  declare askedDate: CreationOptional<string>;
  declare runbook: CreationOptional<z.output<typeof Runbook>>;
  declare charged: CreationOptional<number>;
  declare begunAt: number;
  declare submittedAt: CreationOptional<number | null>;
  declare answeredAt: CreationOptional<number | null>;
  declare completedAt: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
  /** Account number and PIN as they were submitted last, sealed; empty where that is not known. */
  declare lastSecrets: CreationOptional<string>;
  declare numbers?: NonAttribute<PortNumberModel[]>;
}
export const portTable = table(
  PortModel,
  'port',
  {
    id: key(text()),
    businessId: refers(text(), 'business'),
    state: oneOf(PORT_STATES, 'draft'),
    losingCarrier: text(''),
    facts: json('facts', Facts),
    secrets: text(''),
    acknowledged: json('acknowledged', Acknowledged, '[]'),
    record: text(''),
    recordState: text('not asked'),
    recordAt: maybe(big()),
    letter: maybe(json('letter', KeptLetterShape)),
    billDated: text(''),
    attempt: whole(0),
    reasons: json('reasons', Reasons, '[]'),
    lastSubmitted: maybe(json('lastSubmitted', Submitted)),
    submitKey: text(''),
    focAt: maybe(big()),
    askedDate: text(''),
    runbook: json('runbook', Runbook, '{}'),
    charged: big(0),
    begunAt: big(),
    submittedAt: maybe(big()),
    answeredAt: maybe(big()),
    completedAt: maybe(big()),
    version: whole(1),
    lastSecrets: text(''),
  },
  {
    /** On which something may wait to be done; those that landed after a moment among them. */
    underWay: (since: number) => ({
      where: {
        [Op.or]: [
          { state: ['draft', 'rejected', 'submitted', 'accepted', 'cutting over'] },
          { state: 'done', completedAt: { [Op.gt]: since } },
        ],
      },
    }),
    landed: (since: number) => ({ where: { state: 'done', completedAt: { [Op.gt]: since } } }),
    /** Those that have a day. */
    dated: { where: { focAt: { [Op.ne]: null }, state: ['accepted', 'cutting over', 'done'] } },
  },
);

export class PortNumberModel extends Model<InferAttributes<PortNumberModel>, InferCreationAttributes<PortNumberModel>> {
  declare portId: string;
  declare e164: string;
  declare kind: CreationOptional<PortKind | null>;
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

hasMany(portTable, portNumberTable, 'numbers', 'portId');

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
