import { fuzz } from './fuzz.js';

const count = Number(process.argv[2] ?? 10_000);
const seed = process.argv[3] ?? '2026';
const started = Date.now();
const result = await fuzz(count, seed, (line) => console.log(line));
for (const f of result.faults.slice(0, 40)) console.log(`\n${f.what}\n  ${f.request}`);
const statuses = Object.entries(result.statuses)
  .map(([status, n]) => `${n} × ${status}`)
  .join(', ');
console.log(
  `\nseed ${seed}: ${result.sent} requests in ${((Date.now() - started) / 1000).toFixed(0)} s: ${statuses}\n${result.faults.length} faults`,
);
process.exit(result.faults.length === 0 ? 0 : 1);
