import { KEYWORD_COMERS } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, Moment, ObjectPath } from '../endpoint.js';
import { PagePurpose } from './pages.js';

const Answer = z.string().trim().max(640, 'At most 640 characters.');
export const KeywordEdit = z.object({
  title: z.string().trim().min(3, 'Give it a title.').max(80),
  numberId: z.string().min(1, 'Choose the number people text.'),
  words: z.array(z.string().trim().max(60)).min(1, 'Write the word people text.').max(12, 'At most 12 words.'),
  purposes: z.array(PagePurpose).min(1, 'Offer at least one kind of text.').max(2),
  told: z.string().trim().min(1, 'Write what people read or hear, to the letter.').max(4000),
  place: z.string().trim().min(3, 'Say where they read or hear it.').max(200),
  termsUrl: z.string().trim().min(4, 'Give the terms page.').max(300),
  doubleOptIn: z.boolean(),
  answers: z.record(z.enum(KEYWORD_COMERS), Answer),
  active: z.boolean(),
});
export const KeywordShape = KeywordEdit.extend({
  id: z.string(),
  /** Of the words people are told by; it goes up with what they agree to. */
  toldVersion: z.number(),
  /** The picture of the sign, kept by its digest; null where there is none. */
  picture: z.object({ name: z.string(), sha256: z.string() }).nullable(),
  /** How often each kind of person texted a word of it, and how many said YES. */
  came: z.record(z.enum(KEYWORD_COMERS), z.number()),
  confirmed: z.number(),
  codes: z.object({ given: z.number(), left: z.number() }),
  lastAt: Moment.nullable(),
  version: z.number(),
});
export type Keyword = z.infer<typeof KeywordShape>;

export const listKeywords = endpoint({
  id: 'keywords.list',
  summary: 'Programmes people join by texting a word',
  method: 'GET',
  path: '/businesses/:businessId/keywords',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(KeywordShape) }),
});
export const addKeyword = endpoint({
  id: 'keywords.add',
  summary: 'Begin a programme people join by a word',
  method: 'POST',
  path: '/businesses/:businessId/keywords',
  access: 'administrator',
  params: BusinessPath,
  body: KeywordEdit,
  answer: KeywordShape,
});
export const editKeyword = endpoint({
  id: 'keywords.edit',
  summary: 'Edit it; changed words of telling get a new version',
  method: 'PUT',
  path: '/businesses/:businessId/keywords/:id',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: KeywordEdit,
  answer: KeywordShape,
});
export const addCodes = endpoint({
  id: 'keywords.addCodes',
  summary: 'Add codes, each of which is given once',
  method: 'POST',
  path: '/businesses/:businessId/keywords/:id/codes',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ codes: z.array(z.string().trim().min(1).max(40)).min(1, 'There is no code in it.').max(5000) }),
  answer: z.object({ added: z.number(), known: z.number(), left: z.number() }),
});
export const dropCodes = endpoint({
  id: 'keywords.dropCodes',
  summary: 'Take away the codes that nobody was given',
  method: 'DELETE',
  path: '/businesses/:businessId/keywords/:id/codes',
  access: 'administrator',
  params: ObjectPath,
  answer: z.object({ dropped: z.number() }),
});
export const keepKeywordPicture = endpoint({
  id: 'keywords.picture',
  summary: 'Keep a picture of the sign: PNG, JPEG or PDF up to 10 MB',
  method: 'POST',
  path: '/businesses/:businessId/keywords/:id/picture',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ name: z.string().trim().min(1).max(200), base64: z.string().min(1, 'The file is empty.') }),
  answer: KeywordShape,
});
export const readKeywordPicture = endpoint({
  id: 'keywords.readPicture',
  summary: 'The picture of the sign',
  method: 'GET',
  path: '/businesses/:businessId/keywords/:id/picture',
  access: 'viewer',
  params: ObjectPath,
  answer: z.string(),
});
