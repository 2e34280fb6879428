import type { ConsentEventView, LedgerQuery } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import { z } from 'zod';
import { packCursor, readCursor } from '../../platform/cursor.js';
import type { Reader } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { figuresIn, isOfWhoever, type Contacts } from '../contacts/index.js';
import type { Businesses } from '../settings/index.js';
import * as store from './ledger-store.js';

type Query = Partial<z.output<typeof LedgerQuery>> & { limit: number };

const Place = z.tuple([z.number(), z.number()]);
/** People that words or a list mean are named up to so many; more are looked up event by event. */
const NAMED_UP_TO = 5_000;
/** So many versions of words there are to choose from. */
const MOST_WORDS = 300;

/** The ledger as it is read: a page of it, by whom, what, how, which words and when. */
export class LedgerPages {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
  ) {}

  /** Which words people were shown, by their version. */
  words(businessId: string): Promise<string[]> {
    return store.wordsShown(this.p.db, businessId, MOST_WORDS);
  }

  /**
   * A page of what is asked for; in the order of the chain, or of when it happened where days are named.   */
  async page(
    businessId: string,
    q: Query,
  ): Promise<{ items: ConsentEventView[]; next: string | null; total: number | null }> {
    const r = this.p.db;
    const filter = await this.filterOf(r, businessId, q);
    const place = q.cursor ? readCursor(Place, q.cursor) : null;
    const from = q.sort === 'happened' ? { after: place ?? store.FIRST_PLACE } : { before: place ?? store.LAST_PLACE };
    const [rows, total] = await Promise.all([
      store.pageOfEvents(r, businessId, filter, from, q.limit + 1),
      store.countEvents(r, businessId, filter),
    ]);
    const items = rows.slice(0, q.limit);
    const last = items.at(-1);
    const names = await this.contacts.names(
      r,
      businessId,
      items.map((x) => x.e164),
    );
    return {
      items: items.map((x) => ({
        ...store.eventOf(x),
        contactName: names.get(x.e164)?.name ?? '',
        contactId: names.get(x.e164)?.contactId ?? null,
      })),
      next: last && rows.length > q.limit ? packCursor([last.happened_at, last.seq]) : null,
      total,
    };
  }

  private async filterOf(r: Reader, businessId: string, q: Query): Promise<store.EventFilter> {
    const whoever = { ...(q.q ? { q: q.q } : {}), ...(q.list ? { list: q.list } : {}) };
    const meant = q.q || q.list ? await this.contacts.numbersOfWhoever(r, businessId, whoever, NAMED_UP_TO) : undefined;
    // Figures also mean numbers that are on file and no contact's any more; on a list are none of these.
    const figures = q.q && !q.list ? figuresIn(q.q) : '';
    const nobodys = figures === '' ? [] : await store.numbersOfNobody(r, businessId, figures, NAMED_UP_TO);
    const numbers = q.e164 ? [q.e164] : meant ? [...meant, ...nobodys] : null;
    const bind: Record<string, unknown> = {};
    // One number of many that are meant is looked up as they are.
    const rest = meant === null || (q.e164 && meant !== undefined);
    const meantBy = rest ? isOfWhoever(whoever, { businessId: 'e.business_id', e164: 'e.e164' }, bind) : '';
    const sql = rest ? store.orNamed(meantBy, nobodys, bind) : '';
    const zone = (await this.businesses.row(r, businessId)).time_zone;
    const day = (iso: string, more = 0): number => DateTime.fromISO(iso, { zone }).plus({ days: more }).toMillis();
    return {
      kinds: q.kind ? q.kind.split(',') : [],
      hows: q.how ? q.how.split(',') : [],
      numbers,
      whoever: sql === '' ? null : { sql, bind },
      purpose: q.purpose ?? '',
      words: q.words ?? '',
      between:
        q.from || q.to ? { from: q.from ? day(q.from) : 0, to: q.to ? day(q.to, 1) : Number.MAX_SAFE_INTEGER } : null,
    };
  }
}
