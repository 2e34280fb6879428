import { Person, Running, until } from '../running.js';

interface Port {
  id: string;
  state: string;
  attempt: number;
  version: number;
  facts: Record<string, unknown>;
  acknowledged: string[];
  numbers: { e164: string; numberId: string | null }[];
}

/** Killed at any step of an order, a port or a hosted set-up, the server goes on by itself: each once, paid once. */
describe('numbers on their way', () => {
  const E164 = '+12015550152';
  let running: Running;
  let person: Person;
  let business: string;

  beforeAll(async () => {
    running = await Running.start({ demo: true });
    person = await new Person(running.url).signIn('administrator');
    business = person.businesses.find((b) => b.nameLine === 'Saltmarsh Ferries')?.id ?? '';
  });
  afterAll(() => running.stop());

  const port = async (): Promise<Port> =>
    (await person.ok<{ items: Port[] }>('GET', `/businesses/${business}/ports`)).items.find((p) =>
      p.numbers.some((n) => n.e164 === E164),
    ) as Port;
  const powerCut = async (): Promise<void> => {
    await running.kill();
    await running.startServerAgain();
    person = await new Person(running.url).signIn('administrator');
  };

  it('lands once whenever the power is cut', async () => {
    const p = await port();
    const paid = async (): Promise<number> => person.businesses.find((b) => b.id === business)?.balance ?? 0;
    await person.ok(
      'PUT',
      `/businesses/${business}/ports/${p.id}`,
      { facts: { ...p.facts, pin: '7144' }, acknowledged: p.acknowledged, billDated: '' },
      { 'if-match': `"${p.version}"` },
    );
    const before = await paid();
    // The answer to the click may be lost with the server: the same wish is made again after the cut.
    const wish = person.call('POST', `/businesses/${business}/ports/${p.id}/submission`).catch(() => undefined);
    await new Promise((r) => setTimeout(r, 15));
    await powerCut();
    await wish;
    await person.ok('POST', `/businesses/${business}/ports/${p.id}/submission`);
    expect((await port()).attempt).toBe(2);
    for (const state of ['accepted', 'done']) {
      for (let i = 0; i < 110 && (await port()).state !== state; i++) {
        await person.jump('hour');
        if (i % 9 === 3) await powerCut();
      }
      await until(async () => (await port()).state === state);
      await powerCut();
    }
    const numbers = await person.ok<{ items: { e164: string; state: string }[] }>(
      'GET',
      `/businesses/${business}/numbers`,
    );
    expect(numbers.items.filter((n) => n.e164 === E164).map((n) => n.state)).toEqual(['active']);
    expect((await port()).numbers.map((n) => n.numberId !== null)).toEqual([true]);
    const money = await person.ok<{ items: { what: string; objectId: string }[] }>(
      'GET',
      `/businesses/${business}/money?limit=200`,
    );
    expect(money.items.filter((m) => m.objectId === p.id).length)
      .withContext('one first month')
      .toBe(1);
    expect(await paid()).toBeLessThanOrEqual(before);
  });

  const paidFor = async (businessId: string, objectId: string): Promise<number> =>
    (
      await person.ok<{ items: { objectId: string; amount: number }[] }>(
        'GET',
        `/businesses/${businessId}/money?limit=300`,
      )
    ).items
      .filter((m) => m.objectId === objectId && m.amount < 0)
      .reduce((n, m) => n - m.amount, 0);

  it('fills an order once whenever the power is cut', async () => {
    const offers = await person.ok<{ offers: { e164: string; kind: string }[] }>(
      'GET',
      `/businesses/${business}/exchange?where=551`,
    );
    const [offer] = offers.offers;
    await person.ok('POST', `/businesses/${business}/basket`, { e164: offer?.e164, kind: offer?.kind });
    const key = { 'idempotency-key': 'one-order-for-all' };
    const wish = person.call('POST', `/businesses/${business}/orders`, { terms: true }, key).catch(() => undefined);
    await new Promise((r) => setTimeout(r, 12));
    await powerCut();
    await wish;
    const made = await person.ok<{ numbers: { id: string; e164: string }[] }>(
      'POST',
      `/businesses/${business}/orders`,
      { terms: true },
      key,
    );
    expect(made.numbers.map((n) => n.e164)).toEqual([offer?.e164 ?? '']);
    const id = made.numbers[0]?.id ?? '';
    await powerCut();
    await person.jump('hour');
    const state = async (): Promise<string> =>
      (await person.ok<{ state: string }>('GET', `/businesses/${business}/numbers/${id}`)).state;
    await until(async () => (await state()) !== 'ordered');
    expect(await state()).toBe('active');
    expect(await paidFor(business, id)).toBe(2_300_000);
  });

  it('sets a hosted number up once whenever the power is cut', async () => {
    const library = person.businesses.find((b) => b.nameLine === 'Northbank Seeds')?.id ?? '';
    type Hosted = { id: string; e164: string; state: string; numberId: string | null };
    const hosted = async (): Promise<Hosted> =>
      (await person.ok<{ items: Hosted[] }>('GET', `/businesses/${library}/hosted`)).items.find(
        (h) => h.e164 === '+16095550125',
      ) as Hosted;
    const at = `/businesses/${library}/hosted/${(await hosted()).id}`;
    const link = await person.ok<{ path: string }>('POST', `${at}/signing-link`);
    await person.ok('POST', `/public/letters/${link.path.slice(6)}`, { name: 'Bram Oakenshaw', agreed: true });
    await person.ok('POST', `${at}/call`);
    await powerCut();
    const code = async (): Promise<string> =>
      (
        (await (await fetch(`${running.outside}/handset/phones/${encodeURIComponent('+16095550125')}`)).json()) as {
          texts: { text: string }[];
        }
      ).texts
        .map((t) => /is ([\d ]+)\./.exec(t.text)?.[1] ?? '')
        .join('|');
    await until(async () => (await code()) !== '');
    expect((await code()).split('|').length)
      .withContext('called once')
      .toBe(1);
    await person.ok('POST', `${at}/code`, { code: await code() });
    const wish = person.call('POST', `${at}/submission`).catch(() => undefined);
    await new Promise((r) => setTimeout(r, 12));
    await powerCut();
    await wish;
    await person.ok('POST', `${at}/submission`);
    for (let i = 0; i < 5 && (await hosted()).state !== 'on'; i++) {
      await person.jump('day');
      await powerCut();
    }
    await until(async () => (await hosted()).state === 'on');
    const h = await hosted();
    const numbers = await person.ok<{ items: { e164: string; state: string }[] }>(
      'GET',
      `/businesses/${library}/numbers`,
    );
    expect(numbers.items.filter((n) => n.e164 === h.e164).map((n) => n.state)).toEqual(['active']);
    expect(await paidFor(library, h.id)).toBe(900_000 + 7_000);
  });
});
