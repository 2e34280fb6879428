import { agreementsOf, becameOf, type LedgerEvent } from '@long-gate/core';
import { weekOf } from '../pages/page-store.js';

/** What of an event is needed to tell what became of who was asked. */
export type Told = Parameters<typeof agreementsOf>[0][number];

export interface SourceCounts {
  asked: number;
  agreed: number;
  soon: number;
  later: number;
  ended: number;
}
export interface SourceRow extends SourceCounts {
  purpose: string;
  way: string;
  via: string;
  week: number;
}
export interface RefusalRow {
  purpose: string;
  how: string;
  came: string;
  stayed: string;
  week: number;
  n: number;
}

/**
 * Adds up what became of people, a number at a time. What events change is what all of a number's events say with them
 * less what they said without, so that the order in which events arrive makes no difference.
 */
export class Tally {
  private readonly sources = new Map<string, SourceRow>();
  private readonly refusals = new Map<string, RefusalRow>();

  /** Adds all events of one number, or takes them away. */
  take(events: readonly Told[], sign: 1 | -1 = 1): void {
    if (events.length === 0) return;
    const { agreements, refusals } = agreementsOf(events);
    for (const a of agreements) {
      const row = this.source(a.purpose, a.way, a.via, weekOf(a.at));
      const became = becameOf(a);
      row.asked += sign;
      if (became !== 'unconfirmed') row.agreed += sign;
      if (became === 'soon' || became === 'later' || became === 'ended') row[became] += sign;
    }
    for (const r of refusals) {
      const row: RefusalRow = {
        purpose: r.purpose,
        how: r.how,
        came: r.came,
        stayed: r.stayed,
        week: weekOf(r.at),
        n: 0,
      };
      const key = [row.purpose, row.how, row.came, row.stayed, row.week].join('\n');
      const kept = this.refusals.get(key) ?? row;
      kept.n += sign;
      this.refusals.set(key, kept);
    }
  }

  /** What new events of numbers change. @param by all events of each number, the new ones last. */
  change(by: ReadonlyMap<string, readonly LedgerEvent[]>, before: ReadonlyMap<string, number>): void {
    for (const [e164, events] of by) {
      this.take(events.slice(0, before.get(e164) ?? 0), -1);
      this.take(events);
    }
  }

  /** The rows that are something. */
  rows(): { sources: SourceRow[]; refusals: RefusalRow[] } {
    return {
      sources: [...this.sources.values()].filter((x) => x.asked || x.agreed || x.soon || x.later || x.ended),
      refusals: [...this.refusals.values()].filter((x) => x.n !== 0),
    };
  }

  private source(purpose: string, way: string, via: string, week: number): SourceRow {
    const key = `${purpose}\n${way}\n${via}\n${week}`;
    let row = this.sources.get(key);
    if (!row)
      this.sources.set(key, (row = { purpose, way, via, week, asked: 0, agreed: 0, soon: 0, later: 0, ended: 0 }));
    return row;
  }
}
