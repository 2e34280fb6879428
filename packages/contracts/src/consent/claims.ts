import * as z from 'zod';
import { BusinessPath, endpoint, Moment, ObjectPath, page, PageQuery } from '../endpoint.js';

const Count = z.number().int();
/** People of whom consent is claimed without proof: how many a form would open texts to, and of which kind. */
export const OpenClaimsShape = z.object({ people: Count, informational: Count, promotional: Count });
export const ClaimLotShape = z.object({
  /** The intake that brought the claims. */
  id: z.string(),
  fileName: z.string(),
  broughtAt: Moment,
  broughtBy: z.string(),
  /** Who attested to where the lot came from, and what it says of all of its people; empty where it says nothing. */
  attestation: z.string(),
  claim: z.string(),
  /** Of how many it claims consent. */
  people: Count,
  open: OpenClaimsShape,
  /** Of whom there is proof by now, or who agreed themselves. */
  agreed: Count,
});
export type ClaimLot = z.infer<typeof ClaimLotShape>;

export const listClaims = endpoint({
  id: 'claims.list',
  summary: 'Claims of consent without proof, by the intake that brought them, and what their forms would open',
  method: 'GET',
  path: '/businesses/:businessId/consent-claims',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({
    items: z.array(ClaimLotShape),
    /** Of all lots together; who is in two counts once. */
    open: OpenClaimsShape,
  }),
});

export const ClaimedPersonShape = z.object({
  e164: z.string(),
  name: z.string(),
  /** Null where no contact has the number any more. */
  contactId: z.string().nullable(),
  /** What was said of this person: the day, where it came from, the words; empty where nothing was. */
  date: z.string(),
  source: z.string(),
  disclosure: z.string(),
  /** For which texts the claim is still without proof. */
  unproven: z.array(z.enum(['informational', 'promotional'])),
});
export type ClaimedPerson = z.infer<typeof ClaimedPersonShape>;
export const listClaimed = endpoint({
  id: 'claims.people',
  summary: 'Whose claim of a lot is still without proof, as they were brought in',
  method: 'GET',
  path: '/businesses/:businessId/consent-claims/:id/people',
  access: 'viewer',
  params: ObjectPath,
  query: PageQuery,
  answer: page(ClaimedPersonShape),
});
