import { GatewayBusy, GatewayDown, GatewayNotTaken } from '@long-gate/gateways';
import { DateTime } from 'luxon';
import { PHONES, ZONE, type Street } from './street.js';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

const HALF_AN_HOUR = 30 * MINUTE;
const tryLater = (): GatewayBusy => new GatewayBusy('Later.', HALF_AN_HOUR);

/** What concerns nobody by name. */
export const HAPPENINGS: Readonly<Record<string, (s: Street) => Promise<unknown>>> = {
  'a notice goes out': (s) => s.send('NOTICE'),
  'an offer goes out': (s) => s.send('OFFER'),
  'a notice goes out from our other number': (s) => s.send('NOTICE', s.second.id),
  'an offer goes out from our other number': (s) => s.send('OFFER', s.second.id),
  'a notice with a link to one’s own page goes out': (s) => s.send('NOTICE', s.o.number, ' Your texts: [ownPage]'),
  'four offers go out at once': async (s) => {
    const { o } = s;
    const drafts = [];
    for (let i = 0; i < 4; i++) drafts.push(await s.draft('OFFER'));
    for (const d of drafts) await o.app.sending.send(o.admin, o.business, d.id, d.version);
  },
  'a notice is to go out in two hours': async (s) => {
    const { o } = s;
    const d = await s.draft('NOTICE');
    const local = DateTime.fromMillis(o.now + 2 * HOUR, { zone: ZONE }).toFormat("yyyy-MM-dd'T'HH:mm");
    const { counts } = await o.app.preview.preview(o.business, await o.draft(d));
    const confirmed = { reach: counts.pass + counts.hold, cost: 50_000 };
    await o.app.scheduling.schedule(o.admin, o.business, d.id, d.version, { zone: 'business', local }, confirmed);
  },
  'whoever is not in is asked by letter': (s) => s.inviteAll(),
  'what is under way is cancelled': async (s) => {
    const { o } = s;
    const under = (await o.app.drafts.page(o.business, { limit: 100 })).items.find((d) => d.state === 'sending');
    if (under) await o.app.sending.cancel(o.admin, o.business, under.id);
  },
  'texts are switched off for an hour': async (s) => {
    await s.o.app.businesses.switchTexts(s.o.admin, s.o.business, true);
    s.bystander.off = true;
    await s.o.later(HOUR);
    s.bystander.off = false;
    await s.o.app.businesses.switchTexts(s.o.admin, s.o.business, false);
  },
  'our number is in no campaign for an hour': async (s) => {
    await s.o.app.ties.tie(s.o.admin, s.o.business, s.o.number, null);
    await s.o.later(HOUR);
    await s.o.app.platform.db.write((w) =>
      w.run(`UPDATE number SET campaign_id = $1, tie_state = 'attached' WHERE id = $2`, [s.o.campaign, s.o.number]),
    );
  },
  'our lists are taken away': async (s) => {
    const { app, admin, business } = s.o;
    for (const list of await app.suppression.list(business))
      await app.suppression.drop(admin, business, list.id, list.version);
    s.bystander.listed.clear();
  },
  'staff read what was written as no wish': async (s) => {
    for (const x of (await s.o.app.reviews.list(s.o.business)).items)
      await s.o.app.replies.decide(s.o.admin, s.o.business, x.id, 'no wish');
    for (const e164 of PHONES) s.bystander.of(e164).inDoubt = false;
  },
  'a minute goes by': (s) => s.o.later(MINUTE),
  'an hour goes by': (s) => s.o.later(HOUR),
  'nine hours go by': (s) => s.o.later(9 * HOUR),
  'four days go by': (s) => s.o.later(96 * HOUR),
  'staff read what was written as no to offers': async (s) => {
    for (const x of (await s.o.app.reviews.list(s.o.business)).items) {
      await s.o.app.replies.decide(s.o.admin, s.o.business, x.id, 'offers');
      await s.saysNo(x.e164, ['promotional']);
    }
    for (const e164 of PHONES) s.bystander.of(e164).inDoubt = false;
  },
  'the network answers once that it is down': (s) => {
    s.o.outside.nextSend = new GatewayDown('no answer');
    return Promise.resolve();
  },
  'the network does not take one': (s) => {
    s.o.outside.nextSend = new GatewayNotTaken('Not now.', 'unread');
    return Promise.resolve();
  },
  'the network is busy from now on': (s) => Promise.resolve(void (s.o.outside.always = tryLater)),
  'the network takes texts again': async (s) => {
    s.o.outside.always = null;
    await s.o.later(HALF_AN_HOUR);
  },
  'answers are lost': (s) => Promise.resolve(void (s.o.outside.lostLots = 1)),
  'the application ends and begins anew': (s) => s.o.again(),
  'a week goes by': (s) => s.o.later(7 * 24 * HOUR),
  'the ledger is folded anew': (s) => s.o.app.ledger.rebuild(s.o.business, true),
};
