import { lookUpThroughKills } from './service/question-kills.js';
import { killAtRandom } from './service/random-kills.js';

/**
 * `npm run crash`: 200 power cuts at moments drawn from a seed; or as many as are asked for, from another seed.
 * `npm run crash -- lookups`: 5,000 lookups without a power cut, for their pace, and 5,000 through fifty of them.
 */
process.exit(process.argv[2] === 'lookups' ? await lookups() : await sending());

async function sending(): Promise<number> {
  const moments = Number(process.argv[2] ?? 200);
  const seed = Number(process.argv[3] ?? 2026);
  const toll = await killAtRandom(seed, moments, (line) => console.log(line));
  const ms = toll.stopToLedgerMs.sort((a, b) => a - b);
  console.log(
    `seed ${seed}: killed ${toll.kills.server} times the server, ${toll.kills.outside} times the outside, ${toll.kills.both} times both`,
  );
  console.log(
    `${toll.dispatches} dispatches, ${toll.texts} texts; ${toll.stops} people texted STOP, ${toll.cancels} dispatches were cancelled, ${toll.switches} times all texts were switched off`,
  );
  console.log(`lost ${toll.lost.length}, doubled ${toll.doubled.length}, past a no ${toll.pastNo.length}`);
  for (const line of [...toll.lost, ...toll.doubled, ...toll.pastNo].slice(0, 20)) console.log(`  ${line}`);
  if (ms.length > 0)
    console.log(
      `STOP from the handset to the ledger: median ${ms[Math.floor(ms.length / 2)] ?? 0} ms, longest ${ms[ms.length - 1] ?? 0} ms`,
    );
  return toll.lost.length + toll.doubled.length + toll.pastNo.length > 0 ? 1 : 0;
}

async function lookups(): Promise<number> {
  const many = Number(process.argv[3] ?? 5000);
  let wrong = 0;
  for (const kills of [0, Number(process.argv[4] ?? 50)]) {
    const t = await lookUpThroughKills(2026, many, kills, (line) => console.log(line));
    console.log(
      `${many} lookups through ${kills} kills: ${t.asked} answered, ${t.missing} without an answer, ${t.twice.length} paid twice; charged ${t.charged / 1e6} of ${t.due / 1e6}`,
    );
    console.log(
      `busiest second ${t.busiestSecond}${t.used === null ? '' : `, ${(100 * t.used).toFixed(1)}% of the permitted pace used`}`,
    );
    if (t.missing + t.twice.length > 0 || t.charged !== t.due || t.busiestSecond > 20 || (t.used ?? 1) < 0.95)
      wrong = 1;
  }
  return wrong;
}
