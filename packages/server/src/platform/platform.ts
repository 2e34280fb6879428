import type { Gateways } from '@long-gate/gateways';
import type { Logger } from 'pino';
import type { Config } from '../config.js';
import type { ScenarioClock } from './clock.js';
import type { Db } from './db.js';
import type { Engine } from './engine.js';
import type { FeedReader } from './feed.js';
import type { Heads } from './heads.js';
import type { InFlight } from './in-flight.js';
import type { Jobs } from './jobs.js';
import type { KeptCounts } from './kept-counts.js';
import type { Limits } from './limits.js';
import type { Live } from './live.js';
import type { Matters } from './matters.js';
import type { Mailer } from './mailer.js';
import type { Objects } from './objects.js';
import type { Outbox } from './outbox.js';
import type { Vault } from './vault.js';

/** What every area stands on. */
export interface Platform {
  config: Config;
  db: Db;
  clock: ScenarioClock;
  jobs: Jobs;
  outbox: Outbox;
  feed: FeedReader;
  /** Texts that are on their way to the network. */
  inFlight: InFlight;
  limits: Limits;
  live: Live;
  /** What each area tells Today. */
  matters: Matters;
  /** What the trail's things are called, and what belongs to their history. */
  objects: Objects;
  /** What is counted as it changes, and can be counted anew. */
  keptCounts: KeptCounts;
  mailer: Mailer;
  gateways: Gateways;
  vault: Vault;
  heads: Heads;
  engine: Engine;
  log: Logger;
}
