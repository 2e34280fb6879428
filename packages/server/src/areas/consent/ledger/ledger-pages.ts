import type { ConsentEventView, LedgerFilter } from '@long-gate/contracts';
import { sourceOfWords } from '@long-gate/core';
import { DateTime } from 'luxon';
import { z } from 'zod';
import { csvPart } from '../../../platform/csv.js';
import { packCursor, readCursor } from '../../../platform/cursor.js';
import type { Reader } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound } from '../../../platform/problem.js';
import { figuresIn, isOfWhoever, type Contacts } from '../../contacts/index.js';
import type { Businesses } from '../../settings/index.js';
import { namesOfSources } from '../sources/source-store.js';
import * as search from './event-search-store.js';
import * as store from './ledger-store.js';

/** What is asked for, whatever page of it. */
type Asked = Partial<z.output<typeof LedgerFilter>>;
type Query = Asked & { sort?: 'happened' | '-happened' | undefined; cursor?: string | undefined; limit: number };

const Place = z.tuple([z.number(), z.number()]);
/** People that words or a list mean are named up to so many; more are looked up event by event. */
const NAMED_UP_TO = 5_000;
/** So many versions of words there are to choose from. */
const MOST_WORDS = 300;

/** So many events are read for a piece of a file. */
const PIECE = 1_000;
const FILE_HEADS = [
  'number in the chain',
  'happened',
  'recorded',
  'phone',
  'contact',
  'event',
  'purposes',
  'how',
  'words shown',
  'the words',
  'recorded by',
  'evidence',
  'hash',
];
const inFile = (e: ConsentEventView): (string | number)[] => [
  e.seq,
  new Date(e.happenedAt).toISOString(),
  new Date(e.recordedAt).toISOString(),
  e.e164,
  e.contactName,
  e.awaitsConfirmation ? `${e.kind}, YES asked` : e.kind,
  e.purposes.join(', '),
  e.how,
  e.disclosureVersion,
  e.disclosure,
  e.recordedBy,
  JSON.stringify(e.evidence),
  e.hash,
];

/** The ledger as it is read: a page of it, by whom, what, how, which words and when. */
export class LedgerPages {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly limits = search.LIMITS,
  ) {}

  /** Which words people were shown, by their version, and the sources whose words they are. */
  async words(businessId: string): Promise<{ items: string[]; sources: { source: string; name: string }[] }> {
    const all = await search.wordsShown(this.p.db, businessId);
    const sources = [...new Set(all.map(sourceOfWords))].slice(0, MOST_WORDS);
    const names = await namesOfSources(this.p.db, businessId, sources);
    return {
      items: all.slice(0, MOST_WORDS),
      sources: sources.map((source) => ({ source, name: names.get(source) ?? source })),
    };
  }

  /**
   * A page of what is asked for; in the order of the chain, or of when it happened where days are named.
   */
  async page(businessId: string, q: Query): Promise<{ items: ConsentEventView[]; next: string | null }> {
    const r = this.p.db;
    const filter = await this.filterOf(r, businessId, q);
    const place = q.cursor ? readCursor(Place, q.cursor) : null;
    const from =
      q.sort === 'happened' ? { after: place ?? search.FIRST_PLACE } : { before: place ?? search.LAST_PLACE };
    const rows = await search.pageOfEvents(r, businessId, filter, from, q.limit + 1, this.limits);
    const items = rows.slice(0, q.limit);
    const last = items.at(-1);
    return {
      items: await this.shown(r, businessId, items),
      next: last && rows.length > q.limit ? packCursor([last.happened_at, last.seq]) : null,
    };
  }

  /** How many are asked for, whatever the page; apart from it, so that no page waits. */
  async count(businessId: string, q: Asked): Promise<search.EventCount> {
    return search.countEvents(this.p.db, businessId, await this.filterOf(this.p.db, businessId, q), this.limits);
  }

  /** All of what is asked for as CSV with a heading row, the newest first, some at a time; moments in UTC. */
  async *csv(businessId: string, q: Asked): AsyncGenerator<string> {
    const r = this.p.db;
    const filter = await this.filterOf(r, businessId, q);
    yield csvPart([FILE_HEADS], true);
    for (let before: search.EventPlace = search.LAST_PLACE; ;) {
      const rows = await search.pageOfEvents(r, businessId, filter, { before }, PIECE, this.limits);
      const last = rows.at(-1);
      if (!last) return;
      yield csvPart((await this.shown(r, businessId, rows)).map(inFile));
      before = [last.happened_at, last.seq];
    }
  }

  /** One event as it is shown. @throws Problem 404 */
  async one(businessId: string, id: string): Promise<ConsentEventView> {
    const row = await store.eventById(this.p.db, businessId, id);
    const [event] = row ? await this.shown(this.p.db, businessId, [row]) : [];
    if (!event) throw notFound('event');
    return event;
  }

  private async shown(r: Reader, businessId: string, rows: readonly store.EventRow[]): Promise<ConsentEventView[]> {
    const names = await this.contacts.names(
      r,
      businessId,
      rows.map((x) => x.e164),
    );
    return rows.map((x) => ({
      ...store.eventOf(x),
      contactName: names.get(x.e164)?.name ?? '',
      contactId: names.get(x.e164)?.contactId ?? null,
    }));
  }

  private async filterOf(r: Reader, businessId: string, q: Asked): Promise<search.EventFilter> {
    const whoever = { ...(q.q ? { q: q.q } : {}), ...(q.list ? { list: q.list } : {}) };
    const meant = q.q || q.list ? await this.contacts.numbersOfWhoever(r, businessId, whoever, NAMED_UP_TO) : undefined;
    // Figures also mean numbers that are on file and no contact's any more; on a list are none of these.
    const figures = q.q && !q.list ? figuresIn(q.q) : '';
    const nobodys = figures === '' ? [] : await store.numbersOfNobody(r, businessId, figures, NAMED_UP_TO);
    const words = await this.wordsMeant(r, businessId, q);
    // Words of another source than is named: nobody was shown them.
    const numbers = words === null ? [] : q.e164 ? [q.e164] : meant ? [...meant, ...nobodys] : null;
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
      words: words ?? [],
      between:
        q.from || q.to ? { from: q.from ? day(q.from) : 0, to: q.to ? day(q.to, 1) : Number.MAX_SAFE_INTEGER } : null,
    };
  }

  /** The versions of words that are meant; none for any, null where what is named does not go together. */
  private async wordsMeant(r: Reader, businessId: string, q: Asked): Promise<string[] | null> {
    if (!q.source) return q.words ? [q.words] : [];
    if (q.words) return sourceOfWords(q.words) === q.source ? [q.words] : null;
    const of = (await search.wordsShown(r, businessId)).filter((x) => sourceOfWords(x) === q.source);
    return of.length > 0 ? of : null;
  }
}
