import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { table, take } from './measure.js';
import { dispatches } from './scale/dispatches.js';
import { glances } from './scale/glances.js';
import { ledger } from './scale/ledger.js';
import { personalPages } from './scale/personal-pages.js';
import { questions } from './scale/questions.js';
import { texts } from './scale/texts.js';
import { World } from './scale/world.js';

async function measure(n: number): Promise<void> {
  const world = await World.open(n);
  try {
    await world.bringIn();
    await world.live();
    await questions(world);
    await texts(world);
    await ledger(world);
    await dispatches(world);
    await glances(world);
    await personalPages(world);
  } finally {
    await world.close();
  }
}

/** Each size in a process of its own: what an earlier one left in memory is no part of it. */
async function inProcess(n: number): Promise<void> {
  const child = spawn(process.execPath, [fileURLToPath(import.meta.url), '--one', String(n)], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const ended = once(child, 'close');
  for await (const line of createInterface(child.stdout)) {
    console.log(line);
    if (line.startsWith('{')) take(line);
  }
  const [code] = (await ended) as [number | null];
  if (code !== 0) throw new Error(`The run with ${n} contacts ended with ${code}.`);
}

/** `--contacts 1000000`: sizes measured, with commas between; 10,000 and 100,000 where none is named. */
const valueOf = (name: string): string | undefined => {
  const at = process.argv.indexOf(name);
  return at < 0 ? undefined : process.argv[at + 1];
};
const one = valueOf('--one');
if (one !== undefined) await measure(Number(one));
else {
  for (const n of (valueOf('--contacts') ?? '10000,100000').split(',').map(Number)) await inProcess(n);
  console.log(`\n${table()}`);
}
