import type { Gateways, OutsideEvent } from '@long-gate/gateways';
import type { Db, Writer } from './db.js';

type Kind = OutsideEvent['kind'];
type EventOf<K extends Kind> = Extract<OutsideEvent, { kind: K }>;
export type FeedHandler<K extends Kind> = (w: Writer, event: EventOf<K>) => Promise<void>;

const BATCH = 200;

/**
 * Reads what the outside tells, in order. The place in the feed is kept in the same transaction as the effects, so
 * that each event has its effect exactly once, whenever we crash.
 */
export class FeedReader {
  private readonly handlers = new Map<string, FeedHandler<never>>();

  constructor(
    private readonly db: Db,
    private readonly gateways: Gateways,
  ) {}

  on<K extends Kind>(kind: K, handler: FeedHandler<K>): void {
    this.handlers.set(kind, handler as unknown as FeedHandler<never>);
  }

  /** Takes the next events; returns how many there were. @throws GatewayDown when the outside does not answer. */
  async work(): Promise<number> {
    const row = await this.db.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'feed.seq'`);
    const seen = Number(row?.value ?? 0);
    const { events } = await this.gateways.feed.after(seen, BATCH);
    if (events.length === 0) return 0;
    await this.db.write(async (w) => {
      const now = await w.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'feed.seq'`);
      if (Number(now?.value ?? 0) !== seen) return;
      for (const event of events) await this.handlers.get(event.kind)?.(w, event as never);
      const last = events[events.length - 1];
      await w.run(
        `INSERT INTO setting (name, value) VALUES ('feed.seq', $1) ON CONFLICT (name) DO UPDATE SET value = $1`,
        [String(last?.seq ?? seen)],
      );
    });
    return events.length;
  }
}
