import { PagePurpose } from '@long-gate/contracts';
import { KEYWORD_COMERS } from '@long-gate/core';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { z } from 'zod';
import { big, flag, json, key, maybe, refers, table, text, whole } from '../../../platform/table.js';

const Programmes = z.array(PagePurpose);
const Words = z.array(z.string());
const Answers = z.record(z.enum(KEYWORD_COMERS), z.string());
const Came = z.record(z.enum(KEYWORD_COMERS), z.number());

/** A programme people join by texting a word to one of our numbers. */
export class KeywordModel extends Model<InferAttributes<KeywordModel>, InferCreationAttributes<KeywordModel>> {
  declare id: string;
  declare businessId: string;
  declare numberId: string;
  declare title: string;
  declare words: z.output<typeof Words>;
  declare purposes: z.output<typeof Programmes>;
  /** The words by which people are told of it, where, and of which version they are. */
  declare told: string;
  declare place: string;
  declare toldVersion: CreationOptional<number>;
  declare pictureId: CreationOptional<string | null>;
  declare pictureName: CreationOptional<string>;
  declare pictureSha256: CreationOptional<string>;
  declare termsUrl: string;
  declare doubleOptIn: boolean;
  declare answers: z.output<typeof Answers>;
  declare active: boolean;
  /** How often each kind of person texted a word of it, how many said YES, and when the last came. */
  declare came: z.output<typeof Came>;
  declare confirmed: CreationOptional<number>;
  declare lastAt: CreationOptional<number | null>;
  declare createdAt: number;
  declare version: CreationOptional<number>;
}
export const keywordTable = table(KeywordModel, 'keyword', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  numberId: text(),
  title: text(),
  words: json('words', Words),
  purposes: json('purposes', Programmes),
  told: text(),
  place: text(),
  toldVersion: whole(1),
  pictureId: maybe(text()),
  pictureName: text(''),
  pictureSha256: text(''),
  termsUrl: text(),
  doubleOptIn: flag(),
  answers: json('answers', Answers),
  active: flag(),
  came: json('came', Came),
  confirmed: whole(0),
  lastAt: maybe(big()),
  createdAt: big(),
  version: whole(1),
});

/** A word of a programme: no number has the same twice. */
export class KeywordWordModel extends Model<
  InferAttributes<KeywordWordModel>,
  InferCreationAttributes<KeywordWordModel>
> {
  declare numberId: string;
  declare word: string;
  declare keywordId: string;
}
export const keywordWordTable = table(KeywordWordModel, 'keyword_word', {
  numberId: key(text()),
  word: key(text()),
  keywordId: text(),
});

/** A code of a programme, in the order they were added; given once, and always the same to one person. */
export class KeywordCodeModel extends Model<
  InferAttributes<KeywordCodeModel>,
  InferCreationAttributes<KeywordCodeModel>
> {
  declare keywordId: string;
  declare no: number;
  declare code: string;
  /** The number it was given to, or what stands in its place since its owner was erased. */
  declare givenTo: CreationOptional<string | null>;
  declare givenAt: CreationOptional<number | null>;
}
export const keywordCodeTable = table(KeywordCodeModel, 'keyword_code', {
  keywordId: key(text()),
  no: key(whole()),
  code: text(),
  givenTo: maybe(text()),
  givenAt: maybe(big()),
});
