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

/** Killed at any step of a port, the server goes on by itself: one submission, one landing, one charge. */
describe('a port under way', () => {
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
});
