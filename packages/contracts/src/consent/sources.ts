import { CONSENT_ROUTES } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, Moment, PageQuery } from '../endpoint.js';

const Way = z.enum(CONSENT_ROUTES);
const Purpose = z.enum(['informational', 'promotional']);
/** So many weeks back, the present one among them. */
const Weeks = z.coerce.number().int().min(1).max(520);

const CameByShape = z.object({
  way: Way,
  /** Which page, programme, form or list; empty where the way says all. */
  via: z.string(),
  /** As people call it; empty where it has no name. */
  name: z.string(),
  asked: z.number().int(),
  /** Of whom it came to count: at once, or with their YES. */
  agreed: z.number().int(),
  /** Who left by their own word within a month of agreeing, and who later. */
  soon: z.number().int(),
  later: z.number().int(),
  /** Whose consent ended otherwise: expired, voided, disputed. */
  ended: z.number().int(),
  /** Of how many it can be said whether they stayed a month, and how many did; whose consent ended otherwise is in neither. */
  ripe: z.number().int(),
  stayed: z.number().int(),
  /** How many agreed, by week, the first first. */
  byWeek: z.array(z.number().int()),
});
export type CameBy = z.infer<typeof CameByShape>;
const RefusedShape = z.object({
  how: Way,
  n: z.number().int(),
  /** How long they had been in. */
  stayed: z.object({
    'never in': z.number().int(),
    'a month': z.number().int(),
    'a year': z.number().int(),
    longer: z.number().int(),
  }),
  byWeek: z.array(z.number().int()),
});
export type Refused = z.infer<typeof RefusedShape>;

export const readSources = endpoint({
  id: 'consent.sources',
  summary: 'By which ways people agree, confirm and stay, and who refuses',
  method: 'GET',
  path: '/businesses/:businessId/consent-sources',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({ purpose: Purpose, weeks: Weeks }),
  answer: z.object({
    /** The Monday on which the first week begins, UTC. */
    from: z.string(),
    weeks: z.number().int(),
    ways: z.array(CameByShape),
    refusals: z.array(RefusedShape),
  }),
});

const SourcePersonShape = z.object({
  e164: z.string(),
  name: z.string(),
  /** Null where no contact has the number any more. */
  contactId: z.string().nullable(),
  at: Moment,
  since: Moment.nullable(),
  endedAt: Moment.nullable(),
});
export type SourcePerson = z.infer<typeof SourcePersonShape>;
export const listSourcePeople = endpoint({
  id: 'consent.source-people',
  summary: 'Who is behind one count of a way in, the last recorded first',
  method: 'GET',
  path: '/businesses/:businessId/consent-sources/people',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend({
    purpose: Purpose,
    weeks: Weeks,
    way: Way,
    via: z.string().max(200).optional(),
    of: z.enum(['asked', 'agreed', 'unconfirmed', 'stayed', 'soon', 'later', 'ended']),
  }),
  answer: z.object({ items: z.array(SourcePersonShape), next: z.string().nullable() }),
});
