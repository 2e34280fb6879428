import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { ProgrammeShape as Programme } from '@long-gate/contracts';
import { z } from 'zod';
import { big, flag, json, key, maybe, oneOf, refers, text, whole, table } from '../../platform/table.js';

/** What a number can do, in the exchange's words: `send`, `receive`, `pictures`, `voice`. */
export const Capabilities = z.array(z.string());
/** What a released number goes back to when its release is taken back. */
export const BeforeRelease = z.object({
  state: z.enum(['active', 'paused']),
  campaignId: z.string().nullable(),
  tieState: z.enum(['none', 'attaching', 'attached']),
});

/** How a number ended; empty for one that did not. */
export type Ended = '' | 'released' | 'ported away' | 'unpaid' | 'gone back' | 'texting off' | 'given up';

export class NumberModel extends Model<InferAttributes<NumberModel>, InferCreationAttributes<NumberModel>> {
  declare id: string;
  declare businessId: string;
  declare e164: string;
  declare label: CreationOptional<string>;
  declare description: CreationOptional<string>;
  declare kind: CreationOptional<string>;
  declare capabilities: CreationOptional<z.output<typeof Capabilities>>;
  declare source: CreationOptional<string>;
  declare state: 'ordered' | 'active' | 'failed' | 'paused' | 'released';
  declare note: CreationOptional<string>;
  declare setup: CreationOptional<number>;
  declare monthly: CreationOptional<number>;
  declare campaignId: CreationOptional<string | null>;
  declare tieState: CreationOptional<'none' | 'attaching' | 'attached'>;
  declare orderedAt: number;
  declare activeAt: CreationOptional<number | null>;
  declare nextFeeAt: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
  declare signature: CreationOptional<string>;
  declare countries: CreationOptional<string>;
  declare unpaidSince: CreationOptional<number | null>;
  declare orderId: CreationOptional<string>;
  declare lastUsedAt: CreationOptional<number | null>;
  declare releasedAt: CreationOptional<number | null>;
  declare beforeRelease: CreationOptional<z.output<typeof BeforeRelease> | null>;
  declare lockState: CreationOptional<string>;
  declare unlockAskedBy: CreationOptional<string>;
  declare unlockAskedAt: CreationOptional<number | null>;
  declare unlockedUntil: CreationOptional<number | null>;
  declare releasePin: CreationOptional<string>;
  declare calls: CreationOptional<string>;
  declare unlockMailHash: CreationOptional<string>;
  declare unlockAnsweredAt: CreationOptional<number | null>;
  declare ended: CreationOptional<Ended>;
  declare orderedBy: CreationOptional<string>;
  declare cardName: CreationOptional<string>;
  declare cardPicture: CreationOptional<string | null>;
  declare programme: CreationOptional<z.output<typeof Programme> | null>;
}
export const numberTable = table(NumberModel, 'number', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  e164: text(),
  label: text(''),
  description: text(''),
  kind: text('local'),
  capabilities: json('capabilities', Capabilities, '[]'),
  source: text('bought'),
  state: oneOf(['ordered', 'active', 'failed', 'paused', 'released']),
  note: text(''),
  setup: big(0),
  monthly: big(0),
  campaignId: maybe(text()),
  tieState: oneOf(['none', 'attaching', 'attached'], 'none'),
  orderedAt: big(),
  activeAt: maybe(big()),
  nextFeeAt: maybe(big()),
  version: whole(1),
  signature: text(''),
  countries: text(''),
  unpaidSince: maybe(big()),
  orderId: text(''),
  lastUsedAt: maybe(big()),
  releasedAt: maybe(big()),
  beforeRelease: maybe(json('beforeRelease', BeforeRelease)),
  lockState: text('locked'),
  unlockAskedBy: text(''),
  unlockAskedAt: maybe(big()),
  unlockedUntil: maybe(big()),
  releasePin: text(''),
  calls: text(''),
  unlockMailHash: text(''),
  unlockAnsweredAt: maybe(big()),
  ended: text(''),
  orderedBy: text(''),
  cardName: text(''),
  cardPicture: maybe(text()),
  programme: maybe(json('programme', Programme)),
});

export class BasketItemModel extends Model<InferAttributes<BasketItemModel>, InferCreationAttributes<BasketItemModel>> {
  declare businessId: string;
  declare e164: string;
  declare kind: 'local' | 'toll-free' | 'short code';
  declare setup: number;
  declare monthly: number;
  declare capabilities: z.output<typeof Capabilities>;
  declare heldUntil: number;
  declare putBy: CreationOptional<string>;
  declare forwardTo: CreationOptional<string>;
  declare programme: CreationOptional<z.output<typeof Programme> | null>;
}
export const basketItemTable = table(BasketItemModel, 'basket_item', {
  businessId: refers(key(text()), 'business'),
  e164: key(text()),
  kind: text(),
  setup: big(),
  monthly: big(),
  capabilities: json('capabilities', Capabilities),
  heldUntil: big(),
  putBy: text(''),
  forwardTo: text(''),
  programme: maybe(json('programme', Programme)),
});

export class DefaultNumberModel extends Model<
  InferAttributes<DefaultNumberModel>,
  InferCreationAttributes<DefaultNumberModel>
> {
  declare businessId: string;
  declare purpose: string;
  declare numberId: string;
}
export const defaultNumberTable = table(DefaultNumberModel, 'default_number', {
  businessId: refers(key(text()), 'business'),
  purpose: key(text()),
  numberId: refers(text(), 'number'),
});

export class PortOutModel extends Model<InferAttributes<PortOutModel>, InferCreationAttributes<PortOutModel>> {
  declare key: string;
  declare businessId: string;
  declare numberId: string;
  declare carrier: string;
  declare at: number;
  declare deadline: number;
  declare state: CreationOptional<'open' | 'refused' | 'left'>;
  declare locked: boolean;
}
export const portOutTable = table(PortOutModel, 'port_out', {
  key: key(text()),
  businessId: text(),
  numberId: refers(text(), 'number'),
  carrier: text(),
  at: big(),
  deadline: big(),
  state: oneOf(['open', 'refused', 'left'], 'open'),
  locked: flag(),
});
