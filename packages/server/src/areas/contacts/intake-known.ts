import type { IntakeMore } from '@long-gate/contracts';
import { readOwnValue, type OwnField } from '@long-gate/core';

/** What a row says of a person, beside the number. */
export interface RowFacts {
  firstName: string;
  lastName: string;
  email: string;
  stateCode: string;
  language: string;
  street: string;
  city: string;
  postalCode: string;
  own: Record<string, string>;
}

/** What a row holds, with own fields as they are kept; what is none of a field's kind is left out. */
export function factsOfRow(
  row: { first_name: string; last_name: string; email: string; state_code: string },
  more: IntakeMore,
  fields: ReadonlyMap<string, OwnField>,
): RowFacts {
  const own: Record<string, string> = {};
  for (const [id, raw] of Object.entries(more.own ?? {})) {
    const field = fields.get(id);
    const read = field && raw.trim() !== '' ? readOwnValue(field, raw) : null;
    if (read?.ok) own[id] = read.value;
  }
  return {
    firstName: row.first_name,
    lastName: row.last_name,
    email: row.email,
    stateCode: row.state_code,
    language: more.language ?? '',
    street: more.street ?? '',
    city: more.city ?? '',
    postalCode: more.postalCode ?? '',
    own,
  };
}

/** Fields that are decided together, by the name of their rule. */
const RULED: Readonly<Record<string, readonly (keyof Omit<RowFacts, 'own'>)[]>> = {
  name: ['firstName', 'lastName'],
  email: ['email'],
  address: ['street', 'city', 'postalCode', 'stateCode'],
  language: ['language'],
};

/**
 * What becomes of somebody who is known: blanks are filled, or what is there is overwritten, or left, field by field; a
 * row never empties anything. Name and address go as a whole, so that none arises that nobody has.
 * @returns null where nothing changes.
 */
export function changedBy(known: RowFacts, row: RowFacts, rules: Readonly<Record<string, string>>): RowFacts | null {
  const then: RowFacts = { ...known, own: { ...known.own } };
  for (const [rule, fields] of Object.entries(RULED)) {
    const which = rules[rule] ?? 'fill';
    if (which === 'leave' || fields.every((f) => row[f] === '')) continue;
    if (which === 'fill' && fields.some((f) => known[f] !== '')) continue;
    for (const f of fields) then[f] = row[f];
  }
  for (const [id, value] of Object.entries(row.own)) {
    const which = rules[id] ?? 'fill';
    if (which === 'overwrite' || (which === 'fill' && !known.own[id])) then.own[id] = value;
  }
  return JSON.stringify(then) === JSON.stringify({ ...known, own: { ...known.own } }) ? null : then;
}
