import { atLeast, atMost, report, time } from '../measure.js';
import { number, person } from './people.js';
import { ACTOR, Meanwhile, type World } from './world.js';

/** The ledger: appending in lots, verifying, rebuilding, a page of it, and one wish to stop. */
export async function ledger(world: World): Promise<void> {
  const { app, business, n } = world;
  const { db } = app.platform;
  // As many as there are numbers: rebuilding looks at each number that has a state.
  const events = n;
  const agree = (of: string, from: number, upTo: number): Promise<unknown> =>
    db.write((w) =>
      app.ledger.append(
        w,
        of,
        Array.from({ length: upTo - from }, (_, k) => ({
          e164: number(from + k),
          purposes: ['informational', 'promotional'],
          kind: 'granted',
          how: 'web page',
          disclosure: 'Text me fare offers, two to four times a month. Reply HELP for help, STOP to end.',
          disclosureVersion: 'bench, version 1',
        })),
      ),
    );
  // The first lots of a process compile what they need: another business has them.
  const other = await db.write((w) =>
    app.businesses.add(w, ACTOR, { legalName: 'Warm LLC', nameLine: 'Warm', form: 'private company' }),
  );
  for (let i = 0; i < 5000; i += 1000) await agree(other, i, i + 1000);
  let at = performance.now();
  for (let i = 0; i < events; i += 1000) await agree(business, i, Math.min(i + 1000, events));
  const per = (ms: number): number => (events / ms) * 1000;
  atLeast(n, 'ledger: appending in lots of a thousand', per(performance.now() - at), 20_000, 'events a second');
  at = performance.now();
  const verdict = await app.ledger.verify(business);
  if (!verdict.ok) throw new Error(verdict.message);
  atLeast(n, 'ledger: verifying', per(performance.now() - at), 50_000, 'events a second');
  at = performance.now();
  await app.ledger.rebuild(business, true);
  atLeast(n, 'ledger: rebuilding the projection', per(performance.now() - at), 20_000, 'events a second');
  await claims(world);
  await evidence(world);
  const claimed = (await app.lists.all(db, business)).find((l) => l.name === 'Claimed')?.id ?? '';
  const today = new Date(app.platform.clock.now()).toISOString().slice(0, 10);
  for (const [name, q] of [
    ['first page', { limit: 100 }],
    ['part of a number that few have', { limit: 100, q: number(77).slice(-6) }],
    ['part of a number that all have', { limit: 100, q: number(77).slice(2, 5) }],
    ['a name', { limit: 100, q: `${person(77).firstName} ${person(77).lastName}` }],
    ['part of a name', { limit: 100, q: person(77).lastName.slice(0, 4) }],
    ['a purpose', { limit: 100, purpose: 'promotional' }],
    ['words that were shown', { limit: 100, words: 'bench, version 2' }],
    ['people of a list', { limit: 100, list: claimed }],
    ['a day', { limit: 100, from: today, to: today }],
    ['a day long ago, a kind', { limit: 100, to: '2020-01-01', kind: 'granted' }],
    [
      'a kind, a purpose, and words that were shown',
      { limit: 100, kind: 'claimed', purpose: 'promotional', words: 'bench, version 1' },
    ],
    ['a day, and a name', { limit: 100, from: today, to: today, q: person(77).lastName }],
    ['one number', { limit: 100, e164: number(77) }],
    ['by kind', { limit: 100, kind: 'revoked,granted' }],
  ] as const)
    atMost(n, `ledger: ${name}`, (await time(() => app.ledgerPages.page(business, q), 10)).p95, 50);
  atMost(n, 'ledger: which words were shown', (await time(() => app.ledgerPages.words(business), 10)).p95, 50);
  let i = 0;
  const stop = (): Promise<unknown> =>
    db.write((w) =>
      app.replies.read(w, {
        businessId: business,
        e164: number(500 + i++),
        numberId: '',
        messageId: `bench-${i}`,
        text: 'STOP',
        at: app.platform.clock.now(),
      }),
    );
  const at0 = performance.now();
  await stop();
  report({ contacts: n, name: 'a wish to stop, the first after a start', ours: performance.now() - at0, unit: 'ms' });
  atMost(n, 'a wish to stop, kept, projected and answered, 95 of 100', (await time(stop, 100)).p95, 20);
}

/** A list brought in of people who are known, with a claim of their consent: an event each, in the lots the product takes. */
async function claims(world: World): Promise<void> {
  const { app, business, n } = world;
  const many = Math.min(n, 50_000);
  const intake = await app.intakes.begin(ACTOR, business, {
    fileName: 'claims.csv',
    total: many,
    listName: 'Claimed',
    consentClaim: 'Agreed on paper at the counter, spring 2026.',
  });
  const rows = Array.from({ length: many }, (_, i) => ({
    row: i + 1,
    phone: number(i),
    ...person(i),
    stateCode: '',
    keep: true,
  }));
  for (let i = 0; i < many; i += 2000) await app.intakes.take(business, intake.id, rows.slice(i, i + 2000));
  const others = new Meanwhile(world);
  const at = performance.now();
  await app.intakes.store(ACTOR, business, intake.id);
  while ((await app.intakes.get(business, intake.id)).state !== 'stored') await app.platform.jobs.workOne();
  report({
    contacts: n,
    name: 'claims of consent brought in',
    ours: (many / (performance.now() - at)) * 1000,
    unit: 'events a second',
  });
  atMost(n, 'claims brought in: another’s small write meanwhile, 95 of 100', await others.end(), 100);
}

/** An evidence pack about a thousand numbers with five events each, from asking for it to its archive on disk. */
async function evidence(world: World): Promise<void> {
  const { app, business, n } = world;
  const numbers = Array.from({ length: 1000 }, (_, i) => number(i));
  for (let i = 0; i < 4; i++)
    await app.platform.db.write((w) =>
      app.ledger.append(
        w,
        business,
        numbers.map((e164) => ({
          e164,
          purposes: ['informational'],
          kind: 'granted',
          how: 'web page',
          disclosure: 'Text me news, as it happens. Reply HELP for help, STOP to end.',
          disclosureVersion: 'bench, version 2',
        })),
      ),
    );
  const wish = { asker: 'our own file' as const, who: '', reference: '', question: '', dueOn: null };
  const make = async (key: string): Promise<number> => {
    const at = performance.now();
    const { id } = await app.evidence.ask(ACTOR, business, { ...wish, numbers: numbers.join('\n') }, key);
    for (;;) {
      const [pack] = (await app.evidence.list(business, { limit: 10 })).items.find((x) => x.id === id)?.packs ?? [];
      if (pack?.state === 'ready') return performance.now() - at;
      if (pack?.state !== 'making') throw new Error(`The pack is ${pack?.state ?? 'not there'}.`);
      await app.platform.jobs.workOne();
    }
  };
  const first = await make('bench-evidence-1');
  report({ contacts: n, name: 'an evidence pack of 5,000 events, the first after a start', ours: first, unit: 'ms' });
  atMost(n, 'an evidence pack of 5,000 events', await make('bench-evidence-2'), 3000);
}
