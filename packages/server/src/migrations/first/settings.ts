import type { QueryInterface } from 'sequelize';
import {
  createTable,
  big,
  checked,
  flag,
  key,
  once,
  oneOf,
  refers,
  serial,
  text,
  whole,
  index,
} from '../../platform/table.js';

export async function settings(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'business', {
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
  await createTable(qi, 'money_entry', {
    n: serial(),
    id: once(text()),
    businessId: refers(text(), 'business'),
    at: big(),
    amount: big(),
    what: text(),
    objectKind: text(),
    objectId: text(),
    balanceAfter: big(),
  });
  await index(qi, 'money_entry', 'money_entry_business', ['business_id', 'at DESC']);
  await createTable(qi, 'saved_view', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    area: text(),
    name: text(),
    query: text(),
    createdBy: text(),
    createdAt: big(),
  });
  await index(qi, 'saved_view', 'saved_view_area', ['business_id', 'area', 'created_at']);
}
