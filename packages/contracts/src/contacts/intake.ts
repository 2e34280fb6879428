import * as z from 'zod';
import { BusinessPath, Done, endpoint, Moment, ObjectPath } from '../endpoint.js';

/** What a column of consent said of one row, as it was read. */
const ConsentCell = z.object({
  /** `no`: it said no or stop, which counts at once. */
  says: z.enum(['', 'yes', 'no']),
  /** `YYYY-MM-DD`; empty where no day is known. */
  date: z.string().regex(/^(\d{4}-\d{2}-\d{2})?$/, 'A day is written as 2027-03-12.'),
  source: z.string().max(200),
  /** The words the person saw. */
  disclosure: z.string().max(2000),
});
/** What a row has beside name, number, e-mail and state; what is not in the file is left out. */
const MoreShape = z.object({
  further: z.string().max(200).optional(),
  language: z.string().max(12).optional(),
  street: z.string().max(120).optional(),
  city: z.string().max(80).optional(),
  postalCode: z.string().max(16).optional(),
  own: z.record(z.string().max(80), z.string().max(300)).optional(),
  tags: z.array(z.string().max(60)).max(20).optional(),
  consent: ConsentCell.optional(),
});
export type IntakeMore = z.infer<typeof MoreShape>;
/** One row as the worker read it; the server checks it again. */
export const IntakeRowShape = z.object({
  row: z.number().int().min(1),
  phone: z.string().max(200),
  firstName: z.string().max(200),
  lastName: z.string().max(200),
  email: z.string().max(200),
  stateCode: z.string().max(40),
  keep: z.boolean(),
  more: MoreShape.optional(),
});
export type IntakeRow = z.infer<typeof IntakeRowShape>;
export const IntakeResultShape = z.object({
  stored: z.number(),
  /** Known already, and left as they were. */
  known: z.number(),
  /** Known already, and something of them was filled in or overwritten. */
  changed: z.number(),
  repeats: z.number(),
  refused: z.number(),
  dropped: z.number(),
  /** Of all of these: how many said no, which counted at once. */
  revoked: z.number(),
  /** Of all of these: for how many a proven consent was filed. */
  proven: z.number(),
});
/** What becomes of a field of somebody who is known already. */
export const KNOWN_RULES = ['fill', 'overwrite', 'leave'] as const;
export type KnownRule = (typeof KNOWN_RULES)[number];
/** By field: `name`, `email`, `address`, `language`, and `own` fields by their id; what is not named is filled in where blank. */
const KnownRules = z.record(z.string().max(80), z.enum(KNOWN_RULES));
export const IntakeShape = z.object({
  id: z.string(),
  fileName: z.string(),
  state: z.enum(['reading', 'storing', 'stored', 'undoing', 'undone', 'cancelled']),
  total: z.number(),
  received: z.number(),
  listId: z.string().nullable(),
  /** SHA-256 of the file it was read from; empty where that is not known. */
  digest: z.string(),
  /** Where the lot came from, and who says so. */
  attestation: z.string(),
  /** Whether it can still be taken back; empty where it can, else why not. */
  undo: z.string().nullable(),
  result: IntakeResultShape.nullable(),
  createdAt: Moment,
  createdBy: z.string(),
});
export type IntakeView = z.infer<typeof IntakeShape>;
export const beginIntake = endpoint({
  id: 'intakes.begin',
  summary: 'Begin an intake of so many rows',
  method: 'POST',
  path: '/businesses/:businessId/intakes',
  access: 'coordinator',
  params: BusinessPath,
  body: z.object({
    fileName: z.string().max(200),
    total: z.number().int().min(1, 'There are no rows.').max(2_000_000),
    listName: z.string().trim().max(60),
    /** Tags that all of the lot get. */
    tags: z.array(z.string().trim().min(1).max(60)).max(20).default([]),
    consentClaim: z.string().trim().max(300),
    attestation: z.string().trim().min(5, 'Say where this list came from, and who says so.').max(500),
    /** The country whose way of writing numbers is meant where a number does not say. */
    region: z
      .string()
      .regex(/^[A-Z]{2}$/, 'A country has two letters, such as US.')
      .default('US'),
    known: KnownRules.default({}),
    /**
     * The document that proves consent dates, sources and disclosures of the rows, and for which kinds of text; rows that
     * lack any of the three stay claims.
     */
    proof: z
      .object({
        name: z.string().trim().min(1).max(200),
        base64: z.string().min(1, 'The file is empty.'),
        purposes: z.array(z.enum(['informational', 'promotional'])).min(1, 'Choose what they agreed to.'),
      })
      .nullable()
      .default(null),
    /** SHA-256 of the file, by which it is known again where handing it in was cut off. */
    digest: z
      .string()
      .regex(/^(?:[0-9a-f]{64})?$/, 'A SHA-256 digest has 64 hexadecimal digits.')
      .default(''),
  }),
  stricter: {
    access: 'administrator',
    to: 'claim or prove consent for the people of an intake',
    when: (b) => b.consentClaim !== '' || b.proof !== null,
    example: {
      fileName: 'list.csv',
      total: 1,
      listName: 'New',
      consentClaim: 'They said so.',
      attestation: 'Counter list, kept by the office.',
    },
  },
  answer: IntakeShape,
});
export const sendIntakeRows = endpoint({
  id: 'intakes.rows',
  summary: 'Hand in rows; handing one in twice changes nothing',
  method: 'POST',
  path: '/businesses/:businessId/intakes/:id/rows',
  access: 'coordinator',
  params: ObjectPath,
  body: z.object({ rows: z.array(IntakeRowShape).min(1).max(5000) }),
  answer: z.object({ received: z.number() }),
});
export const storeIntake = endpoint({
  id: 'intakes.store',
  summary: 'Store what was handed in, as a job',
  method: 'POST',
  path: '/businesses/:businessId/intakes/:id/store',
  access: 'coordinator',
  params: ObjectPath,
  answer: IntakeShape,
});
export const cancelIntake = endpoint({
  id: 'intakes.cancel',
  summary: 'Forget an intake that was not stored',
  method: 'DELETE',
  path: '/businesses/:businessId/intakes/:id',
  access: 'coordinator',
  params: ObjectPath,
  answer: Done,
});
export const listIntakes = endpoint({
  id: 'intakes.list',
  summary: 'Intakes, newest first',
  method: 'GET',
  path: '/businesses/:businessId/intakes',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(IntakeShape) }),
});

export const undoIntake = endpoint({
  id: 'intakes.undo',
  summary: 'Take a stored intake back while nothing it brought was touched; what it revoked stays',
  method: 'POST',
  path: '/businesses/:businessId/intakes/:id/undo',
  access: 'coordinator',
  params: ObjectPath,
  answer: IntakeShape,
});
export const knownNumbers = endpoint({
  id: 'contacts.known',
  summary: 'Which of these numbers are contacts already',
  method: 'POST',
  path: '/businesses/:businessId/contacts/known',
  access: 'viewer',
  params: BusinessPath,
  body: z.object({ e164s: z.array(z.string().max(20)).max(5000) }),
  answer: z.object({ known: z.array(z.string()) }),
});
