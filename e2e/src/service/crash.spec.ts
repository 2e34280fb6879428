import { Person, Running, until } from '../running.js';

/** Nobody is on the way out any more; those never looked up stay held, for three days. */
const settled = (counts: Record<string, number>): boolean =>
  ['judging', 'waiting', 'leaving'].every((s) => (counts[s] ?? 0) === 0);

interface Sent {
  key: string;
  recipient: string;
  received: number;
}

/** Killed in the middle, the server goes on by itself: each text exactly once, and no text to one who left meanwhile. */
describe('a dispatch under way', () => {
  let running: Running;
  let person: Person;
  let business: string;

  beforeAll(async () => {
    running = await Running.start({ demo: true });
    person = await new Person(running.url).signIn('administrator');
    business = person.businesses[0]?.id ?? '';
  });
  afterAll(() => running.stop());

  const sentOf = async (id: string): Promise<Sent[]> =>
    (await fetch(`${running.outside}/network/texts?prefix=${id}-`)).json() as Promise<Sent[]>;

  async function begin(title: string, text: string): Promise<string> {
    const lists = await person.ok<{ items: { id: string; name: string }[] }>('GET', `/businesses/${business}/lists`);
    const numbers = await person.ok<{ items: { id: string; e164: string }[] }>(
      'GET',
      `/businesses/${business}/numbers`,
    );
    const d = await person.ok<{ id: string; version: number }>('POST', `/businesses/${business}/dispatches`, {
      title,
      text,
      purpose: 'informational',
      transactional: false,
      stopLine: true,
      numberId: numbers.items.find((n) => n.e164 === '+12015550142')?.id ?? null,
      audience: { include: [lists.items.find((l) => l.name === 'Commuters')?.id ?? ''], exclude: [] },
    });
    await person.ok('POST', `/businesses/${business}/dispatches/${d.id}/sending`, {}, { 'if-match': `"${d.version}"` });
    return d.id;
  }

  it('survives SIGKILL: it finishes by itself, and the network has each text exactly once', async () => {
    const id = await begin('Kill test', 'The 17:40 leaves from the north quay today.');
    for (let kill = 0; kill < 3; kill++) {
      const before = (await sentOf(id)).length;
      await until(async () => (await sentOf(id)).length > before + 25);
      await running.kill();
      await running.startServerAgain();
    }
    person = await new Person(running.url).signIn('administrator');
    const state = async (): Promise<{ state: string; counts: Record<string, number> }> =>
      person.ok('GET', `/businesses/${business}/dispatches/${id}`);
    await until(async () => settled((await state()).counts));
    const sent = await sentOf(id);
    expect(new Set(sent.map((t) => t.recipient)).size)
      .withContext('recipients')
      .toBe(sent.length);
    const { counts } = await state();
    const left = (counts['sent'] ?? 0) + (counts['delivered'] ?? 0) + (counts['failed'] ?? 0);
    expect(left).toBe(sent.length);
    expect(sent.length).toBeGreaterThan(300);
    // Charged once for each text that left.
    const money = await person.ok<{ items: { objectId: string; amount: number }[] }>(
      'GET',
      `/businesses/${business}/money?limit=50`,
    );
    expect(-(money.items.find((m) => m.objectId === id)?.amount ?? 0)).toBe(sent.length * 7000);
  });

  it('stops at once what has not left when a contact texts STOP, and a repeated wish to send sends nothing twice', async () => {
    const id = await begin('Stop test', 'The 18:10 is ten minutes late.');
    await until(async () => (await sentOf(id)).length > 10);
    const waiting = await person.ok<{ items: { e164: string; state: string }[] }>(
      'GET',
      `/businesses/${business}/dispatches/${id}/messages?state=waiting&limit=500`,
    );
    const quitter = waiting.items[waiting.items.length - 1]?.e164 ?? '';
    expect(quitter).not.toBe('');
    await fetch(`${running.outside}/handset/phones/${encodeURIComponent(quitter)}/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: '+12015550142', text: 'STOP' }),
    });
    const d = await person.ok<{ version: number }>('GET', `/businesses/${business}/dispatches/${id}`);
    await Promise.all(
      [1, 2, 3].map(() =>
        person.call('POST', `/businesses/${business}/dispatches/${id}/sending`, {}, { 'if-match': `"${d.version}"` }),
      ),
    );
    await until(
      async () =>
        settled(
          (await person.ok<{ counts: Record<string, number> }>('GET', `/businesses/${business}/dispatches/${id}`))
            .counts,
        ),
      90_000,
    );
    const sent = await sentOf(id);
    expect(sent.some((t) => t.recipient === quitter)).toBe(false);
    expect(new Set(sent.map((t) => t.recipient)).size).toBe(sent.length);
    const messages = await person.ok<{ items: { e164: string; state: string; post: number }[] }>(
      'GET',
      `/businesses/${business}/dispatches/${id}/messages?state=stopped&limit=500`,
    );
    expect(messages.items.find((m) => m.e164 === quitter)?.post).toBe(5);
    // The confirmation reached them, once.
    await person.jump('hour');
    const phone = (await (await fetch(`${running.outside}/handset/phones/${encodeURIComponent(quitter)}`)).json()) as {
      texts: { text: string; direction: string }[];
    };
    expect(phone.texts.filter((t) => t.direction === 'in' && t.text.includes('no more texts')).length).toBe(1);
  });

  it('holds everything while the off switch is on, and goes on when it is off again', async () => {
    await person.ok('PUT', `/businesses/${business}/texts`, { off: true });
    const id = await begin('Switch test', 'The 19:00 leaves on time.');
    await until(
      async () =>
        ((await person.ok<{ counts: Record<string, number> }>('GET', `/businesses/${business}/dispatches/${id}`))
          .counts['held'] ?? 0) > 100,
    );
    expect((await sentOf(id)).length).toBe(0);
    await person.ok('PUT', `/businesses/${business}/texts`, { off: false });
    await until(async () => (await sentOf(id)).length > 20);
    await person.ok('POST', `/businesses/${business}/dispatches/${id}/cancel`);
    const after = await person.ok<{ state: string; counts: Record<string, number> }>(
      'GET',
      `/businesses/${business}/dispatches/${id}`,
    );
    expect(after.state).toBe('cancelled');
    expect(after.counts['cancelled'] ?? 0).toBeGreaterThan(0);
  });
});
