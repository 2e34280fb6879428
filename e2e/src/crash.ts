import { killAtRandom } from './service/random-kills.js';

/** `npm run crash`: 200 power cuts at moments drawn from a seed; or as many as are asked for, from another seed. */
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
process.exit(toll.lost.length + toll.doubled.length + toll.pastNo.length > 0 ? 1 : 0);
