import { allAt, httpGateways, type Gateways } from '@long-gate/gateways';
import { pino } from 'pino';
import { consentArea } from './areas/consent/area.js';
import { contactsArea } from './areas/contacts/area.js';
import { dispatchArea } from './areas/dispatch/area.js';
import { inboxArea } from './areas/inbox/area.js';
import { numbersArea } from './areas/numbers/area.js';
import { registrationArea } from './areas/registration/area.js';
import { settingsArea } from './areas/settings/area.js';
import { todayArea } from './areas/today/area.js';
import { watchArea } from './areas/watch/area.js';
import type { Config } from './config.js';
import { ScenarioClock } from './platform/clock.js';
import { Db } from './platform/db.js';
import { Engine } from './platform/engine.js';
import { prepareFolder } from './platform/folder.js';
import { FeedReader } from './platform/feed.js';
import { apiRouter, buildWeb, openRouter } from './platform/http/web.js';
import { Heads } from './platform/heads.js';
import { InFlight } from './platform/in-flight.js';
import { Jobs } from './platform/jobs.js';
import { KeptCounts } from './platform/kept-counts.js';
import { Limits } from './platform/limits.js';
import { Live } from './platform/live.js';
import { Matters } from './platform/matters.js';
import { Mailer } from './platform/mailer.js';
import { migrate } from './platform/migrate.js';
import { Objects } from './platform/objects.js';
import { Outbox } from './platform/outbox.js';
import type { Platform } from './platform/platform.js';
import { endThreads } from './platform/thread.js';
import { keepRules } from './platform/stood-store.js';
import { anySealed, keepCheck } from './platform/sealed-store.js';
import { hasKeyFile, KEY_FILE, Vault } from './platform/vault.js';

/**
 * How all areas are put together; specs and the demo's seed use the same.
 * @param outside other gateways than those of the configuration: a fake in specs.
 */
export async function buildApp(config: Config, outside?: Gateways) {
  await prepareFolder(config.dataDir);
  const db = await Db.open(config.database, config.durable);
  await migrate(db);
  const log = pino({ level: config.logLevel, base: undefined });
  const clock = await ScenarioClock.load(db);
  await keepRules(db, clock.now());
  const live = new Live();
  const gateways = outside ?? httpGateways({ ...allAt(config.outsideUrl, config.simulated), ...config.gateways });
  const vault = await openVault(db, config);
  const jobs = new Jobs(db, clock, live, log);
  const outbox = new Outbox(db, clock, log);
  const feed = new FeedReader(db, gateways, clock);
  const engine = new Engine(db, clock, jobs, outbox, feed, gateways, live, log);
  db.watchWrites(() => engine.wake());
  const p: Platform = {
    config,
    db,
    clock,
    jobs,
    outbox,
    feed,
    inFlight: new InFlight(),
    limits: new Limits(),
    live,
    matters: new Matters(),
    objects: new Objects(),
    keptCounts: new KeptCounts(),
    gateways,
    mailer: new Mailer(outbox, gateways, vault, clock, config.mailFrom, config.address),
    vault,
    heads: await Heads.open(config.headsDir),
    engine,
    log,
  };

  // Each area after those it asks something of; what an earlier one needs of a later one it is told.
  const router = apiRouter();
  const open = openRouter();
  const settings = settingsArea(p, router);
  const registration = registrationArea(p, router, settings);
  const contacts = await contactsArea(p, router, settings);
  const numbers = numbersArea(p, router, { ...settings, ...registration, ...contacts });
  const dispatch = dispatchArea(p, router, { ...settings, ...registration, ...contacts, ...numbers });
  const consent = await consentArea(p, router, open, { ...settings, ...contacts, ...numbers, ...dispatch });
  const inbox = inboxArea(p, router, { ...numbers, ...contacts, ...dispatch, ...consent });
  const watch = watchArea(p, router, { ...settings, ...numbers, ...consent });
  const today = todayArea(p, router);

  return {
    platform: p,
    koa: buildWeb(p, (token) => settings.sessions.byToken(token), router, open),
    ...settings,
    ...registration,
    ...contacts,
    ...numbers,
    ...dispatch,
    ...consent,
    ...inbox,
    ...watch,
    ...today,
    async close(): Promise<void> {
      await engine.stop();
      live.close();
      await endThreads();
      await db.close();
    },
  };
}

/** The key has to be the one of the data: a missing or other one stops the start, before anything is sealed under it. */
async function openVault(db: Db, config: Config): Promise<Vault> {
  const sealed = await anySealed(db);
  const missing = (what: string): Error =>
    new Error(
      `${what} Put the ${KEY_FILE} of this data back into ${config.dataDir}, or give its key in LONG_GATE_KEY; without it nothing that is sealed can be read.`,
    );
  if (sealed && !config.key && !(await hasKeyFile(config.dataDir)))
    throw missing('The database holds sealed data, and its key is missing.');
  const vault = await Vault.open(config.dataDir, config);
  if (sealed) {
    try {
      vault.unsealBytes(sealed);
    } catch {
      throw missing('The database was sealed under another key.');
    }
  }
  await db.write((w) => keepCheck(w, vault));
  return vault;
}

export type App = Awaited<ReturnType<typeof buildApp>>;
