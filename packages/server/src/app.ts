import { allAt, httpGateways, type Gateways } from '@long-gate/gateways';
import { pino } from 'pino';
import { Contacts, contactsRoutes, Intakes, Lists, Lookups } from './areas/contacts/index.js';
import { confirmOptIns, consentRoutes, Ledger, Pages, Replies, Reviews, signDaily } from './areas/consent/index.js';
import { dispatchRoutes, Drafts, GatePreview, HandOver, Receipts, Sending, Texts } from './areas/dispatch/index.js';
import { IncomingCalls, Inbox, inboxRoutes } from './areas/inbox/index.js';
import {
  abroadRoutes,
  BasketDesk,
  Calls,
  Countries,
  Guard,
  Hosted,
  hostedRoutes,
  Landing,
  letterRoutes,
  NumberFees,
  Numbers,
  numbersRoutes,
  Orders,
  PortCalendar,
  PortDesk,
  PortFollowing,
  Releases,
  SenderIds,
  portingRoutes,
  Signing,
  Ties,
} from './areas/numbers/index.js';
import { Registration, registrationRoutes } from './areas/registration/index.js';
import {
  Account,
  Businesses,
  Forgotten,
  Invitations,
  MoneyBook,
  OwnMobile,
  People,
  peopleRoutes,
  SavedViews,
  SecondFactor,
  Sessions,
  SetAsideDesk,
  settingsRoutes,
  SignIn,
} from './areas/settings/index.js';
import { Today, todayRoutes } from './areas/today/index.js';
import { Watch, watchRoutes } from './areas/watch/index.js';
import type { Config } from './config.js';
import { ScenarioClock } from './platform/clock.js';
import { Db } from './platform/db.js';
import { Documents } from './platform/documents.js';
import { Engine } from './platform/engine.js';
import { prepareFolder } from './platform/folder.js';
import { FeedReader } from './platform/feed.js';
import { apiRouter, buildWeb } from './platform/http/web.js';
import { Heads } from './platform/heads.js';
import { InFlight } from './platform/in-flight.js';
import { Jobs } from './platform/jobs.js';
import { Limits } from './platform/limits.js';
import { Live } from './platform/live.js';
import { Mailer } from './platform/mailer.js';
import { migrate } from './platform/migrate.js';
import { Outbox } from './platform/outbox.js';
import type { Platform } from './platform/platform.js';
import { endThreads } from './platform/thread.js';
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
    gateways,
    mailer: new Mailer(outbox, gateways, vault, clock, config.mailFrom, config.address),
    vault,
    heads: await Heads.open(config.headsDir),
    engine,
    log,
  };

  const businesses = new Businesses(p);
  const account = new Account(p, businesses);
  const people = new People(p);
  const sessions = new Sessions(p);
  const signIn = new SignIn(p, sessions);
  const factor = new SecondFactor(p, signIn);
  const invitations = new Invitations(p, businesses, people, sessions, signIn);
  const forgotten = new Forgotten(p, sessions);
  const ownMobile = new OwnMobile(p, businesses);
  const registration: Registration = new Registration(p, businesses, (r, id) => numbers.inCampaign(r, id));
  const numbers = new Numbers(p, businesses, registration, people);
  const orders = new Orders(p, businesses, numbers);
  const ties = new Ties(p, numbers, registration);
  const basket = new BasketDesk(p, businesses, ownMobile, numbers, orders, registration);
  const views = new SavedViews(p);
  const aside = new SetAsideDesk(p);
  const calls = new Calls(p, businesses, numbers);
  const landing = new Landing(p, numbers, ties, calls);
  const numberFees = new NumberFees(p, businesses, numbers, landing);
  const money = new MoneyBook(p, businesses, async (r, id) => [
    ...(await numberFees.running(r, id)),
    ...(await registration.campaigns.runningFees(r, id)),
  ]);
  const contacts = new Contacts(p, businesses);
  const lists = new Lists(p);
  const lookups = new Lookups(p, contacts, businesses);
  const ledger = new Ledger(p, contacts);
  await signDaily(p, businesses, ledger);
  const intakes = new Intakes(p, lists, async (w, actor, businessId, e164s, claim, intakeId) => {
    await ledger.append(
      w,
      businessId,
      e164s
        .map((e164) => ({
          e164,
          purposes: ['informational', 'promotional'] as const,
          kind: 'claimed' as const,
          how: 'imported record' as const,
          recordedBy: actor.id,
          evidence: { claim, intake: intakeId },
        }))
        .map((e) => ({ ...e, purposes: [...e.purposes] })),
    );
  });
  const texts = new Texts(p, businesses, numbers, contacts, lists);
  const handOver = new HandOver(p, businesses, numbers, contacts, texts, new Receipts(p, contacts, texts));
  const documents = new Documents(p.vault, clock);
  const signing = new Signing(p, documents);
  const ports = new PortDesk(p, businesses, documents, signing, registration);
  const portFollowing = new PortFollowing(p, businesses, numbers, landing, (r, businessId, numberId, since) =>
    texts.seenOn(r, businessId, numberId, since),
  );
  const portCalendar = new PortCalendar(p, businesses, people);
  const guard = new Guard(p, businesses, people, numbers, landing);
  const releases = new Releases(p, numbers, orders, async (r, id) => ({
    ...(await drafts.using(r, id)),
    pages: await pages.using(r, id),
    contacts: await contacts.knowing(r, id),
  }));
  const countries = new Countries(p, businesses, contacts);
  const senderIds = new SenderIds(p, businesses, numbers, landing, countries);
  const hosted = new Hosted(p, businesses, landing, signing);
  const drafts = new Drafts(p);
  const preview = new GatePreview(p, businesses, numbers, texts);
  const sending = new Sending(p, drafts, preview, contacts, lookups, texts);
  const reviews = new Reviews(p, businesses, contacts);
  const replies = new Replies(p, businesses, numbers, texts, ledger, reviews);
  const pages = new Pages(p, businesses, contacts, ledger, replies, numbers);
  confirmOptIns(p, businesses, contacts, lookups, texts, ledger);
  const inbox = new Inbox(p, numbers, contacts, texts, replies);
  new IncomingCalls(p, numbers, calls, contacts, lists, lookups, texts, ledger, inbox);
  const watch = new Watch(p, numbers, ledger);
  const today = new Today(
    p,
    businesses,
    aside,
    money,
    numbers,
    portFollowing,
    hosted,
    guard,
    registration,
    contacts,
    reviews,
    drafts,
    inbox,
    watch,
  );
  const router = apiRouter();
  settingsRoutes(router, p, businesses, account, money, people, views, aside);
  peopleRoutes(router, p, businesses, { people, sessions, signIn, factor, invitations, forgotten, ownMobile });
  todayRoutes(router, today);
  numbersRoutes(router, p, numbers, basket, ties, releases, guard, calls);
  letterRoutes(router, signing);
  hostedRoutes(router, hosted);
  abroadRoutes(router, countries, senderIds);
  portingRoutes(router, ports, portFollowing, portCalendar);
  registrationRoutes(router, registration);
  contactsRoutes(router, p, contacts, lists, intakes, lookups);
  consentRoutes(router, ledger, pages, replies, reviews);
  dispatchRoutes(router, p, contacts, drafts, preview, sending);
  inboxRoutes(router, inbox);
  watchRoutes(router, watch);
  const koa = buildWeb(p, (token) => sessions.byToken(token), router);

  return {
    platform: p,
    koa,
    businesses,
    account,
    money,
    people,
    sessions,
    signIn,
    factor,
    invitations,
    forgotten,
    ownMobile,
    numbers,
    orders,
    basket,
    releases,
    guard,
    calls,
    ties,
    landing,
    ports,
    signing,
    hosted,
    countries,
    senderIds,
    portFollowing,
    portCalendar,
    registration,
    contacts,
    lists,
    intakes,
    lookups,
    ledger,
    pages,
    replies,
    reviews,
    texts,
    handOver,
    drafts,
    preview,
    sending,
    inbox,
    watch,
    today,
    aside,
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
