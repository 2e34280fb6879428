import { OPT_OUT_ORIGINS } from '@long-gate/core';
import type { QueryInterface } from 'sequelize';
import { RefusedLines } from '../areas/consent/refused-lines.js';
import { big, createTable, flag, index, json, key, oneOf, refers, text, whole } from '../platform/table.js';

/** Lists of people who had opted out before. */
export async function optOutLists(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'opt_out_list', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    origin: oneOf([...OPT_OUT_ORIGINS]),
    source: text(),
    datedOn: text(),
    documentId: text(),
    name: text(),
    size: whole(),
    sha256: text(),
    lines: whole(),
    refused: whole(),
    refusals: json('refusals', RefusedLines),
    people: whole(0),
    agreedSince: whole(0),
    already: whole(0),
    done: flag(false),
    broughtBy: text(),
    broughtAt: big(),
  });
  await index(qi, 'opt_out_list', 'opt_out_list_brought', ['business_id', 'brought_at', 'id']);
}
