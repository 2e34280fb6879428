import { Door } from '../../../testing/door.js';
import { Office } from '../../../testing/office.js';
import { heronPage } from '../../../testing/opt-in-page.js';

const ADA = '+12125550123';
/** The smallest PNG there is. */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
);

describe('an opt-in page without a script', () => {
  let o: Office;
  let door: Door;
  let page: { id: string; version: number };
  const open = (rest = ''): Promise<Response> => fetch(`${door.url}/join/heron${rest}`, { redirect: 'manual' });
  const send = (fields: [string, string][], rest = ''): Promise<Response> =>
    fetch(`${door.url}/join/heron${rest}`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded', 'user-agent': 'a phone' },
      body: new URLSearchParams(fields),
    });
  const words = async (): Promise<string> => /name="words" value="(\w+)"/.exec(await (await open()).text())?.[1] ?? '';
  const joining = async (phone: string, more: [string, string][] = []): Promise<[string, string][]> => [
    ['wish', 'join'],
    ['words', await words()],
    ['phone', phone],
    ['purposes', 'informational'],
    ...more,
  ];
  const edit = async (over: Parameters<typeof heronPage>[1]): Promise<void> => {
    page = await o.app.pages.edit(o.admin, o.business, page.id, page.version, heronPage(o.number, over));
  };

  beforeEach(async () => {
    o = await Office.open();
    door = await Door.open(o.app);
    page = await o.app.pages.add(
      o.admin,
      o.business,
      heronPage(o.number, { thanks: 'A roll is on us.', thanksCode: 'ROLL-7' }),
    );
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  it('asks, is answered, and asks the handset for its YES', async () => {
    const answer = await send(await joining('(212) 555-0123', [['firstName', 'Ada']]));
    const html = await answer.text();
    expect([answer.status, html.includes('ROLL-7'), html.includes('on its way to +1 212-555-0123')]).toEqual([
      200,
      true,
      true,
    ]);
    await o.settle();
    expect(o.sentTo(ADA).map((t) => t.includes('reply YES'))).toEqual([true]);
    const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
    expect([event?.awaitsConfirmation, event?.evidence['agent']]).toEqual([true, 'a phone']);
    expect((await o.app.contacts.names(o.app.platform.db, o.business, [ADA])).get(ADA)?.name).toBe('Ada');
  });

  it('keeps what was filled in beside what is wrong with it, and nothing is recorded', async () => {
    await edit({ asks: { firstName: 'needed', lastName: 'no', email: 'asked' } });
    const answer = await send(await joining('12', [['email', 'nonsense']]));
    const html = await answer.text();
    expect(answer.status).toBe(422);
    expect(html).toContain('value="12" aria-invalid="true"');
    const second = await send(await joining(ADA, [['email', 'nonsense']]));
    const text = await second.text();
    expect(second.status).toBe(422);
    expect(text).toContain('id="firstName-fault">This is needed.');
    expect(text).toContain('id="email-fault">This is no e-mail address.');
    expect(text).toContain('value="informational" checked');
    expect(await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA)).toEqual([]);
  });

  it('has words that have changed read again and chosen anew', async () => {
    const sent = await joining(ADA);
    await edit({ purposes: [{ purpose: 'informational', label: 'Text me all you bake', frequency: 'daily' }] });
    const answer = await send(sent);
    const html = await answer.text();
    expect(answer.status).toBe(409);
    expect(html).toContain('The words of this page have changed.');
    expect(html).toContain('Text me all you bake');
    expect(html).not.toContain(' checked');
    expect(await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA)).toEqual([]);
  });

  it('takes nobody in while it is paused, lets them leave, and says so to who comes later', async () => {
    const sent = await joining(ADA);
    await o.contact(ADA, ['informational']);
    await edit({ published: false });
    expect(await (await open()).text()).toContain('Nobody can join here at the moment');
    expect((await send(sent)).status).toBe(409);
    expect(
      (
        await send([
          ['wish', 'leave'],
          ['phone', ADA],
        ])
      ).status,
    ).toBe(200);
    expect((await o.state(ADA)).informational).toBe('revoked');
  });

  it('takes nobody in while nobody could be asked for a YES: its number is gone, and Today says so', async () => {
    const sent = await joining(ADA);
    await o.contact(ADA, ['informational']);
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    expect(await (await open()).text()).toContain('Nobody can join here at the moment');
    expect((await send(sent)).status).toBe(409);
    const fault = (await o.app.today.get(o.business)).matters.find((m) => m.title.startsWith('Nobody can join on'));
    expect([fault?.title, fault?.link]).toEqual([
      'Nobody can join on “Texts from the bakery”',
      `consent/pages?open=${page.id}`,
    ]);
    const leaving: [string, string][] = [
      ['wish', 'leave'],
      ['phone', ADA],
    ];
    expect((await send(leaving)).status).toBe(200);
    await edit({ published: false, title: 'Closed' });
    expect((await o.app.today.get(o.business)).matters.some((m) => m.title.startsWith('Nobody can join on')))
      .withContext('it is paused on purpose now')
      .toBeFalse();
    await expectAsync(edit({ title: 'Open' })).toBeRejectedWithError(/Choose an active number/);
    await o.app.releases.takeBack(o.admin, o.business, o.number);
    await edit({ title: 'Open' });
    expect((await send(await joining(ADA))).status).toBe(200);
  });

  it('is not there before it was ever published, or where the address is wrong', async () => {
    await o.app.pages.add(o.admin, o.business, heronPage(o.number, { slug: 'egret', published: false }));
    for (const at of ['egret', 'nothing', '%3Cb%3E']) {
      const answer = await fetch(`${door.url}/join/${at}`);
      expect([answer.status, (await answer.text()).includes('This page is not here')])
        .withContext(at)
        .toEqual([404, true]);
    }
  });

  it('can be framed by the sites that are named and by no other, and keeps which one showed it', async () => {
    const frame = '?in=frame&at=' + encodeURIComponent('https://heron.example/shop');
    expect((await open(frame)).headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
    expect(await (await open('/form.js')).text()).not.toContain('ON_SITE');
    await edit({
      onSite: {
        sites: ['https://heron.example'],
        place: 'above it',
        devices: 'all',
        paths: ['/shop*'],
        afterSeconds: 5,
        afterDown: 0,
        againDays: 30,
      },
    });
    const framed = await open(frame);
    expect(framed.headers.get('content-security-policy')).toContain('frame-ancestors https://heron.example;');
    expect(framed.headers.get('x-frame-options')).toBeNull();
    expect((await open()).headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
    const script = await open('/form.js');
    expect(script.headers.get('cross-origin-resource-policy')).toBe('cross-origin');
    const text = await script.text();
    expect(text).toContain('"place":"above it"');
    expect(text.length).toBeLessThan(20_000);

    await send(await joining(ADA), frame);
    await send(await joining('(212) 555-0124'), '?in=frame&at=https://heron.example.evil.example/');
    const sites = async (e164: string) =>
      (await o.app.ledger.eventsOf(o.app.platform.db, o.business, e164)).map((e) => e.evidence['site']);
    expect(await sites(ADA)).toEqual(['https://heron.example/shop']);
    expect(await sites('+12125550124')).toEqual([undefined]);
  });

  it('is kept with its picture by the digest that the event names, also when the picture is taken off', async () => {
    await o.app.pages.keepPicture(o.admin, o.business, page.id, 'loaf.png', PNG);
    const html = await (await open()).text();
    const src = /<img class="picture" src="([^"]+)"/.exec(html)?.[1] ?? '';
    const picture = await fetch(`${door.url}${src}`);
    expect([picture.headers.get('content-type'), Buffer.from(await picture.arrayBuffer()).equals(PNG)]).toEqual([
      'image/png',
      true,
    ]);
    await send(await joining(ADA));
    await o.app.pages.dropPicture(o.admin, o.business, page.id);
    expect((await fetch(`${door.url}${src}`)).status).toBe(404);
    const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
    const kept = await o.app.platform.db.one<{ html: string }>('SELECT html FROM page_version WHERE sha256 = $1', [
      event?.evidence['pageSha256'],
    ]);
    expect(kept?.html).toContain(`data:image/png;base64,${PNG.toString('base64')}`);
    await expectAsync(
      o.app.pages.keepPicture(o.admin, o.business, page.id, 'big.png', Buffer.concat([PNG, Buffer.alloc(300_000)])),
    ).toBeRejectedWithError(/at most 300 kB/);
  });

  it('is not published with what nobody may agree to, and can be saved paused meanwhile', async () => {
    const purposes = [{ purpose: 'informational' as const, label: 'Text me 20% off bread', frequency: 'daily' }];
    await expectAsync(edit({ purposes })).toBeRejectedWithError(/cannot be published as it is/);
    await edit({ purposes, published: false });
    expect((await o.app.pages.list(o.business))[0]?.published).toBeFalse();
  });

  it('counts who saw it, began, agreed and confirmed, by week and by version of its words', async () => {
    const look = (step: string) =>
      fetch(`${door.url}/api/v1/public/pages/heron/looks`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ step }),
      });
    for (const step of ['seen', 'seen', 'begun']) expect((await look(step)).status).toBe(200);
    expect((await look('bought')).status).toBe(422);
    await send(await joining(ADA));
    await o.settle();
    await edit({ purposes: [{ purpose: 'informational', label: 'Text me all you bake', frequency: 'daily' }] });
    await look('seen');
    // What was agreed to in the old words is confirmed for these.
    await o.text(ADA, 'YES');
    const [shown] = await o.app.pages.list(o.business);
    expect(shown?.versions).toEqual([
      { pageVersion: 2, seen: 1, begun: 0, agreed: 0, confirmed: 0 },
      { pageVersion: 1, seen: 2, begun: 1, agreed: 1, confirmed: 1 },
    ]);
    expect(shown?.weeks.at(-1)).toEqual(jasmine.objectContaining({ seen: 3, begun: 1, agreed: 1, confirmed: 1 }));
    expect(await o.miscounted()).toEqual({});
  });

  it('asks in Spanish where it speaks Spanish, and understands the YES', async () => {
    await edit({
      language: 'es',
      purposes: [
        { purpose: 'informational', label: 'Envíenme avisos de mis pedidos', frequency: 'según haya pedidos' },
      ],
    });
    const html = await (await send(await joining(ADA))).text();
    expect(html).toContain('Mire su teléfono');
    await o.settle();
    expect(o.sentTo(ADA)).toEqual([jasmine.stringMatching(/responda YES para recibir avisos \(según haya pedidos\)/)]);
    const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
    expect(event?.disclosure).toContain('Acepto que Heron Lane Bakery LLC me envíe');
    await o.text(ADA, 'sí');
    expect((await o.state(ADA)).informational).toBe('granted');
  });

  it('has so many confirming texts sent to one area code a day and no more', async () => {
    const words_ = await words();
    const from = { ip: '192.0.2.9', agent: 'x' };
    const ask = (i: number, area = '212') =>
      o.app.publicPages.optIn(
        'heron',
        {
          phone: `+1${area}555${String(100 + (i % 100)).padStart(4, '0')}`,
          purposes: ['informational'],
          words: words_,
        },
        { ...from, ip: `192.0.${i % 250}.${Math.floor(i / 250)}` },
      );
    const limit = { act: 'opt-in area', who: `${o.business} +1212`, most: 500, withinMs: 86_400_000 };
    await o.app.platform.db.write(async (w) => {
      for (let i = 0; i < 500; i++) await o.app.platform.limits.note(w, [limit]);
    });
    await expectAsync(ask(1)).toBeRejectedWithError(/often enough today/);
    expect((await ask(2, '646')).shown).toBe('+1 646-555-0102');
    expect(
      (
        await send([
          ['wish', 'leave'],
          ['phone', ADA],
        ])
      ).status,
    )
      .withContext('leaving costs nobody a text')
      .toBe(200);
  });
});
