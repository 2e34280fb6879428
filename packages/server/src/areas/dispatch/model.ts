import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { z } from 'zod';
import type { Purpose } from '@long-gate/core';
import { big, flag, json, key, maybe, oneOf, real, refers, text, whole, table } from '../../platform/table.js';

const AudienceCodec = z.object({ include: z.array(z.string()), exclude: z.array(z.string()) });
export class DispatchModel extends Model<InferAttributes<DispatchModel>, InferCreationAttributes<DispatchModel>> {
  declare id: string;
  declare businessId: string;
  declare title: string;
  declare text: string;
  declare purpose: CreationOptional<Purpose | null>;
  declare transactional: CreationOptional<boolean>;
  declare stopLine: CreationOptional<boolean>;
  declare numberId: CreationOptional<string | null>;
  /** Lists and tags by their ids. */
  declare audience: z.infer<typeof AudienceCodec>;
  declare state: 'draft' | 'sending' | 'done' | 'cancelled';
  declare createdBy: string;
  declare createdAt: number;
  declare sentAt: CreationOptional<number | null>;
  declare endsAt: CreationOptional<number | null>;
  declare facts: CreationOptional<string | null>;
  declare version: CreationOptional<number>;
  declare overrideReason: CreationOptional<string>;
  declare overrideBy: CreationOptional<string>;
  declare category: CreationOptional<string>;
  declare effort: CreationOptional<string>;
  declare archivedAt: CreationOptional<number | null>;
  /** The wall time chosen for it where each recipient is; null for none. */
  declare ownTime: CreationOptional<string | null>;
}
export const dispatchTable = table(DispatchModel, 'dispatch', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  title: text(),
  text: text(),
  purpose: maybe(text()),
  transactional: flag(false),
  stopLine: flag(true),
  numberId: maybe(text()),
  audience: json('audience', AudienceCodec),
  state: oneOf(['draft', 'sending', 'done', 'cancelled']),
  createdBy: text(),
  createdAt: big(),
  sentAt: maybe(big()),
  endsAt: maybe(big()),
  facts: maybe(text()),
  version: whole(1),
  overrideReason: text(''),
  overrideBy: text(''),
  category: text(''),
  effort: text(''),
  archivedAt: maybe(big()),
  ownTime: maybe(text()),
});

export class ScheduleModel extends Model<InferAttributes<ScheduleModel>, InferCreationAttributes<ScheduleModel>> {
  declare dispatchId: string;
  declare businessId: string;
  declare local: string;
  declare zone: 'business' | 'own';
  declare at: number;
  declare reach: number;
  declare cost: number;
  declare byId: string;
  declare byName: string;
  /** Why it did not leave when its time came; empty for one that waits for its time. */
  declare held: CreationOptional<string>;
}
export const scheduleTable = table(ScheduleModel, 'dispatch_schedule', {
  dispatchId: refers(key(text()), 'dispatch'),
  businessId: refers(text(), 'business'),
  local: text(),
  zone: oneOf(['business', 'own']),
  at: big(),
  reach: whole(),
  cost: big(),
  byId: text(),
  byName: text(),
  held: text(''),
});

export class MessageModel extends Model<InferAttributes<MessageModel>, InferCreationAttributes<MessageModel>> {
  declare id: string;
  declare businessId: string;
  declare dispatchId: CreationOptional<string | null>;
  declare direction: 'out' | 'in';
  declare kind: string;
  declare purpose: CreationOptional<string>;
  declare numberId: string;
  declare e164: string;
  declare contactNumberId: CreationOptional<number | null>;
  declare text: string;
  declare segments: CreationOptional<number>;
  declare state:
    | 'judging'
    | 'waiting'
    | 'held'
    | 'stopped'
    | 'leaving'
    | 'unsure'
    | 'sent'
    | 'delivered'
    | 'failed'
    | 'received'
    | 'cancelled';
  declare post: CreationOptional<number | null>;
  declare reason: CreationOptional<string | null>;
  declare holdUntil: CreationOptional<number | null>;
  declare cost: CreationOptional<number>;
  declare carrier: CreationOptional<string>;
  declare failure: CreationOptional<string | null>;
  declare failureCode: CreationOptional<string | null>;
  declare failureReason: CreationOptional<string | null>;
  declare createdAt: number;
  declare sentAt: CreationOptional<number | null>;
  declare finalAt: CreationOptional<number | null>;
  declare sentBy: CreationOptional<string>;
  declare paceKey: CreationOptional<string>;
  declare dueAt: CreationOptional<number | null>;
  declare tries: CreationOptional<number>;
  /** The kind of network it was judged for: A, B, C; empty before. */
  declare network: CreationOptional<string>;
  declare expiresAt: CreationOptional<number | null>;
  /** The day it left or came on where its business is (`dayNumber`), on which it counts; null counts in UTC. */
  declare day: CreationOptional<number | null>;
  /** When the gate last held or stopped it; null where it never did. */
  declare judgedAt: CreationOptional<number | null>;
}
export const messageTable = table(MessageModel, 'message', {
  id: key(text()),
  businessId: text(),
  dispatchId: maybe(text()),
  direction: oneOf(['out', 'in']),
  kind: text(),
  purpose: text(''),
  numberId: text(),
  e164: text(),
  contactNumberId: maybe(whole()),
  text: text(),
  segments: whole(1),
  state: oneOf([
    'judging',
    'waiting',
    'held',
    'stopped',
    'leaving',
    'unsure',
    'sent',
    'delivered',
    'failed',
    'received',
    'cancelled',
  ]),
  post: maybe(whole()),
  reason: maybe(text()),
  holdUntil: maybe(big()),
  cost: big(0),
  carrier: text(''),
  failure: maybe(text()),
  failureCode: maybe(text()),
  failureReason: maybe(text()),
  createdAt: big(),
  sentAt: maybe(big()),
  finalAt: maybe(big()),
  sentBy: text(''),
  paceKey: text(''),
  dueAt: maybe(big()),
  tries: whole(0),
  network: text(''),
  expiresAt: maybe(big()),
  day: maybe(whole()),
  judgedAt: maybe(big()),
});

export class PaceModel extends Model<InferAttributes<PaceModel>, InferCreationAttributes<PaceModel>> {
  declare key: string;
  declare freeAt: CreationOptional<number>;
}
export const paceTable = table(PaceModel, 'pace', {
  key: key(text()),
  freeAt: real(0),
});

export class DayUseModel extends Model<InferAttributes<DayUseModel>, InferCreationAttributes<DayUseModel>> {
  declare businessId: string;
  declare day: number;
  declare segments: number;
}
export const dayUseTable = table(DayUseModel, 'day_use', {
  businessId: key(text()),
  day: key(big()),
  segments: whole(),
});

/** How many texts of a dispatch stand how: kept beside the texts by the database itself. */
export class TextCountModel extends Model<InferAttributes<TextCountModel>, InferCreationAttributes<TextCountModel>> {
  declare dispatchId: string;
  declare state: string;
  declare post: number;
  declare reason: string;
  declare n: number;
}
export const textCountTable = table(TextCountModel, 'text_count', {
  dispatchId: key(text()),
  state: key(text()),
  post: key(whole()),
  reason: key(text()),
  n: whole(),
});

/** What became of the texts of a day, by number and carrier; a day is one of the business's time zone (`dayNumber`). */
export class TextDayModel extends Model<InferAttributes<TextDayModel>, InferCreationAttributes<TextDayModel>> {
  declare businessId: string;
  declare day: number;
  declare numberId: string;
  declare carrier: string;
  declare outcome: string;
  declare failure: string;
  declare reason: string;
  declare n: number;
}
export const textDayTable = table(TextDayModel, 'text_day', {
  businessId: key(text()),
  day: key(whole()),
  numberId: key(text()),
  carrier: key(text()),
  outcome: key(text()),
  failure: key(text()),
  reason: key(text()),
  n: whole(),
});

/** How long delivery took, in steps that grow with it (`latencyStep`); kept as {@link TextDayModel}. */
export class TextLatencyModel extends Model<
  InferAttributes<TextLatencyModel>,
  InferCreationAttributes<TextLatencyModel>
> {
  declare businessId: string;
  declare numberId: string;
  declare day: number;
  declare step: number;
  declare n: number;
}
export const textLatencyTable = table(TextLatencyModel, 'text_latency', {
  businessId: key(text()),
  numberId: key(text()),
  day: key(whole()),
  step: key(whole()),
  n: whole(),
});

/** As {@link TextLatencyModel}, by weeks: a day (`dayNumber`) divided by seven. */
export class TextLatencyWeekModel extends Model<
  InferAttributes<TextLatencyWeekModel>,
  InferCreationAttributes<TextLatencyWeekModel>
> {
  declare businessId: string;
  declare week: number;
  declare numberId: string;
  declare step: number;
  declare n: number;
}
export const textLatencyWeekTable = table(TextLatencyWeekModel, 'text_latency_week', {
  businessId: key(text()),
  week: key(whole()),
  numberId: key(text()),
  step: key(whole()),
  n: whole(),
});

/** What waits to leave, in segments, by kind of network: kept by the database itself. */
export class TextWaitingModel extends Model<
  InferAttributes<TextWaitingModel>,
  InferCreationAttributes<TextWaitingModel>
> {
  declare businessId: string;
  declare network: string;
  declare segments: number;
}
export const textWaitingTable = table(TextWaitingModel, 'text_waiting', {
  businessId: key(text()),
  network: key(text()),
  segments: whole(),
});
