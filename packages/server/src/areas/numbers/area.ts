import type Router from '@koa/router';
import { Documents } from '../../platform/documents.js';
import type { Platform } from '../../platform/platform.js';
import type { ContactsArea } from '../contacts/index.js';
import type { RegistrationArea } from '../registration/index.js';
import type { SettingsArea } from '../settings/index.js';
import { abroadRoutes, Countries, SenderIds } from './abroad/index.js';
import { BasketDesk } from './basket.js';
import { BulkChanges } from './bulk-changes.js';
import { Calls } from './call-handling.js';
import { Cards } from './card/cards.js';
import { CampaignRoom } from './campaign-room.js';
import { chargeNumbers } from './fees.js';
import { Guard } from './guard.js';
import { Hosted, hostedRoutes } from './hosted/index.js';
import { Landing } from './landing.js';
import { letterRoutes, Signing } from './letters/index.js';
import { tellNumbers } from './matters.js';
import { Numbers } from './numbers.js';
import { nameNumbers } from './object-names.js';
import { Orders } from './orders.js';
import { PortCalendar, PortDesk, PortFollowing, PortPapers, PortRunbook, portingRoutes } from './porting/index.js';
import { Releases } from './releases.js';
import { OwnWays } from './own-ways.js';
import { numbersRoutes } from './routes.js';
import { Ties } from './ties.js';

/** The numbers of a business: how they come, what they are tied to, how they are met, guarded and given up. */
export function numbersArea(
  p: Platform,
  router: Router,
  {
    businesses,
    people,
    ownMobile,
    fees,
    registration,
    dossiers,
    contacts,
  }: SettingsArea & RegistrationArea & ContactsArea,
) {
  const numbers = new Numbers(p, businesses, registration, people);
  const orders = new Orders(p, businesses, numbers, fees);
  const room = new CampaignRoom(businesses, registration);
  const ties = new Ties(p, numbers, registration, room);
  const basket = new BasketDesk(p, businesses, ownMobile, numbers, orders, registration, people, room);
  const calls = new Calls(p, businesses, numbers);
  const landing = new Landing(p, numbers, ties, calls, fees);
  chargeNumbers(p, businesses, fees, numbers, landing);
  const documents = new Documents(p.vault, p.clock);
  const signing = new Signing(p, documents);
  const ports = new PortDesk(p, businesses, documents, signing, registration);
  const portPapers = new PortPapers(p, businesses, documents, signing);
  const portFollowing = new PortFollowing(p, businesses, numbers, landing);
  const portRunbook = new PortRunbook(p);
  const portCalendar = new PortCalendar(p, businesses, people);
  const guard = new Guard(p, businesses, people, numbers, landing);
  const releases = new Releases(p, numbers, orders, fees, ties);
  const countries = new Countries(p, businesses, contacts);
  const senderIds = new SenderIds(p, businesses, numbers, landing, countries);
  const hosted = new Hosted(p, businesses, landing, signing);
  basket.leaveOut((r) => ports.onTheirWay(r));
  basket.leaveOut((r) => hosted.onTheirWay(r));
  dossiers.askNumbers(async (r, businessId) => ({
    numbers: (await numbers.list(r, businessId))
      .filter((n) => n.state === 'active')
      .map(({ kind, tieState, clearance }) => ({ kind, tie: tieState, cleared: clearance === 'cleared' })),
    senderIds: (await senderIds.list(businessId)).flatMap((s) => s.countries.map(({ state }) => ({ state }))),
  }));
  registration.tollFreeNumbers(async (r, businessId) =>
    (await numbers.list(r, businessId))
      .filter((n) => n.kind === 'toll-free' && n.state === 'active')
      .map(({ id, e164, label }) => ({ id, e164, label })),
  );
  registration.tiedNumbers((r, id) => numbers.inCampaign(r, id));
  nameNumbers(p);
  tellNumbers(p, numbers, ports, hosted, guard);
  const cards = new Cards(p, businesses, numbers, documents);
  const bulk = new BulkChanges(p, numbers, ties, registration);
  numbersRoutes(router, p, numbers, basket, ties, releases, guard, calls, bulk, cards, new OwnWays(p, ports, hosted));
  letterRoutes(router, signing);
  hostedRoutes(router, hosted);
  abroadRoutes(router, countries, senderIds);
  portingRoutes(router, { ports, portPapers, portFollowing, portRunbook, portCalendar });
  return {
    numbers,
    orders,
    ties,
    basket,
    bulk,
    calls,
    cards,
    landing,
    signing,
    ports,
    portPapers,
    portFollowing,
    portRunbook,
    portCalendar,
    guard,
    releases,
    countries,
    senderIds,
    hosted,
  };
}
export type NumbersArea = ReturnType<typeof numbersArea>;
