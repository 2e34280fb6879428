import fc from 'fast-check';
import { Problem } from '../../platform/problem.js';
import { ACTS } from '../../testing/street/acts.js';
import { HAPPENINGS } from '../../testing/street/happenings.js';
import { PHONES, Street, type Phone } from '../../testing/street/street.js';

/** After these a moment that is past cannot be told in full: people who are gone, texts that seemed to be in the air. */
const FORGETFUL = new Set([
  'is deleted',
  'is erased',
  'is taken off its contact',
  'leaves again with the list that came last',
  'says no while texts leave',
  'the network answers once that it is down',
  'the network does not take one',
  'answers are lost',
  'our number is in no campaign for an hour',
]);

/** Each text that was judged: as of that moment it stands at the same post for the same reason. */
async function saysTheSame({ o, bystander: { wrongs } }: Street): Promise<void> {
  for (const e164 of PHONES)
    for (const { id } of (await o.app.asOf.ask(o.business, { e164 })).texts) {
      const { asked } = await o.app.asOf.ask(o.business, { e164, numberId: o.number, text: id });
      if (!asked?.kept) continue;
      // What a no calls back at once is asked for nothing else.
      if (asked.kept.reason === 'opted-out' && asked.then.result === 'stop') continue;
      if (asked.then.post !== asked.kept.post || asked.then.reason !== asked.kept.reason)
        wrongs.push(`as of then “${asked.text.words}” to ${e164} is ${asked.then.why}, and was ${asked.kept.why}`);
    }
}

type Step = readonly [act: string, whom: Phone | ''];
/** What every street ends with. */
const LAST: readonly Step[] = [
  ['the network takes texts again', ''],
  ['a notice goes out', ''],
  ['an offer goes out', ''],
];
const nameOf = ([act, whom]: Step): string => (whom === '' ? act : `${whom} ${act}`);
const steps = fc.array(
  fc.oneof(
    { weight: 3, arbitrary: fc.tuple(fc.constantFrom(...Object.keys(ACTS)), fc.constantFrom(...PHONES)) },
    { weight: 2, arbitrary: fc.tuple(fc.constantFrom(...Object.keys(HAPPENINGS)), fc.constant('' as const)) },
  ),
  { minLength: 6, maxLength: 25 },
);
/** So many streets at every change; more by LONG_GATE_STREETS. */
const STREETS = Number(process.env['LONG_GATE_STREETS'] ?? '10');
/** One street, as a failure prints it, told step by step. */
const one = process.env['LONG_GATE_STREET'];

describe('whatever happens in whatever order', () => {
  it('nothing leaves past a no, twice, at night or too often, and all that is kept adds up', async () => {
    await fc.assert(
      fc.asyncProperty(steps, async (all) => {
        const s = await Street.open();
        try {
          for (const step of [...all, ...LAST]) {
            const [act, whom] = step;
            if (one) console.log(nameOf(step), new Date(s.o.now).toISOString());
            const left = s.bystander.out.length;
            const done = whom === '' ? HAPPENINGS[act]?.(s) : ACTS[act]?.(s, whom);
            await done?.catch((error: unknown) => {
              // What is refused in words was not done.
              if (!(error instanceof Problem)) throw error;
              if (one) console.log(`  refused: ${error.message}`);
            });
            await s.notice();
            await s.o.settle();
            if (one)
              for (const x of s.bystander.out.slice(left))
                console.log(`  ${new Date(x.at).toISOString()} ${x.to}: ${x.text}`);
            if (s.bystander.wrongs.length > 0) break;
          }
          if (!all.some(([act]) => FORGETFUL.has(act))) await saysTheSame(s);
          const { app, business } = s.o;
          for (const [what, n] of Object.entries(await s.o.miscounted()))
            s.bystander.wrongs.push(`${what}: ${n} differ from the rows`);
          const { ok, differing } = await app.ledger.rebuild(business, false);
          if (!ok) s.bystander.wrongs.push(`${differing} states differ from the ledger`);
          if (s.bystander.wrongs.length > 0)
            throw new Error(`${s.bystander.wrongs.join('; ')} — after: ${JSON.stringify(all)}`);
        } finally {
          await s.o.close();
        }
      }),
      one ? { examples: [[JSON.parse(one) as Step[]]], numRuns: 1 } : { numRuns: STREETS },
    );
  });
});
