import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { z } from 'zod';
import type { Reassignment, Suppression } from '@long-gate/core';
import { big, flag, json, key, maybe, oneOf, refers, serial, text, whole, table } from '../../platform/table.js';

export class ContactModel extends Model<InferAttributes<ContactModel>, InferCreationAttributes<ContactModel>> {
  declare id: string;
  declare businessId: string;
  declare firstName: CreationOptional<string>;
  declare lastName: CreationOptional<string>;
  declare email: CreationOptional<string>;
  declare stateCode: CreationOptional<string>;
  declare sortName: string;
  declare createdAt: number;
  declare version: CreationOptional<number>;
  /** The intake that brought it in; null where none did. */
  declare intakeId: CreationOptional<string | null>;
  /** The language they read, as a tag of BCP 47; empty where it is not known. */
  declare language: CreationOptional<string>;
  declare street: CreationOptional<string>;
  declare city: CreationOptional<string>;
  declare postalCode: CreationOptional<string>;
  /** What stands in the business's own fields, by the field's id. */
  declare own: CreationOptional<Record<string, string>>;
  /** The same, one value a line, as a search looks through it. */
  declare ownWords: CreationOptional<string>;
}
export const contactTable = table(ContactModel, 'contact', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  firstName: text(''),
  lastName: text(''),
  email: text(''),
  stateCode: text(''),
  sortName: text(),
  createdAt: big(),
  version: whole(1),
  intakeId: maybe(text()),
  language: text(''),
  street: text(''),
  city: text(''),
  postalCode: text(''),
  own: json('own', z.record(z.string(), z.string()), '{}'),
  ownWords: text(''),
});

export class ContactNumberModel extends Model<
  InferAttributes<ContactNumberModel>,
  InferCreationAttributes<ContactNumberModel>
> {
  declare id: CreationOptional<number>;
  declare businessId: string;
  declare contactId: string;
  declare e164: string;
  /** The contact's, so that a list can be walked in its order by one index. */
  declare sortName: string;
  declare extension: CreationOptional<string>;
  declare country: string;
  declare zones: string;
  declare states: string;
  declare lineType: CreationOptional<string>;
  declare carrier: CreationOptional<string>;
  declare carrierKind: CreationOptional<string>;
  declare reachable: CreationOptional<boolean>;
  declare lookedUpAt: CreationOptional<number | null>;
  declare textable: CreationOptional<string>;
  declare trouble: CreationOptional<string>;
  declare troubleAt: CreationOptional<number | null>;
  declare faultsInReview: CreationOptional<boolean>;
  /** What the suppression lists it stands on keep from it. */
  declare suppression: CreationOptional<Suppression>;
  /** Until when what its owner bought or asked about excepts it from a registry; null where nothing does. */
  declare relatedUntil: CreationOptional<number | null>;
  declare wishInReview: CreationOptional<boolean>;
  declare consentConversational: CreationOptional<string>;
  declare consentInformational: CreationOptional<string>;
  declare consentPromotional: CreationOptional<string>;
  declare conversationUntil: CreationOptional<number | null>;
  declare promotionalCapUntil: CreationOptional<number | null>;
  declare faultsSeenAt: CreationOptional<number>;
  /** The one of a contact's numbers that texts go to; each contact has exactly one. */
  declare preferred: CreationOptional<boolean>;
  /** What the business calls it, as “work”. */
  declare label: CreationOptional<string>;
  declare lastReplyAt: CreationOptional<number | null>;
  /** Purposes the same person refused on another of their numbers: a sum of {@link REFUSED}. */
  declare refusedElsewhere: CreationOptional<number>;
  /** The intake that is bringing it in and is not through yet, by its figure: not shown before. 0 for all others. */
  declare stagedNo: CreationOptional<number>;
  /** When its owner last agreed to what is in force; null where nothing is. */
  declare agreedAt: CreationOptional<number | null>;
  /** What the gate reads of queries about reassigned numbers. */
  declare reassignment: CreationOptional<Reassignment>;
  declare reassignmentAskedAt: CreationOptional<number | null>;
}
/** What each purpose counts in `refusedElsewhere`. */
export const REFUSED = { informational: 1, promotional: 2 } as const;
export const contactNumberTable = table(ContactNumberModel, 'contact_number', {
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
  suppression: text('none'),
  wishInReview: flag(false),
  consentConversational: text('none'),
  consentInformational: text('none'),
  consentPromotional: text('none'),
  conversationUntil: maybe(big()),
  promotionalCapUntil: maybe(big()),
  faultsSeenAt: big(0),
  preferred: flag(true),
  label: text(''),
  lastReplyAt: maybe(big()),
  refusedElsewhere: whole(0),
  stagedNo: whole(0),
  agreedAt: maybe(big()),
  reassignment: text('clear'),
  reassignmentAskedAt: maybe(big()),
  relatedUntil: maybe(big()),
});

export class ContactSenderModel extends Model<
  InferAttributes<ContactSenderModel>,
  InferCreationAttributes<ContactSenderModel>
> {
  declare contactNumberId: number;
  declare numberId: string;
  declare firstAt: number;
  declare stopLineAt: CreationOptional<number | null>;
}
export const contactSenderTable = table(ContactSenderModel, 'contact_sender', {
  contactNumberId: refers(key(whole()), 'contact_number'),
  numberId: key(text()),
  firstAt: big(),
  stopLineAt: maybe(big()),
});

export class ContactListModel extends Model<
  InferAttributes<ContactListModel>,
  InferCreationAttributes<ContactListModel>
> {
  declare id: string;
  declare businessId: string;
  declare name: string;
  declare kind: CreationOptional<'list' | 'tag'>;
  /** How many contacts are on it: kept by the database itself. */
  declare members: CreationOptional<number>;
  declare createdAt: number;
}
export const contactListTable = table(ContactListModel, 'contact_list', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  name: text(),
  kind: oneOf(['list', 'tag'], 'list'),
  members: whole(0),
  createdAt: big(),
});

export class ListMemberModel extends Model<InferAttributes<ListMemberModel>, InferCreationAttributes<ListMemberModel>> {
  declare listId: string;
  declare contactId: string;
  declare sortName: string;
}
export const listMemberTable = table(ListMemberModel, 'list_member', {
  listId: refers(key(text()), 'contact_list'),
  contactId: refers(key(text()), 'contact'),
  sortName: text(),
});

const count = z.number().int().default(0);
const IntakeResult = z.object({
  stored: count,
  known: count,
  changed: count,
  revoked: count,
  proven: count,
  repeats: count,
  refused: count,
  dropped: count,
  after: count,
});
export class IntakeModel extends Model<InferAttributes<IntakeModel>, InferCreationAttributes<IntakeModel>> {
  declare id: string;
  declare businessId: string;
  declare fileName: string;
  declare state: 'reading' | 'storing' | 'stored' | 'cancelled';
  declare total: number;
  declare received: CreationOptional<number>;
  declare listId: CreationOptional<string | null>;
  declare consentClaim: CreationOptional<string>;
  declare digest: CreationOptional<string>;
  declare createdBy: string;
  declare createdAt: number;
  /** A figure by which what it brings is told apart while it is being brought in. */
  declare no: CreationOptional<number>;
  /** Where the lot came from, and who says so. */
  declare attestation: CreationOptional<string>;
  declare region: CreationOptional<string>;
  declare tags: CreationOptional<string[]>;
  /** What becomes of fields of somebody who is known. */
  declare known: CreationOptional<Record<string, string>>;
  /** The kinds of text its document proves consent to. */
  declare purposes: CreationOptional<string[]>;
  declare documentId: CreationOptional<string>;
  declare documentDigest: CreationOptional<string>;
  /** Being taken back, or taken back. */
  declare undo: CreationOptional<'' | 'undoing' | 'undone'>;
  /** How many rows became what, and after which row the next lot begins. */
  declare result: CreationOptional<z.infer<typeof IntakeResult>>;
}
export const intakeTable = table(IntakeModel, 'intake', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  fileName: text(),
  state: oneOf(['reading', 'storing', 'stored', 'cancelled']),
  total: whole(),
  received: whole(0),
  listId: maybe(text()),
  consentClaim: text(''),
  digest: text(''),
  createdBy: text(),
  createdAt: big(),
  no: whole(0),
  attestation: text(''),
  region: text('US'),
  tags: json('tags', z.array(z.string()), '[]'),
  known: json('known', z.record(z.string(), z.string()), '{}'),
  purposes: json('purposes', z.array(z.string()), '[]'),
  documentId: text(''),
  documentDigest: text(''),
  undo: text(''),
  result: json('result', IntakeResult, '{}'),
});

export class IntakeRowModel extends Model<InferAttributes<IntakeRowModel>, InferCreationAttributes<IntakeRowModel>> {
  declare intakeId: string;
  declare row: number;
  declare phone: string;
  declare firstName: string;
  declare lastName: string;
  declare email: string;
  declare stateCode: string;
  declare e164: CreationOptional<string | null>;
  declare outcome: string;
  declare reason: string;
  declare keep: boolean;
  declare more: CreationOptional<string>;
}
export const intakeRowTable = table(IntakeRowModel, 'intake_row', {
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
  more: text('{}'),
});

/** How many contact numbers stand how: kept beside the numbers by the database itself. */
export class ContactCountModel extends Model<
  InferAttributes<ContactCountModel>,
  InferCreationAttributes<ContactCountModel>
> {
  declare businessId: string;
  declare lookedUp: boolean;
  declare textable: string;
  declare lineType: string;
  declare conversational: string;
  declare informational: string;
  declare promotional: string;
  declare trouble: string;
  declare faultsInReview: boolean;
  declare country: string;
  declare preferred: boolean;
  declare stagedNo: number;
  declare n: number;
}
export const contactCountTable = table(ContactCountModel, 'contact_count', {
  businessId: key(text()),
  lookedUp: key(flag()),
  textable: key(text()),
  lineType: key(text()),
  conversational: key(text()),
  informational: key(text()),
  promotional: key(text()),
  trouble: key(text()),
  faultsInReview: key(flag()),
  country: key(text()),
  preferred: key(flag()),
  stagedNo: key(whole()),
  n: whole(),
});

/** A field of a business's own that its contacts have. */
export class ContactFieldModel extends Model<
  InferAttributes<ContactFieldModel>,
  InferCreationAttributes<ContactFieldModel>
> {
  declare id: string;
  declare businessId: string;
  declare name: string;
  declare kind: 'text' | 'number' | 'date' | 'choice';
  declare choices: CreationOptional<string[]>;
  /** Whether it says how appointments or bookings fared. */
  declare outcome: CreationOptional<boolean>;
  declare createdAt: number;
}
export const contactFieldTable = table(ContactFieldModel, 'contact_field', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  name: text(),
  kind: oneOf(['text', 'number', 'date', 'choice'], 'text'),
  choices: json('choices', z.array(z.string()), '[]'),
  outcome: flag(false),
  createdAt: big(),
});

/** What a merge changed, so that it can be taken back. */
const MergeSnapshot = z.object({
  /** The contact that went, as it was. */
  gone: z.record(z.string(), z.unknown()),
  /** What the kept one was before. */
  kept: z.record(z.string(), z.unknown()),
  /** What stood in it after, by which it is seen whether it was changed since. */
  version: z.number().int(),
  numbers: z.array(z.object({ id: z.number().int(), preferred: z.boolean() })),
  keptPreferred: z.number().int(),
  lists: z.array(z.string()),
  joined: z.array(z.string()),
  refused: z.array(z.object({ id: z.number().int(), refusedElsewhere: z.number().int(), revoked: z.number().int() })),
});
export type MergeSnapshot = z.infer<typeof MergeSnapshot>;
export class ContactMergeModel extends Model<
  InferAttributes<ContactMergeModel>,
  InferCreationAttributes<ContactMergeModel>
> {
  declare id: string;
  declare businessId: string;
  declare keptId: string;
  declare goneId: string;
  declare snapshot: MergeSnapshot;
  declare mergedBy: string;
  declare mergedAt: number;
  declare undoneAt: CreationOptional<number | null>;
}
export const contactMergeTable = table(ContactMergeModel, 'contact_merge', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  keptId: text(),
  goneId: text(),
  snapshot: json('snapshot', MergeSnapshot),
  mergedBy: text(),
  mergedAt: big(),
  undoneAt: maybe(big()),
});

/** What keeps texts from a contact number, by cause, with the first and the last time it was seen. */
export class NumberTroubleModel extends Model<
  InferAttributes<NumberTroubleModel>,
  InferCreationAttributes<NumberTroubleModel>
> {
  declare contactNumberId: number;
  declare cause: string;
  declare businessId: string;
  declare source: string;
  declare carrier: CreationOptional<string>;
  declare detail: CreationOptional<string>;
  declare firstAt: number;
  declare lastAt: number;
  declare times: CreationOptional<number>;
  /** Whether it still keeps texts from the number. */
  declare stands: CreationOptional<boolean>;
}
export const numberTroubleTable = table(NumberTroubleModel, 'number_trouble', {
  contactNumberId: key(whole()),
  cause: key(text()),
  businessId: text(),
  source: text(),
  carrier: text(''),
  detail: text(''),
  firstAt: big(),
  lastAt: big(),
  times: whole(1),
  stands: flag(true),
});

/**
 * What stands against numbers that are nobody's for a while, by their digests: that their owners refused at the carrier,
 * or on another number of theirs. It stands again with them.
 */
export class KeptRefusalModel extends Model<
  InferAttributes<KeptRefusalModel>,
  InferCreationAttributes<KeptRefusalModel>
> {
  declare businessId: string;
  /** Of the whole number, or its first sixteen figures where the rest is not known any more. */
  declare digest: string;
  declare at: number;
  declare byOwner: CreationOptional<boolean>;
  /** What is refused on another number, as in `contact_number`. */
  declare refusedElsewhere: CreationOptional<number>;
}
export const keptRefusalTable = table(KeptRefusalModel, 'kept_refusal', {
  businessId: key(text()),
  digest: key(text()),
  at: big(),
  byOwner: flag(true),
  refusedElsewhere: whole(0),
});

/** What an intake changed of somebody who was known, as it was before. */
export class IntakeChangeModel extends Model<
  InferAttributes<IntakeChangeModel>,
  InferCreationAttributes<IntakeChangeModel>
> {
  declare intakeId: string;
  declare contactId: string;
  declare before: string;
  /** The contact's version after it: with another one it was touched since. */
  declare version: number;
}
export const intakeChangeTable = table(IntakeChangeModel, 'intake_change', {
  intakeId: key(text()),
  contactId: key(text()),
  before: text(),
  version: whole(),
});

/** Lists and tags an intake put people on who were here before. */
export class IntakeJoinModel extends Model<InferAttributes<IntakeJoinModel>, InferCreationAttributes<IntakeJoinModel>> {
  declare intakeId: string;
  declare listId: string;
  declare contactId: string;
}
export const intakeJoinTable = table(IntakeJoinModel, 'intake_join', {
  intakeId: key(text()),
  listId: key(text()),
  contactId: key(text()),
});

/** What a business counts as textable, where that is not as shipped. */
export class TextabilityPolicyModel extends Model<
  InferAttributes<TextabilityPolicyModel>,
  InferCreationAttributes<TextabilityPolicyModel>
> {
  declare businessId: string;
  declare voip: boolean;
  declare tollFree: boolean;
  declare staleDays: number;
  declare staleUnreachableDays: number;
  declare automatic: boolean;
  declare recheck: boolean;
  /** Of queries about reassigned numbers: how long an answer is good, and when they are made by themselves. */
  declare reassignedDays: CreationOptional<number>;
  declare reassignedOnSchedule: CreationOptional<boolean>;
  declare reassignedBeforeDispatch: CreationOptional<boolean>;
  /** Another business that pays for lookups and queries; empty where it pays itself. */
  declare paidBy: CreationOptional<string>;
  declare version: CreationOptional<number>;
}
export const textabilityPolicyTable = table(TextabilityPolicyModel, 'textability_policy', {
  businessId: refers(key(text()), 'business'),
  voip: flag(),
  tollFree: flag(),
  staleDays: whole(),
  staleUnreachableDays: whole(),
  automatic: flag(),
  recheck: flag(),
  reassignedDays: whole(30),
  reassignedOnSchedule: flag(false),
  reassignedBeforeDispatch: flag(false),
  paidBy: text(''),
  version: whole(1),
});
