import type { CameBy, Refused, SourcePerson } from '@long-gate/contracts';
import { agreementsOf, becameOf, CONFIRM_WITHIN_MS, FIRST_MONTH_MS, type ComparedPurpose } from '@long-gate/core';
import { z } from 'zod';
import { packCursor, readCursor } from '../../../platform/cursor.js';
import type { Platform } from '../../../platform/platform.js';
import type { Contacts } from '../../contacts/index.js';
import * as search from '../ledger/event-search-store.js';
import type { Ledger } from '../ledger/ledger.js';
import { mondayOf, weekOf } from '../pages/page-store.js';
import { namesOfVia, refusalsSince, sourcesSince } from './source-store.js';
import type { SourceCounts } from './tally.js';

const WEEK_MS = 7 * 86_400_000;
/** Of those behind a count so many events are gone through at once. */
const CHUNK = 500;
const Place = z.tuple([z.number(), z.number()]);

/** Which of those behind one way's counts are meant. */
export interface WhichOf {
  purpose: ComparedPurpose;
  way: CameBy['way'];
  via?: string | undefined;
  weeks: number;
  of: 'asked' | 'agreed' | 'unconfirmed' | 'stayed' | 'soon' | 'later' | 'ended';
}

/** By which ways people agree, who of them stays, and who refuses: added up with each event, by the week it began. */
export class Sources {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly events: Ledger,
  ) {}

  /** @param weeks so many, the present one among them. */
  async read(
    businessId: string,
    purpose: ComparedPurpose,
    weeks: number,
  ): Promise<{ from: string; weeks: number; ways: CameBy[]; refusals: Refused[] }> {
    const now = this.p.clock.now();
    const first = this.firstWeek(weeks);
    const ways = new Map<string, CameBy>();
    for (const row of await sourcesSince(this.p.db, businessId, purpose, first)) {
      const key = `${row.way}\n${row.via}`;
      let way = ways.get(key);
      if (!way)
        ways.set(
          key,
          (way = {
            way: row.way as CameBy['way'],
            via: row.via,
            name: '',
            asked: 0,
            agreed: 0,
            soon: 0,
            later: 0,
            ended: 0,
            ripe: 0,
            stayed: 0,
            byWeek: Array.from({ length: weeks }, () => 0),
          }),
        );
      add(way, row);
      way.byWeek[row.week - first] = (way.byWeek[row.week - first] ?? 0) + row.agreed;
      // Only of a week that is over for a month can be said who stayed one; whose consent ended otherwise neither left
      // nor stayed.
      if (isRipe(row.week, now)) {
        way.ripe += row.agreed - row.ended;
        way.stayed += row.agreed - row.ended - row.soon;
      }
    }
    const names = await namesOfVia(this.p.db, businessId, [...ways.values()]);
    const refusals = new Map<string, Refused>();
    for (const row of await refusalsSince(this.p.db, businessId, purpose, first)) {
      let no = refusals.get(row.how);
      if (!no)
        refusals.set(
          row.how,
          (no = {
            how: row.how as Refused['how'],
            n: 0,
            stayed: { 'never in': 0, 'a month': 0, 'a year': 0, longer: 0 },
            byWeek: Array.from({ length: weeks }, () => 0),
          }),
        );
      no.n += row.n;
      no.stayed[row.stayed as keyof Refused['stayed']] += row.n;
      no.byWeek[row.week - first] = (no.byWeek[row.week - first] ?? 0) + row.n;
    }
    return {
      from: mondayOf(first),
      weeks,
      ways: [...ways.values()]
        .map((x) => ({ ...x, name: names.get(`${x.way}\n${x.via}`) ?? '' }))
        .sort((a, b) => b.agreed - a.agreed || b.asked - a.asked || a.way.localeCompare(b.way)),
      refusals: [...refusals.values()].sort((a, b) => b.n - a.n || a.how.localeCompare(b.how)),
    };
  }

  /**
   * Who is behind one count, the last recorded first: the events of that way are gone through by their index, and of
   * each number all it says is told anew, so that a count and its people never differ.
   */
  async people(
    businessId: string,
    which: WhichOf,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: SourcePerson[]; next: string | null }> {
    const now = this.p.clock.now();
    const from = startOf(this.firstWeek(which.weeks));
    const filter: search.EventFilter = { ...search.EVERY_EVENT, hows: [which.way], purpose: which.purpose };
    let before: search.EventPlace = cursor ? readCursor(Place, cursor) : search.LAST_PLACE;
    const found: {
      e164: string;
      at: number;
      since: number | null;
      endedAt: number | null;
      place: search.EventPlace;
    }[] = [];
    while (found.length <= limit) {
      const rows = await search.pageOfEvents(this.p.db, businessId, filter, { before }, CHUNK);
      const by = await this.events.eventsOfAll(this.p.db, businessId, [...new Set(rows.map((x) => x.e164))]);
      for (const row of rows) {
        const a = agreementsOf(by.get(row.e164) ?? []).agreements.find(
          (x) => x.eventId === row.id && x.purpose === which.purpose,
        );
        if (a && a.at >= from && (which.via === undefined || a.via === which.via) && isOf(which.of, a, now))
          found.push({
            e164: row.e164,
            at: a.at,
            since: a.since,
            endedAt: a.ended?.at ?? null,
            place: [row.happened_at, row.seq],
          });
      }
      const last = rows.at(-1);
      if (!last || rows.length < CHUNK) break;
      before = [last.happened_at, last.seq];
    }
    const items = found.slice(0, limit);
    const names = await this.contacts.names(
      this.p.db,
      businessId,
      items.map((x) => x.e164),
    );
    const last = items.at(-1);
    return {
      items: items.map(({ place: _, ...x }) => ({
        ...x,
        name: names.get(x.e164)?.name ?? '',
        contactId: names.get(x.e164)?.contactId ?? null,
      })),
      next: last && found.length > limit ? packCursor([...last.place]) : null,
    };
  }

  private firstWeek(weeks: number): number {
    return weekOf(this.p.clock.now()) - weeks + 1;
  }
}

/** When a week begins, milliseconds. */
const startOf = (week: number): number => Date.parse(`${mondayOf(week)}T00:00:00Z`);
/** Whether the first month of all who were asked in a week is over; their YES may have come as late as it may. */
const isRipe = (week: number, now: number): boolean =>
  startOf(week) + WEEK_MS + CONFIRM_WITHIN_MS + FIRST_MONTH_MS <= now;

function add(to: SourceCounts, row: SourceCounts): void {
  for (const x of ['asked', 'agreed', 'soon', 'later', 'ended'] as const) to[x] += row[x];
}

function isOf(of: WhichOf['of'], a: ReturnType<typeof agreementsOf>['agreements'][number], now: number): boolean {
  const became = becameOf(a);
  switch (of) {
    case 'asked':
      return true;
    case 'agreed':
      return became !== 'unconfirmed';
    case 'stayed':
      return (became === 'holds' || became === 'later') && isRipe(weekOf(a.at), now);
    default:
      return became === of;
  }
}
