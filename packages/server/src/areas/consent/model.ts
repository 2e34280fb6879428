import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { PAGE_LANGUAGES, PURPOSES, REASSIGNED_ANSWERS, type ReassignedAnswer } from '@long-gate/core';
import { z } from 'zod';
import { big, flag, json, key, maybe, once, refers, text, whole, table, oneOf } from '../../platform/table.js';

export class ConsentEventModel extends Model<
  InferAttributes<ConsentEventModel>,
  InferCreationAttributes<ConsentEventModel>
> {
  declare businessId: string;
  declare seq: number;
  declare id: string;
  declare e164: string;
  declare purposes: string;
  declare kind: string;
  declare awaitsConfirmation: boolean;
  declare happenedAt: number;
  declare recordedAt: number;
  declare how: string;
  declare disclosure: string;
  declare disclosureVersion: string;
  declare evidence: string;
  declare recordedBy: string;
  declare prevHash: string;
  declare hash: string;
}
export const consentEventTable = table(ConsentEventModel, 'consent_event', {
  businessId: key(text()),
  seq: key(big()),
  id: once(text()),
  e164: text(),
  purposes: text(),
  kind: text(),
  awaitsConfirmation: flag(),
  happenedAt: big(),
  recordedAt: big(),
  how: text(),
  disclosure: text(),
  disclosureVersion: text(),
  evidence: text(),
  recordedBy: text(),
  prevHash: text(),
  hash: text(),
});

export class ConsentStateModel extends Model<
  InferAttributes<ConsentStateModel>,
  InferCreationAttributes<ConsentStateModel>
> {
  declare businessId: string;
  declare e164: string;
  declare conversational: string;
  declare informational: string;
  declare promotional: string;
  declare asOf: number;
  declare lapsesAt: CreationOptional<number | null>;
  /** When the number's owner last agreed to what is in force; null where nothing is. */
  declare agreedAt: CreationOptional<number | null>;
  /** No contact has the number any more; it is found by its figures all the same. */
  declare ofNobody: CreationOptional<boolean>;
}
export const consentStateTable = table(ConsentStateModel, 'consent_state', {
  businessId: key(text()),
  e164: key(text()),
  conversational: text(),
  informational: text(),
  promotional: text(),
  asOf: big(),
  lapsesAt: maybe(big()),
  agreedAt: maybe(big()),
  ofNobody: flag(false),
});

/** What the reassigned numbers database answered: kept as evidence, one row a query. */
export class ReassignedAnswerModel extends Model<
  InferAttributes<ReassignedAnswerModel>,
  InferCreationAttributes<ReassignedAnswerModel>
> {
  /** The key under which it was asked, and paid once. */
  declare id: string;
  declare businessId: string;
  declare e164: string;
  /** The day of the last consent that was asked about, `YYYY-MM-DD`. */
  declare day: string;
  declare answer: ReassignedAnswer;
  declare askedAt: number;
}
export const reassignedAnswerTable = table(ReassignedAnswerModel, 'reassigned_answer', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  e164: text(),
  day: text(),
  answer: oneOf([...REASSIGNED_ANSWERS]),
  askedAt: big(),
});

/** A programme somebody is asked to join. */
export const ProgrammeShape = z.object({
  purpose: z.enum(['informational', 'promotional']),
  label: z.string(),
  frequency: z.string(),
  language: z.enum(PAGE_LANGUAGES).optional(),
});
/** What the reader of replies made of one it leaves to a person. */
export const Reading = z.object({
  matched: z.string(),
  confidence: z.number(),
  purposes: z.array(z.enum(PURPOSES)),
  /** Stopped at once all the same. */
  stopped: z.boolean(),
});

export class ReplyReviewModel extends Model<
  InferAttributes<ReplyReviewModel>,
  InferCreationAttributes<ReplyReviewModel>
> {
  declare id: string;
  declare businessId: string;
  declare e164: string;
  declare messageId: string;
  declare reading: z.output<typeof Reading>;
  declare state: CreationOptional<string>;
  declare at: number;
  declare about: CreationOptional<'stop' | 'yes'>;
  declare decidedAt: CreationOptional<number | null>;
}
export const replyReviewTable = table(
  ReplyReviewModel,
  'reply_review',
  {
    id: key(text()),
    businessId: text(),
    e164: text(),
    messageId: text(),
    reading: json('reading', Reading),
    state: text('open'),
    at: big(),
    about: text('stop'),
    decidedAt: maybe(big()),
  },
  { open: { where: { state: 'open' } } },
);

export class OptInRequestModel extends Model<
  InferAttributes<OptInRequestModel>,
  InferCreationAttributes<OptInRequestModel>
> {
  declare messageId: string;
  declare businessId: string;
  declare e164: string;
  declare programmes: z.output<typeof ProgrammeShape>[];
  declare askedAt: number;
}
export const optInRequestTable = table(OptInRequestModel, 'opt_in_request', {
  messageId: key(text()),
  businessId: text(),
  e164: text(),
  programmes: json('programmes', z.array(ProgrammeShape)),
  askedAt: big(),
});

/** How many events a ledger holds of each kind, way, set of purposes and version of words: counted as they are appended. */
export class ConsentCountModel extends Model<
  InferAttributes<ConsentCountModel>,
  InferCreationAttributes<ConsentCountModel>
> {
  declare businessId: string;
  declare kind: string;
  declare how: string;
  /** As events have them, in the order of the purposes, with commas between. */
  declare purposes: string;
  /** Empty where none were shown. */
  declare words: string;
  declare n: number;
}
export const consentCountTable = table(ConsentCountModel, 'consent_count', {
  businessId: key(text()),
  kind: key(text()),
  how: key(text()),
  purposes: key(text()),
  words: key(text()),
  n: whole(),
});

const FormPurposes = z.array(z.enum(['informational', 'promotional']));

/** A form that people signed, filed as the proof of what they agreed to; the document itself is kept beside it. */
export class FiledFormModel extends Model<InferAttributes<FiledFormModel>, InferCreationAttributes<FiledFormModel>> {
  declare id: string;
  declare businessId: string;
  declare purposes: z.output<typeof FormPurposes>;
  declare signedOn: string;
  declare disclosure: string;
  declare documentId: string;
  declare name: string;
  declare size: number;
  declare sha256: string;
  declare people: CreationOptional<number>;
  declare leftOut: CreationOptional<number>;
  declare done: CreationOptional<boolean>;
  declare filedBy: string;
  declare filedAt: number;
}
export const filedFormTable = table(FiledFormModel, 'filed_form', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  purposes: json('purposes', FormPurposes),
  signedOn: text(),
  disclosure: text(),
  documentId: text(),
  name: text(),
  size: whole(),
  sha256: text(),
  people: whole(0),
  leftOut: whole(0),
  done: flag(false),
  filedBy: text(),
  filedAt: big(),
});
