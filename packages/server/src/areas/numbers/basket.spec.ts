import { GatewayRefused, type NumberWish } from '@long-gate/gateways';
import { OFFER, Office } from '../../testing/office.js';

const DAY_MS = 86_400_000;

describe('the basket', () => {
  let o: Office;
  const E164 = '+15515550101';
  const SECOND = '+15515550102';
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const basket = (actor = o.admin) => o.app.basket.basket(actor, o.business);
  const order = (key = 'k') => o.app.basket.order(o.admin, o.business, key);
  const set = (sql: string) => o.app.platform.db.write((w) => w.run(sql));

  it('refuses to buy without money, an open account or a confirmed mobile, says what is missing and keeps the basket', async () => {
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = 2000000'));
    await expectAsync(o.buy([E164], 'k')).toBeRejectedWithError(/0\.30 is missing.*stays in the basket/);
    const basket = await o.app.basket.basket(o.admin, o.business);
    expect([basket.items.length, basket.missing]).toEqual([1, 300_000]);
    await o.app.platform.db.write((w) => w.run(`UPDATE business SET account_state = 'in review'`));
    await expectAsync(o.app.basket.order(o.admin, o.business, 'k')).toBeRejectedWithError(/stays in the basket/);
    await o.app.platform.db.write((w) => w.run(`UPDATE business SET account_state = 'open'`));
    await o.app.businesses.topUp(o.admin, o.business, 5_000_000, 'more');
    await o.app.platform.db.write((w) => w.run(`UPDATE "user" SET mobile = ''`));
    await expectAsync(o.app.basket.order(o.admin, o.business, 'k')).toBeRejectedWithError(/Confirm your own mobile/);
    await o.app.ownMobile.set(o.admin, '+12015550191', o.business, '192.0.2.7', 'wish-1');
    await o.settle();
    const code = /\d{6}/.exec(o.outside.codes[0]?.text ?? '')?.[0] ?? '';
    expect(o.outside.codes[0]?.to).toBe('+12015550191');
    await expectAsync(o.app.ownMobile.confirm(o.admin, '000000')).toBeRejectedWithError(/not the code/);
    await o.app.ownMobile.confirm(o.admin, code);
    expect((await o.app.basket.order(o.admin, o.business, 'k')).numbers.length).toBe(1);
  });

  it('survives waiting for money: after the ten minutes a number is kept aside anew as it is ordered', async () => {
    await set('UPDATE business SET balance = 0');
    await expectAsync(o.buy([E164], 'k')).toBeRejectedWithError(/is missing/);
    const holds: string[] = [];
    o.outside.exchange.hold = (_key, e164) => Promise.resolve(void holds.push(e164));
    await o.later(2 * DAY_MS);
    const [item] = (await basket()).items;
    expect([item?.e164, (item?.heldUntil ?? 0) < o.now]).toEqual([E164, true]);
    await o.app.businesses.topUp(o.admin, o.business, 5_000_000, 'more');
    expect((await order()).numbers.length).toBe(1);
    expect(holds).toEqual([E164]);
  });

  it('asks no campaign of a toll-free number, but its own verification under a registered brand', async () => {
    o.outside.exchange.search = () =>
      Promise.resolve({ total: 1, offers: [{ ...OFFER, kind: 'toll-free', e164: '+18005550199' }] });
    await o.app.basket.put(o.admin, o.business, '+18005550199', 'toll-free');
    expect((await basket()).steps.map((s) => [s.title, s.link])).toEqual([
      ['The account is open.', 'settings/business'],
      ['The brand is registered.', 'registration/brand'],
      ['The toll-free number is verified for its use, in three to five days.', 'registration'],
    ]);
  });

  it('says which number somebody else bought meanwhile, orders nothing, and keeps the others', async () => {
    await set('UPDATE business SET balance = 0');
    await o.buy([E164, SECOND], 'k').catch(() => undefined);
    await o.app.businesses.topUp(o.admin, o.business, 50_000_000, 'more');
    await o.later(DAY_MS);
    o.outside.exchange.hold = (_key, e164) =>
      e164 === E164 ? Promise.reject(new GatewayRefused('Somebody else was faster.', 'taken')) : Promise.resolve();
    await expectAsync(order()).toBeRejectedWithError(/551-555-0101 was sold to somebody else/);
    expect((await basket()).items.map((i) => i.e164)).toEqual([SECOND]);
    expect((await order()).numbers.map((n) => n.e164)).toEqual([SECOND]);
  });

  it('gives back what it still keeps aside, and nothing that may be somebody else’s by now', async () => {
    await set('UPDATE business SET balance = 0');
    await o.buy([E164, SECOND], 'k').catch(() => undefined);
    await o.app.basket.takeOut(o.admin, o.business, E164);
    await o.later(DAY_MS);
    await o.app.basket.takeOut(o.admin, o.business, SECOND);
    await o.settle();
    expect(o.outside.givenBack).toEqual([E164]);
  });

  it('tells a colleague’s choice and order from one’s own', async () => {
    await set('UPDATE business SET balance = 0');
    await o.buy([E164], 'k').catch(() => undefined);
    const other = await o.person('Odette', 'administrator');
    expect((await basket()).items[0]?.putBy).toBe('');
    expect((await basket(other)).items[0]?.putBy).toBe('Wren Holloway');
    await o.app.businesses.topUp(o.admin, o.business, 5_000_000, 'more');
    const [number] = (await order()).numbers;
    expect(number?.orderedBy).toEqual({ id: o.admin.id, name: 'Wren Holloway' });
  });

  it('holds what could never send: a sole proprietor’s campaign takes one number', async () => {
    await set(`UPDATE business SET form = 'sole proprietor'`);
    await expectAsync(o.buy([E164], 'k')).toBeRejectedWithError(/takes one number; you have it.*could never send/);
    const { takes, blocked } = await basket();
    expect(takes).toContain('one number');
    expect(blocked).toContain('put one back');
    await set(`UPDATE number SET state = 'released', campaign_id = NULL`);
    expect((await basket()).blocked).toBe('');
    expect((await order()).numbers.length).toBe(1);
  });

  it('says what the registered campaigns still take, and that more need another', async () => {
    const many = Array.from({ length: 48 }, (_, i) => `num_${i}`);
    for (const id of many)
      await set(
        `INSERT INTO number (id, business_id, e164, state, campaign_id, tie_state, ordered_at, active_at) VALUES ('${id}','${o.business}','+1973555${id.slice(4).padStart(4, '0')}','active','${o.campaign}','attached',0,0)`,
      );
    await set('UPDATE business SET balance = 0');
    await o.buy([E164], 'k').catch(() => undefined);
    const { takes, steps, blocked } = await basket();
    expect(takes).toContain('take 0 more');
    expect(steps.map((s) => s.title).join(' ')).toContain('1 of them needs another campaign');
    expect(blocked).withContext('another campaign can be registered').toBe('');
  });

  it('leases a short code only for a programme the networks would take', async () => {
    const code = { ...OFFER, kind: 'short code' as const, setup: 0, monthly: 1_000_000 };
    await expectAsync(o.buy(['04211'], 'k', code)).toBeRejectedWithError(/Say what the short code 04211 is for/);
    const programme = {
      name: 'Loaf alerts',
      what: 'One text when a loaf that people ordered is ready, at most one a day.',
      agreement: 'Customers tick a box at the counter that names us and says so.',
      sample: 'Your rye is ready. Come by until six.',
      help: 'heron.example/help',
    };
    await o.app.basket.setProgramme(o.admin, o.business, '04211', programme);
    await expectAsync(order()).toBeRejectedWithError(/does not name the business/);
    const sample = 'Heron Lane: your rye is ready. Reply STOP to end.';
    await o.app.basket.setProgramme(o.admin, o.business, '04211', { ...programme, sample });
    const [number] = (await order()).numbers;
    expect(number?.programme?.name).toBe('Loaf alerts');
    await o.hear({ kind: 'order.filled', key: number?.id ?? '', e164: '04211' });
    const active = await o.app.numbers.get(o.app.platform.db, o.business, number?.id ?? '');
    expect([active.clearance, active.nextStep.action]).toEqual(['cleared', 'none']);
    await expectAsync(o.app.ties.tie(o.admin, o.business, active.id, o.campaign)).toBeRejectedWithError(
      /in no campaign/,
    );
    await o.app.releases.release(o.admin, o.business, active.id, '4211');
    await o.later(7 * DAY_MS + 60_000);
    expect(o.outside.givenBack).toEqual(['04211']);
  });

  it('looks for nothing that is ours or in somebody’s draft, and counts neighbours by all that is asked', async () => {
    const wishes: NumberWish[] = [];
    o.outside.exchange.search = (wish) => Promise.resolve((wishes.push(wish), { total: 0, offers: [] }));
    o.outside.exchange.stock = (wish) => Promise.resolve({ '973': wish.pattern === '42' && wishes.push(wish) ? 3 : 0 });
    await o.app.ports.begin(o.admin, o.business, '+12015550152', 'key-port');
    const ask = { country: 'US', kind: 'local', where: '201', digits: '42', can: 'voice', count: 20 } as const;
    const found = await o.app.basket.search(o.business, ask);
    expect(wishes[0]?.except).toEqual(jasmine.arrayWithExactContents([o.ours, '+12015550152']));
    expect(wishes[1]).toEqual(jasmine.objectContaining({ pattern: '42', capabilities: ['voice'] }));
    expect([found.unit, found.neighbours.map((n) => n.code)]).toEqual(['miles', ['973']]);
    const miles = found.neighbours[0]?.distance ?? 0;
    await set(`UPDATE business SET state = 'ON'`);
    const canadian = await o.app.basket.search(o.business, ask);
    expect(canadian.unit).toBe('kilometres');
    expect(canadian.neighbours[0]?.distance ?? 0).toBeGreaterThan(miles);
  });

  it('finds towns', async () => {
    o.outside.exchange.search = (wish) =>
      Promise.resolve({ total: wish.areaCodes.includes('551') ? 7 : 0, offers: [] });
    const ask = { country: 'US', kind: 'local', where: 'Jersey City', digits: '', can: '', count: 20 } as const;
    expect(await o.app.basket.search(o.business, ask)).toEqual(
      jasmine.objectContaining({ place: 'Jersey City, NJ', total: 7 }),
    );
  });

  it('passes calls on from the first day, where a number was bought for that', async () => {
    const met: string[] = [];
    o.outside.network.meetCalls = (_key: string, e164: string, how: { forwardTo: string }) =>
      Promise.resolve(void met.push(`${e164} to ${how.forwardTo}`));
    o.outside.exchange.search = () => Promise.resolve({ total: 1, offers: [{ ...OFFER, e164: E164 }] });
    await o.app.basket.put(o.admin, o.business, E164, 'local', '+16095550110');
    expect((await basket()).items[0]?.forwardTo).toBe('+16095550110');
    const [number] = (await order()).numbers;
    await o.settle();
    expect(met).withContext('not before it is in service').toEqual([]);
    await o.hear({ kind: 'order.filled', key: number?.id ?? '', e164: E164 });
    await o.settle();
    expect(met).toEqual([`${E164} to +16095550110`]);
    const handling = await o.app.calls.get(o.app.platform.db, o.business, number?.id ?? '');
    expect([handling.way, handling.forwardTo]).toEqual(['forward', '+16095550110']);
  });

  it('knows the numbers of one’s own when asked what to do with one', async () => {
    const door = await o.door();
    const visitor = await door.visitor(o.admin.id);
    const asked = async (n: string) =>
      (await visitor.ask('GET', `/businesses/${o.business}/route?number=${encodeURIComponent(n)}`)).body['ours'] as {
        link: string;
      } | null;
    expect((await asked(o.ours))?.link).toBe(`numbers?open=${o.number}`);
    const { ids } = await o.app.ports.begin(o.admin, o.business, '+12015550152', 'key-port');
    expect((await asked('+12015550152'))?.link).toBe(`numbers/ports/${ids[0]}`);
    const hosted = await o.app.hosted.begin(o.admin, o.business, '+16095550125', 'key-hosted');
    expect((await asked('+16095550125'))?.link).toBe(`numbers/hosted?open=${hosted.id}`);
    expect(await asked('+16095550126')).toBeNull();
    await door.close();
  });
});
