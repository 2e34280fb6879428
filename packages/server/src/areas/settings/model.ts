import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import {
  big,
  checked,
  flag,
  key,
  maybe,
  once,
  oneOf,
  refers,
  serial,
  text,
  whole,
  table,
} from '../../platform/table.js';

export class BusinessModel extends Model<InferAttributes<BusinessModel>, InferCreationAttributes<BusinessModel>> {
  declare id: string;
  declare legalName: string;
  declare nameLine: string;
  declare form: string;
  declare street: CreationOptional<string>;
  declare city: CreationOptional<string>;
  declare state: CreationOptional<string>;
  declare postalCode: CreationOptional<string>;
  declare contactName: CreationOptional<string>;
  declare contactEmail: CreationOptional<string>;
  declare website: CreationOptional<string>;
  declare timeZone: CreationOptional<string>;
  declare allowFictional: CreationOptional<boolean>;
  declare accountState: CreationOptional<'provisional' | 'in review' | 'open' | 'restricted' | 'suspended'>;
  declare textsOff: CreationOptional<boolean>;
  declare balance: CreationOptional<number>;
  declare transactionalAnyHour: CreationOptional<boolean>;
  declare createdAt: number;
  declare version: CreationOptional<number>;
  declare openCountries: CreationOptional<string>;
  declare autoBelow: CreationOptional<number>;
  declare autoAmount: CreationOptional<number>;
  declare taxStatus: CreationOptional<string>;
  declare accountNote: CreationOptional<string>;
  declare secondFactor: CreationOptional<boolean>;
  declare contactEmailAt: CreationOptional<number>;
}
export const businessTable = table(BusinessModel, 'business', {
  id: key(text()),
  legalName: text(),
  nameLine: text(),
  form: text(),
  street: text(''),
  city: text(''),
  state: text(''),
  postalCode: text(''),
  contactName: text(''),
  contactEmail: text(''),
  website: text(''),
  timeZone: text('America/New_York'),
  allowFictional: flag(true),
  accountState: oneOf(['provisional', 'in review', 'open', 'restricted', 'suspended'], 'provisional'),
  textsOff: flag(false),
  balance: checked(big(0), 'balance >= 0'),
  transactionalAnyHour: flag(false),
  createdAt: big(),
  version: whole(1),
  openCountries: text('US'),
  autoBelow: big(0),
  autoAmount: big(0),
  taxStatus: text(''),
  accountNote: text(''),
  secondFactor: flag(false),
  contactEmailAt: big(0),
});

export class MoneyEntryModel extends Model<InferAttributes<MoneyEntryModel>, InferCreationAttributes<MoneyEntryModel>> {
  /** In the order they were booked. */
  declare n: CreationOptional<number>;
  declare id: string;
  declare businessId: string;
  declare at: number;
  declare amount: number;
  declare what: string;
  declare objectKind: string;
  declare objectId: string;
  /** The first part of a charge that goes on; itself where there is one alone. */
  declare partOf: string;
  /** When an amount was added to it last; null where none was. */
  declare lastAt: CreationOptional<number | null>;
}
export const moneyEntryTable = table(MoneyEntryModel, 'money_entry', {
  n: serial(),
  id: once(text()),
  businessId: refers(text(), 'business'),
  at: big(),
  amount: big(),
  what: text(),
  objectKind: text(),
  objectId: text(),
  partOf: text(''),
  lastAt: maybe(big()),
});

export class SavedViewModel extends Model<InferAttributes<SavedViewModel>, InferCreationAttributes<SavedViewModel>> {
  declare id: string;
  declare businessId: string;
  declare area: string;
  declare name: string;
  declare query: string;
  declare createdBy: string;
  declare createdAt: number;
}
export const savedViewTable = table(SavedViewModel, 'saved_view', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  area: text(),
  name: text(),
  query: text(),
  createdBy: text(),
  createdAt: big(),
});
