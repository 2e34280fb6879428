import {
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type NonAttribute,
} from 'sequelize';
import { KeptTableShape, type KeptTable } from '@long-gate/contracts';
import { belongsTo, big, json, key, maybe, once, oneOf, refers, text, whole, table } from '../../../platform/table.js';

export class UserModel extends Model<InferAttributes<UserModel>, InferCreationAttributes<UserModel>> {
  declare id: string;
  declare email: string;
  declare name: string;
  declare password: string;
  declare mobile: CreationOptional<string>;
  declare createdAt: number;
  declare mobilePending: CreationOptional<string>;
  declare mobileCode: CreationOptional<string>;
  declare mobileTries: CreationOptional<number>;
  /** The second factor's secret, sealed; empty where there is none. */
  declare factorSecret: CreationOptional<string>;
  declare factorPending: CreationOptional<string>;
  /** The last time step for which a code was taken; none is taken twice. */
  declare factorStep: CreationOptional<number>;
}
/** Of a person, what their second factor is. */
export type FactorOf = Pick<UserModel, 'id' | 'factorSecret' | 'factorPending' | 'factorStep'>;
export const userTable = table(UserModel, 'user', {
  id: key(text()),
  email: once(text()),
  name: text(),
  password: text(),
  mobile: text(''),
  createdAt: big(),
  mobilePending: text(''),
  mobileCode: text(''),
  mobileTries: whole(0),
  factorSecret: text(''),
  factorPending: text(''),
  factorStep: whole(0),
});

export class MembershipModel extends Model<InferAttributes<MembershipModel>, InferCreationAttributes<MembershipModel>> {
  declare userId: string;
  declare businessId: string;
  declare role: 'administrator' | 'coordinator' | 'viewer';
  declare administratorSince: CreationOptional<number | null>;
  declare user?: NonAttribute<UserModel>;
}
export const membershipTable = table(MembershipModel, 'membership', {
  userId: refers(key(text()), 'user'),
  businessId: refers(key(text()), 'business'),
  role: oneOf(['administrator', 'coordinator', 'viewer']),
  administratorSince: maybe(big()),
});
belongsTo(membershipTable, userTable, 'user', 'userId');

export class SessionModel extends Model<InferAttributes<SessionModel>, InferCreationAttributes<SessionModel>> {
  declare id: string;
  declare tokenHash: string;
  declare userId: string;
  declare csrf: string;
  /** Wall moments. */
  declare openedWall: number;
  declare seenWall: number;
  declare expiresWall: number;
  declare address: string;
  declare agent: string;
}
export const sessionTable = table(SessionModel, 'session', {
  id: key(text()),
  tokenHash: once(text()),
  userId: refers(text(), 'user'),
  csrf: text(),
  openedWall: big(),
  seenWall: big(),
  expiresWall: big(),
  address: text(),
  agent: text(),
});

export class RecoveryCodeModel extends Model<
  InferAttributes<RecoveryCodeModel>,
  InferCreationAttributes<RecoveryCodeModel>
> {
  declare userId: string;
  declare codeHash: string;
  declare usedWall: CreationOptional<number | null>;
}
export const recoveryCodeTable = table(RecoveryCodeModel, 'recovery_code', {
  userId: refers(key(text()), 'user'),
  codeHash: key(text()),
  usedWall: maybe(big()),
});

export class InvitationModel extends Model<InferAttributes<InvitationModel>, InferCreationAttributes<InvitationModel>> {
  declare id: string;
  declare tokenHash: string;
  declare businessId: string;
  declare email: string;
  declare role: 'administrator' | 'coordinator' | 'viewer';
  declare invitedBy: string;
  declare invitedAt: number;
  declare expiresAt: number;
  declare state: CreationOptional<'open' | 'accepted' | 'withdrawn'>;
  /** How often it was sent. */
  declare sent: CreationOptional<number>;
  /** The idempotency key of the wish that sent it last. */
  declare lastKey: string;
}
/** What is known of an invitation, but for the hash of its link. */
export type InvitationRow = Omit<InferAttributes<InvitationModel>, 'tokenHash'>;
export const invitationTable = table(InvitationModel, 'invitation', {
  id: key(text()),
  tokenHash: once(text()),
  businessId: refers(text(), 'business'),
  email: text(),
  role: oneOf(['administrator', 'coordinator', 'viewer']),
  invitedBy: text(),
  invitedAt: big(),
  expiresAt: big(),
  state: oneOf(['open', 'accepted', 'withdrawn'], 'open'),
  sent: whole(1),
  lastKey: text(),
});

export class PasswordResetModel extends Model<
  InferAttributes<PasswordResetModel>,
  InferCreationAttributes<PasswordResetModel>
> {
  declare tokenHash: string;
  declare email: string;
  declare expiresWall: number;
  declare usedWall: CreationOptional<number | null>;
}
export const passwordResetTable = table(PasswordResetModel, 'password_reset', {
  tokenHash: key(text()),
  email: text(),
  expiresWall: big(),
  usedWall: maybe(big()),
});

/** How a person has one table of the interface. */
export class KeptTableModel extends Model<InferAttributes<KeptTableModel>, InferCreationAttributes<KeptTableModel>> {
  declare userId: string;
  declare name: string;
  declare kept: KeptTable;
}
export const keptTableTable = table(KeptTableModel, 'kept_table', {
  userId: refers(key(text()), 'user'),
  name: key(text()),
  kept: json('kept', KeptTableShape),
});
