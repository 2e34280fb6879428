import { GatewayDown, type Gateways } from '@long-gate/gateways';
import type { Logger } from 'pino';
import type { ScenarioClock } from './clock.js';
import type { Db } from './db.js';
import type { FeedReader } from './feed.js';
import type { Jobs, Lane } from './jobs.js';
import type { Live } from './live.js';
import type { Outbox } from './outbox.js';

/** A wheel with nothing to do is turned again when something was written, when something is due, and this often anyway. */
const LOOK_AGAIN_MS = 5_000;
/** Rest of a wheel after something failed, and between two looks however often it is woken. */
const TICK_MS = 120;
const LEAST_MS = 15;
/** So long the outside may keep us waiting for something to tell. */
const WAIT_MS = 25_000;
/** A jump goes at least this far at each step, so that paced work is worked off a second at a time. */
const STEP_MS = 1000;

/** Something that is turned as long as it has work: handing texts over, for one. */
export interface Wheel {
  /** Works off what is due; how much it was, 0 for nothing. */
  work(): Promise<number>;
  /** Called once, before anything turns: takes back what was in hand at a crash. */
  takeBack?(): Promise<void>;
  /** When it has something to do next, scenario time; null for never. */
  nextDue(): Promise<number | null>;
  /** What it rests when there was nothing to do, milliseconds of wall time. */
  restMs: number;
  /** Its work comes free as time passes, bit by bit: each step of a jump gives it one turn, not as many as it takes. */
  paced?: boolean;
}

/** Turns the wheels: reads the feed, works jobs, the outbox and what areas add, and moves the scenario clock. */
export class Engine {
  private readonly wheels: Wheel[] = [];
  private stopped = false;
  private jumping: Promise<void> | null = null;
  private loop: Promise<unknown> = Promise.resolve();
  private readonly sleepers = new Set<() => void>();
  private readonly ending = new AbortController();
  /** Goes up with every write. */
  private writes = 0;
  /** Wheels with something in hand: a jump begins only when none has. */
  private working = 0;
  outsideDown = false;
  /** How far the clock went at the last step of a jump, milliseconds, at most a second; 0 while it just runs. */
  stride = 0;

  constructor(
    private readonly db: Db,
    private readonly clock: ScenarioClock,
    private readonly jobs: Jobs,
    private readonly outbox: Outbox,
    private readonly feed: FeedReader,
    private readonly gateways: Gateways,
    private readonly live: Live,
    private readonly log: Logger,
  ) {}

  /** Adds a wheel; before the start. Each turns by itself, so that none waits for another. */
  add(wheel: Wheel): void {
    this.wheels.push(wheel);
  }

  async start(): Promise<void> {
    await this.jobs.takeBack();
    for (const wheel of this.wheels) await wheel.takeBack?.();
    await this.gateways.simulation?.setClock(this.clock.now()).catch(() => undefined);
    const isAwaited = (): boolean => this.stopped || this.jumping !== null;
    const jobs = (lane: Lane) => (): Promise<boolean> => this.jobs.workOne({ lane, isAwaited });
    const until =
      (x: { nextDue(): Promise<number | null> }, leastMs = LEAST_MS) =>
      () =>
        this.untilDue(x, leastMs);
    // Two wheels for jobs and two for long ones (lookups at their pace), so that these do not keep the others waiting.
    this.loop = Promise.all([
      this.wheel(
        () => this.readFeed(),
        () => this.untilTold(),
      ),
      ...(['short', 'short', 'long', 'long'] as const).map((lane) =>
        this.wheel(jobs(lane), until({ nextDue: () => this.jobs.nextDue(lane) })),
      ),
      this.wheel(() => this.outbox.work(), until(this.outbox)),
      ...this.wheels.map((x) => this.wheel(() => x.work(), until(x, x.restMs))),
    ]);
  }

  /** Something was written: wheels that rest look whether it gives them work. */
  wake(): void {
    this.writes++;
    for (const wake of [...this.sleepers]) wake();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.ending.abort();
    this.wake();
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
        this.stride = 0;
        this.wake();
        this.live.tell({ businessId: '', topic: 'clock' });
      });
  }

  /** Waits for a jump under way. */
  async settled(): Promise<void> {
    await this.jumping;
  }

  /** Works until nothing more is due at the present moment. */
  async drain(): Promise<void> {
    await this.drainOf(() => true);
  }

  /** In a jump: a dispatch under way would keep coming free for as long as it lasts, however short the jump. */
  private async drainOnTheWay(): Promise<void> {
    await this.drainOf((wheel) => wheel.paced !== true);
  }

  /** @param again whether work that this wheel had is a reason to look once more. */
  private async drainOf(again: (wheel: Wheel) => boolean): Promise<void> {
    for (let i = 0; i < 10_000 && !this.stopped; i++) {
      const worked = await this.round(again);
      if (!worked) return;
    }
  }

  private async round(again: (wheel: Wheel) => boolean): Promise<boolean> {
    let worked = (await this.unlessDown(() => this.readFeed())) > 0;
    worked = (await this.jobs.workOne({ isAwaited: () => this.stopped })) || worked;
    for (const wheel of this.wheels)
      worked = ((await this.unlessDown(() => wheel.work())) > 0 && again(wheel)) || worked;
    return (await this.outbox.work()) > 0 || worked;
  }

  private async unlessDown(work: () => Promise<number>): Promise<number> {
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof GatewayDown)) throw error;
      this.outsideDown = true;
      return 0;
    }
  }

  /** One wheel: works as long as there is something to do, then rests. Stands still during a jump. */
  private async wheel(work: () => Promise<boolean | number>, rest: () => Promise<void>): Promise<void> {
    while (!this.stopped) {
      try {
        if (this.jumping) await this.sleep(TICK_MS);
        else if (Number(await this.inHand(work)) === 0 && !this.stopped) await rest();
      } catch (error) {
        if (error instanceof GatewayDown) this.outsideDown = true;
        else this.log.error({ message: (error as Error).message }, 'engine');
        if (!this.stopped) await this.sleep(TICK_MS);
      }
    }
  }

  /** Rests until something is due or written. */
  private async untilDue(x: { nextDue(): Promise<number | null> }, leastMs: number): Promise<void> {
    const seen = this.writes;
    const due = (await x.nextDue()) ?? Infinity;
    // However much is written, it is not looked more often than so.
    await this.sleep(leastMs, false);
    if (this.writes === seen && !this.stopped)
      await this.sleep(Math.max(0, Math.min(LOOK_AGAIN_MS, due - this.clock.now())));
  }

  /** Rests until the outside has something to tell; one that answers at once all the same is asked every tick. */
  private async untilTold(): Promise<void> {
    const at = Date.now();
    await this.gateways.feed.wait(await this.feed.place(this.db), WAIT_MS, this.ending.signal);
    if (Date.now() - at < TICK_MS && !this.stopped) await this.sleep(TICK_MS, false);
  }

  /** @param wakes whether a write ends it early. */
  private async sleep(ms: number, wakes = true): Promise<void> {
    await new Promise<void>((resolve) => {
      const timer = setTimeout(done, ms);
      const { sleepers } = this;
      function done(): void {
        clearTimeout(timer);
        sleepers.delete(done);
        resolve();
      }
      if (wakes) sleepers.add(done);
    });
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

  /** What comes next, here or outside, and when; null where nothing does. @param said whether what it is is asked for. */
  async next(said = true): Promise<{ at: number; what: string } | null> {
    const { simulation } = this.gateways;
    const [outside, job, ...leaving] = await Promise.all([
      simulation?.setClock(this.clock.now()),
      this.jobs.nextDue(),
      ...[this.outbox, ...this.wheels].map((x) => x.nextDue()),
    ]);
    const soon = (a: number, b: number | null): number => Math.min(a, b ?? Infinity);
    const left = leaving.reduce<number>(soon, Infinity);
    const [ours, theirs] = [job ?? Infinity, outside?.nextDue ?? Infinity];
    const at = Math.min(ours, left, theirs);
    if (at === Infinity) return null;
    if (!said) return { at, what: '' };
    const what =
      at === theirs ? (outside?.nextWhat ?? '') : at === left ? 'something leaves' : await this.jobs.nextWhat();
    return { at, what };
  }

  private async jumpTo(wish: number | 'next'): Promise<void> {
    const simulation = this.gateways.simulation;
    if (!simulation) return;
    while (this.working > 0 && !this.stopped) await new Promise((r) => setTimeout(r, 5));
    await this.drainOnTheWay();
    const due = async (): Promise<number | null> => (await this.next(false))?.at ?? null;
    const target = wish === 'next' ? Math.max((await due()) ?? this.clock.now(), this.clock.now()) : wish;
    while (!this.stopped) {
      const next = await due();
      const step = Math.min(target, Math.max(next ?? target, this.clock.now() + STEP_MS));
      this.stride = Math.min(STEP_MS, Math.max(0, step - this.clock.now()));
      await this.clock.moveTo(step);
      // The outside may have more to do than it can in one answer.
      const at = this.clock.now();
      for (let more = true; more && !this.stopped;) {
        const { nextDue } = await simulation.setClock(this.clock.now());
        await this.drainOnTheWay();
        more = nextDue !== null && nextDue <= at;
      }
      if (this.clock.now() >= target) return;
    }
  }
}
