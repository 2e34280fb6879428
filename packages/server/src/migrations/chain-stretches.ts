import type { QueryInterface } from 'sequelize';
import { big, bytes, createTable, key, refers, text } from '../platform/table.js';

/** Digests of a ledger's events and marks of their numbers, kept in stretches as they were found whole. */
export async function chainStretches(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'chain_stretch', {
    businessId: key(refers(text(), 'business')),
    afterSeq: key(big()),
    lastSeq: big(),
    hashBefore: text(),
    lastHash: text(),
    digests: bytes(),
    marks: bytes(),
    signature: bytes(),
  });
}
