import { Readable } from 'node:stream';
import type { Unreached as UnreachedRow, UnreachedSummary } from '@long-gate/contracts';
import { CAUSES, type Cause } from '@long-gate/core';
import { z } from 'zod';
import { csvPart } from '../../platform/csv.js';
import { packCursor, readCursor } from '../../platform/cursor.js';
import type { Platform } from '../../platform/platform.js';
import { fieldsOf } from './own-field-store.js';
import {
  carriersOfCause,
  countByCause,
  countNumbers,
  countOfCause,
  outcomesByReach,
  unreachedNumbers,
} from './trouble-store.js';

const Place = z.tuple([z.number(), z.number().int()]);
const EXPORTED_AT_ONCE = 500;

/** Numbers that texts do not reach: why, since when, how often, and who is affected. */
export class Unreached {
  constructor(private readonly p: Platform) {}

  async summary(businessId: string): Promise<UnreachedSummary> {
    const r = this.p.db;
    const counts = new Map((await countByCause(r, businessId)).map((c) => [c.cause, c]));
    const causes = await Promise.all(
      CAUSES.map(async (cause) => {
        const { n = 0, informational = 0, promotional = 0 } = counts.get(cause) ?? {};
        const carriers = n === 0 ? [] : await carriersOfCause(r, businessId, cause);
        return { cause, numbers: n, informational, promotional, carriers };
      }),
    );
    return { causes, all: await countNumbers(r, businessId), outcomes: await this.outcomes(businessId) };
  }

  async page(
    businessId: string,
    cause: Cause,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: UnreachedRow[]; next: string | null; total: number }> {
    const place = cursor ? readCursor(Place, cursor) : null;
    const after = place && { lastAt: place[0], id: place[1] };
    const [rows, total] = await Promise.all([
      unreachedNumbers(this.p.db, businessId, cause, after, limit + 1),
      countOfCause(this.p.db, businessId, cause),
    ]);
    const page = rows.slice(0, limit).map((x) => ({ ...x, faultsInReview: Boolean(x.faultsInReview) }));
    const last = page.at(-1);
    return {
      items: page,
      next: rows.length > limit && last ? packCursor([last.lastAt, last.id]) : null,
      total,
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
