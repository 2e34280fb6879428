import { atLeast, atMost, report, time } from '../measure.js';
import { number } from './people.js';
import { Meanwhile, type World } from './world.js';

/** The ledger: appending in lots, verifying, rebuilding, a page of it, and one wish to stop. */
export async function ledger(world: World): Promise<void> {
  const { app, business, n } = world;
  const { db } = app.platform;
  // As many as there are numbers: rebuilding looks at each number that has a state.
  const events = n;
  const others = new Meanwhile(world);
  let at = performance.now();
  for (let i = 0; i < events; i += 1000)
    await db.write((w) =>
      app.ledger.append(
        w,
        business,
        Array.from({ length: Math.min(1000, events - i) }, (_, k) => ({
          e164: number(i + k),
          purposes: ['informational', 'promotional'] as const satisfies readonly string[],
          kind: 'granted' as const,
          how: 'web page' as const,
          disclosure: 'Text me fare offers, two to four times a month. Reply HELP for help, STOP to end.',
          disclosureVersion: 'bench, version 1',
        })).map((e) => ({ ...e, purposes: [...e.purposes] })),
      ),
    );
  const per = (ms: number): number => (events / ms) * 1000;
  atLeast(n, 'ledger: appending in lots of a thousand', per(performance.now() - at), 20_000, 'events a second');
  atMost(n, 'ledger: another’s small write meanwhile, 95 of 100', await others.end(), 100);
  at = performance.now();
  const verdict = await app.ledger.verify(business);
  if (!verdict.ok) throw new Error(verdict.message);
  atLeast(n, 'ledger: verifying', per(performance.now() - at), 50_000, 'events a second');
  at = performance.now();
  await app.ledger.rebuild(business, true);
  atLeast(n, 'ledger: rebuilding the projection', per(performance.now() - at), 20_000, 'events a second');
  for (const [name, q] of [
    ['first page', { limit: 100 }],
    ['one number', { limit: 100, e164: number(77) }],
    ['by kind', { limit: 100, kind: 'revoked,granted' }],
  ] as const)
    atMost(n, `ledger: ${name}`, (await time(() => app.ledger.page(business, q), 10)).p95, 50);
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
