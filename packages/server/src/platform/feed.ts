import { readEvent, type FeedEvent, type Gateways, type OutsideEvent } from '@long-gate/gateways';
import type { Clock } from './clock.js';
import type { Db, Reader, Writer } from './db.js';
import { Lot } from './lot.js';
import { setAside } from './set-aside-store.js';
import { keepSetting, setting } from './setting-store.js';

type Kind = OutsideEvent['kind'];
type EventOf<K extends Kind> = Extract<OutsideEvent, { kind: K }>;
export type FeedHandler<K extends Kind> = (w: Writer, event: EventOf<K>) => Promise<void>;
/** Takes several events that follow one another in the feed. */
export type LotHandler<K extends Kind> = (w: Writer, events: readonly EventOf<K>[]) => Promise<void>;

/** Where the place is kept. */
const PLACE = 'feed.seq';
/** At most so many events in one write. */
const MOST = 500;

/**
 * Reads what the outside tells, in order. The place in the feed is kept in the same transaction as the effects, so
 * that each event has its effect exactly once, whenever we crash. Events are taken in lots; a lot that fails is halved
 * until the bad one stands alone, and that one is set aside, so that it never keeps the next STOP waiting.
 */
export class FeedReader {
  private readonly handlers = new Map<string, LotHandler<never>>();
  private readonly lot = new Lot(MOST);
  private tail: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly db: Db,
    private readonly gateways: Gateways,
    private readonly clock: Clock,
  ) {}

  on<K extends Kind>(kind: K, handler: FeedHandler<K>): void {
    this.onLot([kind], async (w, events: readonly EventOf<K>[]) => {
      for (const event of events) await handler(w, event);
    });
  }

  /** For what comes by the thousand: events of these kinds that follow one another are handed over together. */
  onLot<K extends Kind>(kinds: readonly K[], handler: LotHandler<K>): void {
    for (const kind of kinds) this.handlers.set(kind, handler as unknown as LotHandler<never>);
  }

  /** The place up to which everything was read. */
  async place(r: Reader): Promise<number> {
    return Number((await setting(r, PLACE)) ?? 0);
  }

  /** Takes the next events; returns how many there were. @throws GatewayDown when the outside does not answer. */
  async work(): Promise<number> {
    const turn = this.tail.then(() => this.read());
    this.tail = turn.catch(() => undefined);
    return turn;
  }

  /** Reads until nothing is left; returns how many there were. @throws GatewayDown when the outside does not answer. */
  async dry(): Promise<number> {
    let all = 0;
    for (let n = await this.work(); n > 0; n = await this.work()) all += n;
    return all;
  }

  private async read(): Promise<number> {
    const { events } = await this.gateways.feed.after(await this.place(this.db), this.lot.size);
    if (events.length > 0) await this.take(events);
    return events.length;
  }

  private async take(events: readonly FeedEvent[]): Promise<void> {
    try {
      await this.lot.write(
        this.db,
        async (w) => {
          await this.carryOut(w, await this.unread(w, events));
          await this.keepPlace(w, events);
        },
        events.length,
      );
    } catch (error) {
      if (events.length > 1) {
        const half = Math.ceil(events.length / 2);
        await this.take(events.slice(0, half));
        await this.take(events.slice(half));
        return;
      }
      // Where even this cannot be written the fault is not the event's: the whole is tried again later.
      await this.db.write(async (w) => {
        const [bad] = await this.unread(w, events);
        if (bad)
          await setAside(w, this.clock, {
            lane: 'feed',
            key: `feed:${bad.seq}`,
            kind: typeof bad['kind'] === 'string' ? bad['kind'] : 'unknown',
            body: bad,
            cause: (error as Error).message,
          });
        await this.keepPlace(w, events);
      });
    }
  }

  /** Those after the place kept on disk: another reader, or a crash in between, may have taken some already. */
  private async unread(w: Writer, events: readonly FeedEvent[]): Promise<FeedEvent[]> {
    const place = await this.place(w);
    return events.filter((e) => e.seq > place);
  }

  private async keepPlace(w: Writer, events: readonly FeedEvent[]): Promise<void> {
    const reached = events[events.length - 1]?.seq ?? 0;
    if (reached > (await this.place(w))) await keepSetting(w, PLACE, String(reached));
  }

  /** Lets events have their effect, in order. @throws where one cannot be understood or its handler fails. */
  async carryOut(w: Writer, raw: readonly FeedEvent[]): Promise<void> {
    const lots: { handler: LotHandler<never>; events: OutsideEvent[] }[] = [];
    for (const one of raw) {
      const read = readEvent(one);
      if (!read.ok) throw new Error(read.why);
      // The outside's clock may be ahead of ours; what it tells has happened by now.
      const event = { ...read.event, at: Math.min(read.event.at, this.clock.now()) };
      const handler = this.handlers.get(event.kind);
      if (!handler) throw new Error(`nobody listens to “${event.kind}”`);
      const last = lots.at(-1);
      if (last?.handler === handler) last.events.push(event);
      else lots.push({ handler, events: [event] });
    }
    for (const { handler, events } of lots) await handler(w, events as never);
  }
}
