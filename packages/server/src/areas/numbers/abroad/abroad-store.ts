import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { countryTable, type CountryModel } from './model.js';

export async function countriesOf(r: Reader, businessId: string): Promise<CountryModel[]> {
  return r.of(countryTable).findAll({ where: { businessId } });
}

export async function countryOf(r: Reader, businessId: string, code: string): Promise<CountryModel | null> {
  return r.of(countryTable).findOne({ where: { businessId, code } });
}

export async function setCountry(w: Writer, country: CreationAttributes<CountryModel>): Promise<void> {
  await w.of(countryTable).upsert(country);
}
