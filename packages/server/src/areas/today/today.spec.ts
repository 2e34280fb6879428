import { Office } from '../../testing/office.js';
import { heronPage } from '../../testing/opt-in-page.js';

describe('today', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const today = () => o.app.today.get(o.business);
  const matter = async (title: string | RegExp) =>
    (await today()).matters.find((m) => (typeof title === 'string' ? m.title === title : title.test(m.title)));
  const set = (sql: string) => o.app.platform.db.write((w) => w.run(`UPDATE business SET ${sql}`));

  it('says what the account’s state allows, and that texts are off', async () => {
    for (const [state, title, weight] of [
      ['provisional', 'Open the account', 'stop'],
      ['in review', 'The provider looks at the account', 'hold'],
      ['restricted', 'The account is restricted', 'stop'],
      ['suspended', 'The account is suspended', 'stop'],
    ] as const) {
      await set(`account_state = '${state}'`);
      expect((await matter(title))?.weight)
        .withContext(state)
        .toBe(weight);
    }
    await set(`account_state = 'open'`);
    expect(await matter(/account/)).toBeUndefined();
    await o.app.businesses.switchTexts(o.admin, o.business, true);
    expect((await matter('All texts are switched off'))?.link).toBe('settings/business');
  });

  it('warns of a balance that is short, and of one that is gone', async () => {
    expect(await matter(/balance/i)).toBeUndefined();
    await set('balance = 1000000');
    expect((await matter('The balance is 1.00'))?.weight).toBe('hold');
    await set('balance = 0');
    expect((await matter('The balance is 0.00'))?.weight).toBe('stop');
  });

  it('counts in the course what stands at each area, with the worst of it, and the stop before the hold', async () => {
    await set(`balance = 0, texts_off = TRUE`);
    const { matters, course } = await today();
    const mine = matters.filter((m) => m.area === 'settings');
    expect(course['settings']).toEqual({ open: mine.length, worst: 'stop' });
    expect(course['today']).toEqual({ open: matters.length, worst: 'stop' });
    const order = { stop: 0, hold: 1, note: 2 };
    const weights = matters.map((m) => order[m.weight]);
    expect(weights).toEqual([...weights].sort((a, b) => a - b));
  });

  it('shows a reply that waits to be read, and takes it away when it was', async () => {
    await o.contact('+12125550123', ['informational', 'promotional']);
    await o.text('+12125550123', 'stop sending me offers');
    const { items } = await o.app.reviews.list(o.business);
    expect(items.length).toBe(1);
    expect((await today()).course['consent']?.open).toBeGreaterThan(0);
    await o.app.replies.decide(o.admin, o.business, items[0]?.id ?? '', 'offers');
    expect((await today()).course['consent']?.open ?? 0).toBe(0);
  });

  it('shows nothing of another business', async () => {
    const other = await o.app.platform.db.write((w) =>
      o.app.businesses.add(w, o.admin, { legalName: 'Alder Quay Club', nameLine: 'Alder Quay', form: 'non-profit' }),
    );
    await o.contact('+12125550123', ['informational']);
    await o.text('+12125550123', 'please not so often');
    const theirs = (await o.app.today.get(other)).matters;
    expect(theirs.map((m) => m.area).filter((a) => a === 'consent' || a === 'inbox')).toEqual([]);
    expect(await o.app.today.find(other, '5550123')).toEqual([]);
  });

  it('finds ports, hosted numbers, sender IDs and opt-in pages by any part of them', async () => {
    const { ids } = await o.app.ports.begin(o.admin, o.business, '+12015550152', 'key-port');
    const hosted = await o.app.hosted.begin(o.admin, o.business, '+16095550125', 'key-hosted');
    const sender = await o.app.senderIds.add(o.admin, o.business, 'HERONLANE', 'Stop or reply: heron.example/stop');
    await o.app.pages.add(o.admin, o.business, heronPage(o.number, { slug: 'rye-club', title: 'The rye club' }));
    const found = async (q: string) =>
      (await o.app.today.find(o.business, q)).map((f) => `${f.kind} ${f.link.replace(/=pag_.*/, '=')}`);
    expect(await found('555-0152')).toContain(`port numbers/ports/${ids[0]}`);
    expect(await found('0125')).toContain(`hosted numbers/hosted?open=${hosted.id}`);
    expect(await found('heronl')).toEqual([`sender ID numbers/senders?open=${sender.id}`]);
    expect((await found('rye club'))[0]).toMatch(/^opt-in page consent\/pages\?open=/);
    expect((await found('/join/rye'))[0]).toMatch(/^opt-in page/);
  });

  it('finds contacts by name or digits, numbers, dispatches and campaigns', async () => {
    await o.contact('+12125550123', ['informational'], { firstName: 'Quilla' });
    await o.app.drafts.add(o.admin, o.business, await o.draft({ title: 'Rye week' }));
    const kinds = async (q: string) => (await o.app.today.find(o.business, q)).map((f) => f.kind);
    expect(await kinds('quilla')).toContain('contact');
    expect(await kinds('555-0123')).toContain('contact');
    expect(await kinds('201 555 0142')).toContain('number');
    expect(await kinds('rye week')).toContain('dispatch');
    expect(await kinds('zzz nothing')).toEqual([]);
    expect(await kinds('%'))
      .withContext('no pattern of a database')
      .toEqual([]);
  });
});
