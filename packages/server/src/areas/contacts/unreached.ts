import { Readable } from 'node:stream';
import type { Unreached as UnreachedRow, UnreachedSummary } from '@long-gate/contracts';
import { CAUSES, causesOf, type Cause } from '@long-gate/core';
import { z } from 'zod';
import { csvPart } from '../../platform/csv.js';
import { packCursor, readCursor } from '../../platform/cursor.js';
import type { Platform } from '../../platform/platform.js';
import { fieldsOf } from './own-field-store.js';
import { carriersOfCause, outcomesByReach, standingCounts, unreachedNumbers } from './trouble-store.js';

const Place = z.tuple([z.number(), z.number().int()]);
const EXPORTED_AT_ONCE = 500;

/** Numbers that texts do not reach: why, since when, how often, and who is affected. */
export class Unreached {
  constructor(private readonly p: Platform) {}

  async summary(businessId: string): Promise<UnreachedSummary> {
    const r = this.p.db;
    const counts = (await standingCounts(r, businessId)).map((c) => ({
      ...c,
      causes: causesOf({ ...c, faultsInReview: Boolean(c.faults) }),
    }));
    const sum = (of: typeof counts): number => of.reduce((n, c) => n + c.n, 0);
    const causes = await Promise.all(
      CAUSES.map(async (cause) => {
        const mine = counts.filter((c) => c.causes.includes(cause));
        return {
          cause,
          numbers: sum(mine),
          informational: sum(mine.filter((c) => c.informational === 'granted')),
          promotional: sum(mine.filter((c) => c.promotional === 'granted')),
          carriers: mine.length === 0 ? [] : await carriersOfCause(r, businessId, cause),
        };
      }),
    );
    return { causes, all: sum(counts), outcomes: await this.outcomes(businessId) };
  }

  async page(
    businessId: string,
    cause: Cause,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: UnreachedRow[]; next: string | null; total: number }> {
    const place = cursor ? readCursor(Place, cursor) : null;
    const after = place && { lastAt: place[0], id: place[1] };
    const [rows, counts] = await Promise.all([
      unreachedNumbers(this.p.db, businessId, cause, after, limit + 1),
      standingCounts(this.p.db, businessId),
    ]);
    const page = rows.slice(0, limit).map((x) => ({ ...x, faultsInReview: Boolean(x.faultsInReview) }));
    const last = page.at(-1);
    return {
      items: page,
      next: rows.length > limit && last ? packCursor([last.lastAt, last.id]) : null,
      total: counts
        .filter((c) => causesOf({ ...c, faultsInReview: Boolean(c.faults) }).includes(cause))
        .reduce((n, c) => n + c.n, 0),
    };
  }

  /** All of them as CSV, cause by cause. */
  export(businessId: string): Readable {
    return Readable.from(this.rows(businessId));
  }

  private async *rows(businessId: string): AsyncGenerator<string> {
    const head = 'phone,name,email,cause,said by,carrier,in its words,first,last,times,informational,promotional';
    yield csvPart([head.split(',')], true);
    for (const cause of CAUSES)
      for (let after: { lastAt: number; id: number } | null = null; ;) {
        const rows = await unreachedNumbers(this.p.db, businessId, cause, after, EXPORTED_AT_ONCE);
        const last = rows.at(-1);
        if (!last) break;
        yield csvPart(
          rows.map((x) => [
            x.e164,
            x.name,
            x.email,
            cause,
            x.source,
            x.carrier,
            x.detail,
            new Date(x.firstAt).toISOString(),
            new Date(x.lastAt).toISOString(),
            String(x.times),
            x.informational,
            x.promotional,
          ]),
        );
        after = { lastAt: last.lastAt, id: last.id };
      }
  }

  private async outcomes(businessId: string): Promise<UnreachedSummary['outcomes']> {
    const fields = (await fieldsOf(this.p.db, businessId)).filter((f) => f.outcome);
    return Promise.all(
      fields.map(async (f) => {
        const values = new Map<string, { value: string; reached: number; unreached: number }>();
        for (const { value, reached, n } of await outcomesByReach(this.p.db, businessId, f.id)) {
          const known = values.get(value) ?? { value, reached: 0, unreached: 0 };
          known[reached ? 'reached' : 'unreached'] += n;
          values.set(value, known);
        }
        return { field: f.name, values: [...values.values()] };
      }),
    );
  }
}
