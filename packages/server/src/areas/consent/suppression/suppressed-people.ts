import type { SuppressedShape } from '@long-gate/contracts';
import { dayIn, keepsOff, PURPOSES, type ConsentState } from '@long-gate/core';
import { z } from 'zod';
import { csvPart } from '../../../platform/csv.js';
import { packCursor, readCursor } from '../../../platform/cursor.js';
import type { Reader } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { suppressedAfter, type Contacts } from '../../contacts/index.js';
import type { Businesses } from '../../settings/index.js';
import { expiryEnds } from '../expiry/expiry-store.js';
import type { Exception, Relationships } from '../relationships/relationships.js';
import type { SuppressionListModel } from './model.js';
import { onList } from './suppression-store.js';

/** So many contacts are looked for on a list at once. */
const CHUNK = 2000;
/** Where a page begins, and how many are on the list in all. */
const Place = z.tuple([z.string(), z.number().int().nonnegative()]);
type Suppressed = z.output<typeof SuppressedShape>;
export interface SuppressedPage {
  items: Suppressed[];
  next: string | null;
  total: number;
}

/** Contacts on suppression lists: what a list keeps from each, and what excepts them. */
export class SuppressedPeople {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly relationships: Relationships,
  ) {}

  /** A page of those on a list. */
  async page(list: SuppressionListModel, cursor: string | undefined, limit: number): Promise<SuppressedPage> {
    const r = this.p.db;
    // How many there are is counted with the first page, and goes along with its cursor.
    const [after, counted] = cursor ? readCursor(Place, cursor) : ['', null];
    const found: { e164: string; promotional: ConsentState }[] = [];
    let total = 0;
    for await (const part of this.contactsOn(r, list, after)) {
      total += part.length;
      found.push(...part.slice(0, limit + 1 - found.length));
      if (counted !== null && found.length > limit) break;
    }
    const page = found.slice(0, limit);
    total = counted ?? total;
    return {
      items: await this.shown(r, list, page),
      next: found.length > limit ? packCursor([page.at(-1)?.e164 ?? '', total]) : null,
      total,
    };
  }

  /** All of them, as CSV. */
  async *lines(list: SuppressionListModel): AsyncGenerator<string> {
    const r = this.p.db;
    const { businessId } = list;
    const zone = (await this.businesses.row(r, businessId)).time_zone;
    yield csvPart([['phone', 'name', 'kept off', 'exception', 'exception ends']], true);
    for await (const part of this.contactsOn(r, list))
      if (part.length > 0)
        yield csvPart(
          (await this.shown(r, list, part)).map((x) => [
            ...[x.e164, x.name, x.kept.join(', '), x.exception],
            x.exceptionEndsAt === null ? '' : dayIn(x.exceptionEndsAt, zone),
          ]),
        );
  }

  /** What a list keeps from some of those who are on it, and what excepts them. */
  private async shown(
    r: Reader,
    list: SuppressionListModel,
    people: readonly { e164: string; promotional: ConsentState }[],
  ): Promise<Suppressed[]> {
    const { businessId } = list;
    const e164s = people.map((x) => x.e164);
    const [names, related, ends] = await Promise.all([
      this.contacts.names(r, businessId, e164s),
      this.relationships.exceptions(r, businessId, e164s),
      expiryEnds(r, businessId, e164s),
    ]);
    return people.map((x) => ({
      e164: x.e164,
      name: names.get(x.e164)?.name ?? '',
      contactId: names.get(x.e164)?.contactId ?? null,
      ...keptFrom(list, x.promotional, related.get(x.e164), ends.get(x.e164) ?? null),
    }));
  }

  private async *contactsOn(
    r: Reader,
    list: SuppressionListModel,
    from = '',
  ): AsyncGenerator<{ e164: string; promotional: ConsentState }[]> {
    for (let after = from; ;) {
      const some = await suppressedAfter(r, list.businessId, after, CHUNK);
      const last = some.at(-1);
      if (!last) return;
      const on = new Set(
        await onList(
          r,
          list,
          some.map((x) => x.e164),
        ),
      );
      yield some.filter((x) => on.has(x.e164));
      after = last.e164;
    }
  }
}

/**
 * What a list keeps from somebody who agreed to offers or did not, as the gate's fifth post has it, and when what excepts
 * them ends.
 */
function keptFrom(
  list: SuppressionListModel,
  promotional: ConsentState,
  related: Exception | undefined,
  consentEndsAt: number | null,
): Pick<Suppressed, 'kept' | 'exception' | 'exceptionEndsAt'> {
  if (keepsOff(list.kind) === 'all') return { kept: [...PURPOSES], exception: '', exceptionEndsAt: null };
  if (promotional === 'granted')
    return {
      kept: [],
      exception: 'Their written consent to offers stands, and ends with it.',
      exceptionEndsAt: consentEndsAt,
    };
  if (related && promotional !== 'revoked')
    return {
      kept: [],
      exception: `Their ${related.kind} of ${related.happenedOn} excepts them from the list; offers by text want their written consent all the same.`,
      exceptionEndsAt: related.endsAt,
    };
  return {
    kept: ['promotional'],
    exception: 'Notices may go to them: a registry keeps off solicitations alone.',
    exceptionEndsAt: null,
  };
}
