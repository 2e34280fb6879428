import type { NumberWatch } from '@long-gate/contracts';
import { reachesLevel, wilson, type Rate } from '@long-gate/core';
import type { Platform } from '../../platform/platform.js';

interface CountRow {
  key: string;
  delivered: number;
  filtered: number;
  failed: number;
  not_textable: number;
  pending: number;
}

const COUNTS = `coalesce(sum(m.state = 'delivered'), 0) AS delivered, coalesce(sum(m.failure = 'filtered'), 0) AS filtered, coalesce(sum(m.state = 'failed' AND m.failure <> 'filtered'), 0) AS failed,
  coalesce(sum(m.failure = 'not-textable'), 0) AS not_textable, coalesce(sum(m.state IN ('sent','leaving')), 0) AS pending`;

/** Fixed levels (rules.md, reputation): a level counts when the interval's lower end passes it with three events behind. */
const LEVELS = { optOutWatch: 0.005, optOutStop: 0.03, notTextable: 0.03, filtered: 0.01 };

/** Delivery and reputation: grouped in the database, with intervals, over final receipts only. */
export class Watch {
  constructor(private readonly p: Platform) {}

  private scope(businessId: string, days: number, numberId: string | undefined): { sql: string; bind: unknown[] } {
    return {
      sql: `m.business_id = $1 AND m.direction = 'out' AND m.sent_at >= $2 AND ($3 = '' OR m.number_id = $3)`,
      bind: [businessId, this.p.clock.now() - days * 86_400_000, numberId ?? ''],
    };
  }

  async numbers(businessId: string, days: number): Promise<NumberWatch[]> {
    const { sql, bind } = this.scope(businessId, days, undefined);
    const rows = await this.p.db.all<CountRow & { e164: string; label: string }>(
      `SELECT n.id AS key, n.e164, n.label, ${COUNTS} FROM number n LEFT JOIN message m ON m.number_id = n.id AND ${sql} WHERE n.business_id = $1 AND n.state IN ('active','paused') GROUP BY n.id ORDER BY n.ordered_at`,
      bind,
    );
    const optOuts = await this.optOutsByNumber(businessId, days);
    const replies = new Map(
      (
        await this.p.db.all<{ k: string; n: number }>(
          `SELECT number_id AS k, count(*) AS n FROM message WHERE business_id = $1 AND direction = 'in' AND created_at >= $2 GROUP BY 1`,
          [businessId, bind[1]],
        )
      ).map((r) => [r.k, r.n]),
    );
    const out: NumberWatch[] = [];
    for (const r of rows) {
      const final = r.delivered + r.filtered + r.failed;
      const rates = {
        delivered: wilson(r.delivered, final),
        filtered: wilson(r.filtered, final),
        failed: wilson(r.failed, final),
        optOuts: wilson(Math.min(optOuts.get(r.key) ?? 0, r.delivered), r.delivered),
      };
      out.push({
        numberId: r.key,
        e164: r.e164,
        label: r.label,
        sent: final + r.pending,
        pending: r.pending,
        ...rates,
        replies: replies.get(r.key) ?? 0,
        medianSeconds: await this.median(r.key, bind[1] as number),
        ...level(rates, wilson(r.not_textable, final)),
      });
    }
    return out;
  }

  async reasons(
    businessId: string,
    days: number,
    numberId: string | undefined,
  ): Promise<{ key: string; final: number; count: number; rate: Rate | null }[]> {
    const { sql, bind } = this.scope(businessId, days, numberId);
    const final =
      (
        await this.p.db.one<{ n: number }>(
          `SELECT count(*) AS n FROM message m WHERE ${sql} AND m.state IN ('delivered','failed')`,
          bind,
        )
      )?.n ?? 0;
    const rows = await this.p.db.all<{ key: string; n: number }>(
      `SELECT m.failure_reason AS key, count(*) AS n FROM message m WHERE ${sql} AND m.state = 'failed' GROUP BY 1 ORDER BY 2 DESC LIMIT 12`,
      bind,
    );
    return rows.map((r) => ({ key: r.key, final, count: r.n, rate: wilson(r.n, final) }));
  }

  async carriers(
    businessId: string,
    days: number,
    numberId: string | undefined,
  ): Promise<{ carrier: string; delivered: Rate | null; filtered: Rate | null; failed: Rate | null }[]> {
    const { sql, bind } = this.scope(businessId, days, numberId);
    const rows = await this.p.db.all<CountRow>(
      `SELECT m.carrier AS key, ${COUNTS} FROM message m WHERE ${sql} AND m.carrier <> '' GROUP BY 1 ORDER BY count(*) DESC`,
      bind,
    );
    return rows.map((r) => {
      const final = r.delivered + r.filtered + r.failed;
      return {
        carrier: r.key,
        delivered: wilson(r.delivered, final),
        filtered: wilson(r.filtered, final),
        failed: wilson(r.failed, final),
      };
    });
  }

  async days(
    businessId: string,
    days: number,
    numberId: string | undefined,
  ): Promise<{ day: string; delivered: number; filtered: number; failed: number; optOuts: number }[]> {
    const { sql, bind } = this.scope(businessId, days, numberId);
    const rows = await this.p.db.all<CountRow>(
      `SELECT date(m.sent_at / 1000, 'unixepoch') AS key, ${COUNTS} FROM message m WHERE ${sql} GROUP BY 1 ORDER BY 1`,
      bind,
    );
    const outs = new Map(
      (
        await this.p.db.all<{ k: string; n: number }>(
          `SELECT date(happened_at / 1000, 'unixepoch') AS k, count(DISTINCT e164) AS n FROM consent_event WHERE business_id = $1 AND kind = 'revoked' AND happened_at >= $2
         AND ($3 = '' OR (SELECT m.number_id FROM message m WHERE m.business_id = consent_event.business_id AND m.e164 = consent_event.e164 AND m.direction = 'out' AND m.sent_at <= consent_event.happened_at ORDER BY m.sent_at DESC LIMIT 1) = $3) GROUP BY 1`,
          bind,
        )
      ).map((r) => [r.k, r.n]),
    );
    return rows.map((r) => ({
      day: r.key,
      delivered: r.delivered,
      filtered: r.filtered,
      failed: r.failed,
      optOuts: outs.get(r.key) ?? 0,
    }));
  }

  /** An opt-out is booked on the number that wrote to the person last. */
  private async optOutsByNumber(businessId: string, days: number): Promise<Map<string, number>> {
    const rows = await this.p.db.all<{ k: string | null; n: number }>(
      `SELECT (SELECT m.number_id FROM message m WHERE m.business_id = e.business_id AND m.e164 = e.e164 AND m.direction = 'out' AND m.sent_at <= e.happened_at ORDER BY m.sent_at DESC LIMIT 1) AS k, count(*) AS n
       FROM (SELECT business_id, e164, min(happened_at) AS happened_at FROM consent_event WHERE business_id = $1 AND kind = 'revoked' AND happened_at >= $2 GROUP BY e164) e GROUP BY 1`,
      [businessId, this.p.clock.now() - days * 86_400_000],
    );
    return new Map(rows.flatMap((r) => (r.k === null ? [] : [[r.k, r.n] as const])));
  }

  private async median(numberId: string, since: number): Promise<number | null> {
    const row = await this.p.db.one<{ s: number }>(
      `SELECT (final_at - sent_at) / 1000.0 AS s FROM message WHERE number_id = $1 AND state = 'delivered' AND sent_at >= $2 ORDER BY 1 LIMIT 1 OFFSET (SELECT count(*) / 2 FROM message WHERE number_id = $1 AND state = 'delivered' AND sent_at >= $2)`,
      [numberId, since],
    );
    return row ? Math.round(row.s * 10) / 10 : null;
  }
}

function level(
  r: { filtered: Rate | null; optOuts: Rate | null },
  notTextable: Rate | null,
): Pick<NumberWatch, 'level' | 'because'> {
  if (reachesLevel(r.optOuts, LEVELS.optOutStop)) return { level: 'stop and look', because: 'opt-outs above 3%' };
  const because = [
    ...(reachesLevel(r.optOuts, LEVELS.optOutWatch) ? ['opt-outs above 0.5%'] : []),
    ...(reachesLevel(r.filtered, LEVELS.filtered) ? ['filtered above 1%'] : []),
    ...(reachesLevel(notTextable, LEVELS.notTextable) ? ['texts to numbers that cannot be texted above 3%'] : []),
  ];
  return because.length > 0 ? { level: 'watch', because: because.join(', ') } : { level: 'quiet', because: '' };
}
