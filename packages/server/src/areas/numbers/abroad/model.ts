import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, key, oneOf, refers, text, whole, table } from '../../../platform/table.js';

export class CountryModel extends Model<InferAttributes<CountryModel>, InferCreationAttributes<CountryModel>> {
  declare businessId: string;
  declare code: string;
  declare state: 'open' | 'closed' | 'in review' | 'refused';
  declare note: CreationOptional<string>;
  declare attempt: CreationOptional<number>;
  declare changedAt: number;
}
export const countryTable = table(CountryModel, 'country', {
  businessId: refers(key(text()), 'business'),
  code: key(text()),
  state: oneOf(['open', 'closed', 'in review', 'refused']),
  note: text(''),
  attempt: whole(0),
  changedAt: big(),
});

export class SenderCountryModel extends Model<
  InferAttributes<SenderCountryModel>,
  InferCreationAttributes<SenderCountryModel>
> {
  declare numberId: string;
  declare code: string;
  declare state: 'free' | 'in review' | 'registered' | 'refused';
  declare note: CreationOptional<string>;
  declare attempt: CreationOptional<number>;
  declare changedAt: number;
}
export const senderCountryTable = table(SenderCountryModel, 'sender_country', {
  numberId: refers(key(text()), 'number'),
  code: key(text()),
  state: oneOf(['free', 'in review', 'registered', 'refused']),
  note: text(''),
  attempt: whole(0),
  changedAt: big(),
});
