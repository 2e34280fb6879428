/** Slack in each window: what leaves us evenly may reach a service a little closer together. */
const SLACK_MS = { least: 8, wider: 8, most: 80 };

/**
 * Lets calls through at a permitted pace, for the whole process: never more than so many in any window of a second, by
 * wall time, however late a timer is, and close to it while calls wait.
 */
export class Pacer {
  /** When the last calls were let through, the oldest first. */
  private readonly times: number[] = [];
  private last: Promise<void> = Promise.resolve();
  private slackMs = SLACK_MS.least;

  constructor(
    private readonly perSecond: number,
    private readonly now: () => number = Date.now,
    private readonly sleep: (ms: number) => Promise<void> = (ms) => new Promise((r) => setTimeout(r, ms)),
  ) {}

  /** Resolves when the next call may be made; turns come in the order they were asked for. */
  turn(): Promise<void> {
    const mine = this.last.then(() => this.wait());
    this.last = mine;
    return mine;
  }

  /** A service found a call too soon: calls keep wider for a while, narrowing by a millisecond a second. */
  tooSoon(): void {
    this.slackMs = Math.min(SLACK_MS.most, this.slackMs + SLACK_MS.wider);
  }

  private async wait(): Promise<void> {
    for (;;) {
      const oldest = this.times.length < this.perSecond ? -Infinity : (this.times[0] ?? -Infinity);
      const ahead = oldest + 1000 + this.slackMs - this.now();
      if (ahead <= 0) break;
      await this.sleep(ahead);
    }
    this.slackMs = Math.max(SLACK_MS.least, this.slackMs - 1 / this.perSecond);
    this.times.push(this.now());
    if (this.times.length > this.perSecond) this.times.shift();
  }
}
