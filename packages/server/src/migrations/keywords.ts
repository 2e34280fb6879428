import type { QueryInterface } from 'sequelize';
import { big, createTable, flag, index, key, maybe, refers, text, whole } from '../platform/table.js';

/** Programmes people join by texting a word, the words by number, and the codes they are given. */
export async function keywords(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'keyword', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    numberId: text(),
    title: text(),
    words: text(),
    purposes: text(),
    told: text(),
    place: text(),
    toldVersion: whole(1),
    pictureId: maybe(text()),
    pictureName: text(''),
    pictureSha256: text(''),
    termsUrl: text(),
    doubleOptIn: flag(),
    answers: text(),
    active: flag(),
    came: text(),
    confirmed: whole(0),
    lastAt: maybe(big()),
    createdAt: big(),
    version: whole(1),
  });
  await createTable(qi, 'keyword_word', { numberId: key(text()), word: key(text()), keywordId: text() });
  await createTable(qi, 'keyword_code', {
    keywordId: key(text()),
    no: key(whole()),
    code: text(),
    givenTo: maybe(text()),
    givenAt: maybe(big()),
  });
  await index(qi, 'keyword_code', 'keyword_code_once', ['keyword_id', 'code'], { unique: true });
  await index(qi, 'keyword_code', 'keyword_code_given', ['keyword_id', 'given_to'], {
    unique: true,
    where: 'given_to IS NOT NULL',
  });
}
