import { GatewayDown, type Gateways } from '@long-gate/gateways';
import type { Logger } from 'pino';
import type { ScenarioClock } from './clock.js';
import type { FeedReader } from './feed.js';
import type { Jobs } from './jobs.js';
import type { Live } from './live.js';
import type { Outbox } from './outbox.js';

const TICK_MS = 120;
/** A jump goes at least this far at each step, so that paced work is worked off a second at a time. */
const STEP_MS = 1000;

/** Turns the wheels: reads the feed, works jobs and the outbox, and moves the scenario clock. */
export class Engine {
  private stopped = false;
  private jumping: Promise<void> | null = null;
  private loop: Promise<unknown> = Promise.resolve();
  private readonly sleepers = new Set<() => void>();
  /** Wheels with something in hand: a jump begins only when none has. */
  private working = 0;
  outsideDown = false;

  constructor(
    private readonly clock: ScenarioClock,
    private readonly jobs: Jobs,
    private readonly outbox: Outbox,
    private readonly feed: FeedReader,
    private readonly gateways: Gateways,
    private readonly live: Live,
    private readonly log: Logger,
  ) {}

  async start(): Promise<void> {
    await this.jobs.takeBack();
    await this.gateways.simulation?.setClock(this.clock.now()).catch(() => undefined);
    const jobs = (): Promise<boolean> => this.jobs.workOne();
    // Two wheels for jobs, so that a long one (lookups at their pace) does not keep the others waiting.
    this.loop = Promise.all([
      this.wheel(() => this.readFeed()),
      this.wheel(jobs),
      this.wheel(jobs),
      this.wheel(() => this.outbox.work()),
    ]);
  }

  async stop(): Promise<void> {
    this.stopped = true;
    for (const wake of [...this.sleepers]) wake();
    await this.loop;
    await this.jumping;
  }

  /** True while the clock is being moved. */
  get moving(): boolean {
    return this.jumping !== null;
  }

  /**
   * Moves the scenario clock to `target`, or to the next thing due, working off everything on the way in order.
   * Returns at once; the `clock` topic tells when it is done.
   */
  jump(target: number | 'next'): void {
    this.jumping ??= this.jumpTo(target)
      .catch((error: unknown) => this.log.error({ message: (error as Error).message }, 'jump'))
      .finally(() => {
        this.jumping = null;
        this.live.tell({ businessId: '', topic: 'clock' });
      });
  }

  /** Waits for a jump under way. */
  async settled(): Promise<void> {
    await this.jumping;
  }

  /** Works until nothing more is due at the present moment. */
  async drain(): Promise<void> {
    for (let i = 0; i < 10_000 && !this.stopped; i++) {
      const worked = await this.round();
      if (!worked) return;
    }
  }

  private async round(): Promise<boolean> {
    let worked = false;
    try {
      worked = (await this.readFeed()) > 0;
    } catch (error) {
      if (!(error instanceof GatewayDown)) throw error;
      this.outsideDown = true;
    }
    worked = (await this.jobs.workOne()) || worked;
    return (await this.outbox.work()) > 0 || worked;
  }

  /** One wheel: works as long as there is something to do, then rests for a tick. Stands still during a jump. */
  private async wheel(work: () => Promise<boolean | number>): Promise<void> {
    while (!this.stopped) {
      let worked = false;
      try {
        if (!this.jumping) worked = Number(await this.inHand(work)) > 0;
        if (worked) continue;
      } catch (error) {
        if (error instanceof GatewayDown) this.outsideDown = true;
        else this.log.error({ message: (error as Error).message }, 'engine');
      }
      await new Promise<void>((resolve) => {
        const timer = setTimeout(done, TICK_MS);
        const sleepers = this.sleepers;
        function done(): void {
          clearTimeout(timer);
          sleepers.delete(done);
          resolve();
        }
        sleepers.add(done);
      });
    }
  }

  private async inHand<T>(work: () => Promise<T>): Promise<T> {
    this.working++;
    try {
      return await work();
    } finally {
      this.working--;
    }
  }

  private async readFeed(): Promise<number> {
    const count = await this.feed.work();
    this.outsideDown = false;
    return count;
  }

  private async jumpTo(wish: number | 'next'): Promise<void> {
    const simulation = this.gateways.simulation;
    if (!simulation) return;
    while (this.working > 0 && !this.stopped) await new Promise((r) => setTimeout(r, 5));
    await this.drain();
    const due = async (): Promise<number | null> => {
      const outside = (await simulation.setClock(this.clock.now())).nextDue;
      const all = [await this.jobs.nextDue(), await this.outbox.nextDue(), outside].filter(
        (x): x is number => x !== null,
      );
      return all.length > 0 ? Math.min(...all) : null;
    };
    const target = wish === 'next' ? Math.max((await due()) ?? this.clock.now(), this.clock.now()) : wish;
    while (!this.stopped) {
      const next = await due();
      const step = Math.min(target, Math.max(next ?? target, this.clock.now() + STEP_MS));
      await this.clock.moveTo(step);
      await simulation.setClock(this.clock.now());
      await this.drain();
      if (this.clock.now() >= target) return;
    }
  }
}
