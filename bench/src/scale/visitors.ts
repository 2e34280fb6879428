import { Agent, get } from 'node:http';

// People who each look at a page of theirs again and again, in a process of their own, as browsers have one: started
// with the pages' addresses, and how often each looks. Prints how long each answer took, in milliseconds, as JSON.
const [each = '1', ...pages] = process.argv.slice(2);
const agent = new Agent({ keepAlive: true, maxSockets: pages.length });
const times: number[] = [];

const look = (page: string): Promise<void> =>
  new Promise((resolve, reject) => {
    const begun = performance.now();
    get(page, { agent }, (answer) => {
      answer.on('data', () => undefined);
      answer.once('error', reject);
      answer.once('end', () => {
        if (answer.statusCode !== 200) return reject(new Error(`A page answered ${String(answer.statusCode)}.`));
        times.push(performance.now() - begun);
        resolve();
      });
    }).once('error', reject);
  });

await Promise.all(
  pages.map(async (page) => {
    for (let k = 0; k < Number(each); k++) await look(page);
  }),
);
console.log(JSON.stringify(times));
agent.destroy();
