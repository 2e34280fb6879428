import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { z } from 'zod';
import { big, bytes, flag, json, key, maybe, once, oneOf, serial, text, whole, table } from './table.js';

export class SettingModel extends Model<InferAttributes<SettingModel>, InferCreationAttributes<SettingModel>> {
  declare name: string;
  declare value: string;
}
export const settingTable = table(SettingModel, 'setting', {
  name: key(text()),
  value: text(),
});

export class AuditModel extends Model<InferAttributes<AuditModel>, InferCreationAttributes<AuditModel>> {
  declare n: CreationOptional<number>;
  declare id: string;
  declare at: number;
  declare businessId: string;
  declare actorId: string;
  declare actorName: string;
  declare action: string;
  declare objectKind: string;
  declare objectId: string;
  declare before: CreationOptional<string | null>;
  declare after: CreationOptional<string | null>;
  declare prevHash: CreationOptional<string | null>;
  declare hash: CreationOptional<string | null>;
}
export const auditTable = table(AuditModel, 'audit', {
  n: serial(),
  id: once(text()),
  at: big(),
  businessId: text(),
  actorId: text(),
  actorName: text(),
  action: text(),
  objectKind: text(),
  objectId: text(),
  before: maybe(text()),
  after: maybe(text()),
  prevHash: maybe(text()),
  hash: maybe(text()),
});

export class JobModel extends Model<InferAttributes<JobModel>, InferCreationAttributes<JobModel>> {
  declare id: string;
  declare key: string;
  declare kind: string;
  declare businessId: string;
  declare payload: unknown;
  declare title: CreationOptional<string>;
  declare state: CreationOptional<'waiting' | 'running' | 'paused' | 'done' | 'failed' | 'cancelled'>;
  declare runAt: number;
  declare leaseOwner: CreationOptional<string | null>;
  declare leaseUntil: CreationOptional<number | null>;
  declare attempts: CreationOptional<number>;
  declare doneCount: CreationOptional<number>;
  declare totalCount: CreationOptional<number>;
  declare result: CreationOptional<string | null>;
  declare error: CreationOptional<string | null>;
  declare createdAt: number;
  declare finishedAt: CreationOptional<number | null>;
  declare woken: CreationOptional<boolean>;
}
export const jobTable = table(JobModel, 'job', {
  id: key(text()),
  key: once(text()),
  kind: text(),
  businessId: text(),
  payload: json('payload', z.unknown()),
  title: text(''),
  state: oneOf(['waiting', 'running', 'paused', 'done', 'failed', 'cancelled'], 'waiting'),
  runAt: big(),
  leaseOwner: maybe(text()),
  leaseUntil: maybe(big()),
  attempts: whole(0),
  doneCount: whole(0),
  totalCount: whole(0),
  result: maybe(text()),
  error: maybe(text()),
  createdAt: big(),
  finishedAt: maybe(big()),
  woken: flag(false),
});

export class OutboxModel extends Model<InferAttributes<OutboxModel>, InferCreationAttributes<OutboxModel>> {
  declare key: string;
  declare kind: string;
  declare payload: unknown;
  declare state: CreationOptional<'waiting' | 'delivered' | 'refused' | 'set aside'>;
  declare dueAt: number;
  declare attempts: CreationOptional<number>;
  declare error: CreationOptional<string | null>;
}
export const outboxTable = table(OutboxModel, 'outbox', {
  key: key(text()),
  kind: text(),
  payload: json('payload', z.unknown()),
  state: oneOf(['waiting', 'delivered', 'refused', 'set aside'], 'waiting'),
  dueAt: big(),
  attempts: whole(0),
  error: maybe(text()),
});

export class SetAsideModel extends Model<InferAttributes<SetAsideModel>, InferCreationAttributes<SetAsideModel>> {
  declare key: string;
  declare lane: 'feed' | 'outbox' | 'job';
  declare kind: string;
  declare body: unknown;
  declare cause: string;
  declare at: number;
  declare state: CreationOptional<'open' | 'done' | 'left'>;
}
export const setAsideTable = table(SetAsideModel, 'set_aside', {
  key: key(text()),
  lane: oneOf(['feed', 'outbox', 'job']),
  kind: text(),
  body: json('body', z.unknown()),
  cause: text(),
  at: big(),
  state: oneOf(['open', 'done', 'left'], 'open'),
});

export class DocumentModel extends Model<InferAttributes<DocumentModel>, InferCreationAttributes<DocumentModel>> {
  declare id: string;
  declare businessId: string;
  declare objectKind: string;
  declare objectId: string;
  declare what: string;
  declare name: string;
  declare type: string;
  declare size: number;
  declare sha256: string;
  declare body: Buffer;
  declare uploadedBy: string;
  declare at: number;
}
export const documentTable = table(DocumentModel, 'document', {
  id: key(text()),
  businessId: text(),
  objectKind: text(),
  objectId: text(),
  what: text(),
  name: text(),
  type: text(),
  size: big(),
  sha256: text(),
  body: bytes(),
  uploadedBy: text(),
  at: big(),
});

export class PublicActModel extends Model<InferAttributes<PublicActModel>, InferCreationAttributes<PublicActModel>> {
  declare who: string;
  declare wallAt: number;
}
export const publicActTable = table(PublicActModel, 'public_act', {
  who: text(),
  wallAt: big(),
});

/** What the gate read of something, from one moment to another; without an end it stands now. */
export class StoodModel extends Model<InferAttributes<StoodModel>, InferCreationAttributes<StoodModel>> {
  declare id: CreationOptional<number>;
  declare businessId: string;
  declare objectKind: string;
  declare objectId: string;
  declare fact: string;
  declare value: CreationOptional<string | null>;
  declare fromAt: number;
  declare toAt: CreationOptional<number | null>;
}
export const stoodTable = table(StoodModel, 'stood', {
  id: serial(),
  businessId: text(),
  objectKind: text(),
  objectId: text(),
  fact: text(),
  value: maybe(text()),
  fromAt: big(),
  toAt: maybe(big()),
});
