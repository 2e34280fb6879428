import { createHash } from 'node:crypto';
import type { OutsideStore } from './store.js';

/** Whoever moves the clock has an answer after so long, milliseconds of wall time. */
const ANSWER_WITHIN_MS = 2_000;

/** Carries out something that was scheduled; runs inside a transaction. */
export type DueHandler = (body: never, at: number) => Promise<void>;

/** What each thing that falls due is, in words. */
const WHAT_COMES: Readonly<Record<string, string>> = {
  'account.look': 'the provider decides on an account',
  account: 'the provider decides on an account',
  assignment: 'the networks confirm a number',
  brand: 'the registrar answers on a brand',
  'brand.appeal': 'the registrar answers an objection',
  'brand.ask': 'the registrar asks an owner',
  'brand.lapse': 'an owner’s time to answer ends',
  campaign: 'the registrar answers on a campaign',
  'campaign.answer': 'the registrar answers on a suspension',
  'campaign.renew': 'the registrar renews a campaign',
  country: 'a country answers',
  hosting: 'a hosted number is decided on',
  'hosting.end': 'texting is taken off a line',
  'order.fail': 'the exchange answers on an order',
  'order.fill': 'the exchange answers on an order',
  'port-out': 'a carrier asks for a number of yours',
  'port-out.leave': 'a number leaves',
  'port.complete': 'ported numbers land',
  'port.cut-over': 'ported numbers change over',
  'port.date': 'a losing carrier answers on a date',
  'port.return': 'ported numbers go back',
  'port.review': 'a losing carrier answers',
  sender: 'a registry answers on a sender ID',
  stage: 'a filing goes a step further',
  text: 'a text reaches a phone',
  'toll-free': 'a toll-free number is decided on',
  vetting: 'a vetting score comes',
};

/** What every stand-in shares: memory, the scenario clock, a seed, and things that fall due. */
export class Outside {
  private offset: number;
  private readonly handlers = new Map<string, DueHandler>();
  private working: Promise<unknown> = Promise.resolve();

  constructor(
    readonly store: OutsideStore,
    private readonly seed: string,
    offset: number,
    /** Segments a second the network takes from one number before it says its queue is full. */
    readonly queueLimit = 150,
    /** After so many people's STOP in a day the registrar may suspend a campaign; 0 for never. */
    readonly suspendAfter = 5,
  ) {
    this.offset = offset;
  }

  now(): number {
    return Date.now() + this.offset;
  }

  /** A number in [0, 1) that is the same at every start for the same words. */
  chance(...words: string[]): number {
    return (
      createHash('sha256')
        .update([this.seed, ...words].join('|'))
        .digest()
        .readUInt32BE(0) /
      2 ** 32
    );
  }

  onDue<T>(kind: string, handler: (body: T, at: number) => Promise<void>): void {
    this.handlers.set(kind, handler);
  }

  /**
   * Moves the scenario clock and works off, in order, what is due until then; where that is more than can be done while
   * somebody waits for an answer, `nextDue` is still in the past and the rest follows. Never backwards.
   */
  async setClock(now: number): Promise<void> {
    this.offset = Math.max(this.offset, now - Date.now());
    await this.store.run(
      `INSERT INTO setting (name, value) VALUES ('offset', $1) ON CONFLICT (name) DO UPDATE SET value = $1`,
      [String(this.offset)],
    );
    await this.work(ANSWER_WITHIN_MS);
  }

  async nextDue(): Promise<number | null> {
    return (await this.next())?.at ?? null;
  }

  /** What falls due next, and when. */
  async next(): Promise<{ at: number; what: string } | undefined> {
    const row = await this.store.one<{ at: number; kind: string }>('SELECT at, kind FROM due ORDER BY at, id LIMIT 1');
    return row && { at: row.at, what: WHAT_COMES[row.kind] ?? 'the outside answers' };
  }

  /** Works off what is due now; stops after about so long. */
  async work(forMs = Infinity): Promise<void> {
    const turn = this.working.then(() => this.workOff(Date.now() + forMs));
    this.working = turn.catch(() => undefined);
    await turn;
  }

  private async workOff(until: number): Promise<void> {
    for (;;) {
      const now = this.now();
      const count = await this.store.write(async () => {
        const rows = await this.store.all<{ id: number; at: number; kind: string; body: string }>(
          'SELECT * FROM due WHERE at <= $1 ORDER BY at, id LIMIT 500',
          [now],
        );
        for (const row of rows) {
          await this.handlers.get(row.kind)?.(JSON.parse(row.body) as never, row.at);
          await this.store.run('DELETE FROM due WHERE id = $1', [row.id]);
        }
        return rows.length;
      });
      if (count === 0 || Date.now() > until) return;
    }
  }
}

/** What a stand-in answers when it refuses. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    detail: string,
    readonly retryAfter?: number,
  ) {
    super(detail);
  }
}

export const MINUTE = 60_000;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;
