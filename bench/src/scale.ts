import { table } from './measure.js';
import { dispatches } from './scale/dispatches.js';
import { ledger } from './scale/ledger.js';
import { questions } from './scale/questions.js';
import { World } from './scale/world.js';

/** `--contacts 1000000`: sizes measured, with commas between; 10,000 and 100,000 where none is named. */
const asked = process.argv.indexOf('--contacts');
const sizes = (asked < 0 ? '10000,100000' : (process.argv[asked + 1] ?? '')).split(',').map(Number);
for (const n of sizes) {
  const world = await World.open(n);
  try {
    await world.bringIn();
    await world.live();
    await questions(world);
    await ledger(world);
    await dispatches(world);
  } finally {
    await world.close();
  }
}
console.log(`\n${table()}`);
