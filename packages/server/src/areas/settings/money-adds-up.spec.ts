import fc from 'fast-check';
import { Problem } from '../../platform/problem.js';
import { ARRIVALS } from '../../testing/purse/arrivals.js';
import { Purse } from '../../testing/purse/purse.js';
import { SPENDING } from '../../testing/purse/spending.js';

const ACTS = { ...SPENDING, ...ARRIVALS };
const steps = fc.array(fc.constantFrom(...Object.keys(ACTS)), { minLength: 8, maxLength: 40 });
/** So many at every change; more by LONG_GATE_PURSES. */
const PURSES = Number(process.env['LONG_GATE_PURSES'] ?? '6');
/** One, as a failure prints it, told step by step. */
const one = process.env['LONG_GATE_PURSE'];

describe('money, whatever it is spent on in whatever order', () => {
  it('adds up: nothing is paid twice or not at all, no balance is below nothing, and what a statement said stays', async () => {
    await fc.assert(
      fc.asyncProperty(steps, async (all) => {
        const p = await Purse.open();
        try {
          for (const step of all) {
            if (one) console.log(step, new Date(p.o.now).toISOString(), await p.balance());
            await ACTS[step]?.(p).catch((error: unknown) => {
              // What is refused in words was not done.
              if (!(error instanceof Problem)) throw error;
              if (one) console.log(`  refused: ${error.message}`);
            });
            await p.o.settle();
            await p.look();
            if (p.wrongs.length > 0) throw new Error(`${p.wrongs.join('; ')} — after: ${JSON.stringify(all)}`);
          }
        } finally {
          await p.o.close();
        }
      }),
      one ? { examples: [[JSON.parse(one) as string[]]], numRuns: 1 } : { numRuns: PURSES },
    );
  });
});
