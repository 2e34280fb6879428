import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { countryTable, senderCountryTable, type CountryModel, type SenderCountryModel } from './model.js';

export async function countriesOf(r: Reader, businessId: string): Promise<CountryModel[]> {
  return r.of(countryTable).findAll({ where: { businessId } });
}

export async function countryOf(r: Reader, businessId: string, code: string): Promise<CountryModel | null> {
  return r.of(countryTable).findOne({ where: { businessId, code } });
}

export async function setCountry(w: Writer, country: CreationAttributes<CountryModel>): Promise<void> {
  await w.of(countryTable).upsert(country);
}

// -- sender IDs ------------------------------------------------------------------------------------------------------

export async function usesOf(r: Reader, numberId: string): Promise<SenderCountryModel[]> {
  return r.of(senderCountryTable).findAll({ where: { numberId }, order: ['code'] });
}

export async function useOf(r: Reader, numberId: string, code: string): Promise<SenderCountryModel | null> {
  return r.of(senderCountryTable).findOne({ where: { numberId, code } });
}

export async function setUse(w: Writer, use: CreationAttributes<SenderCountryModel>): Promise<void> {
  await w.of(senderCountryTable).upsert(use);
}
