// `npm run phones`: reads a million made-up numbers beside the common library's reference, and lists disagreements by cause.
// `npm run phones -- 50000 7` reads as many, from another seed.
import path from 'node:path';
import { compile, install, root } from './prepare.mjs';

install();
compile();
const { writtenNumbers } = await import(path.join(root, 'packages/core/dist/phone/written-numbers.js'));
const { compareWithReference } = await import(path.join(root, 'packages/core/dist/phone/compare-reference.js'));
const count = Number(process.argv[2] ?? 1_000_000);
const seed = Number(process.argv[3] ?? 2026);
const agreed = new Map();
const causes = new Map();
for (const written of writtenNumbers(seed, count)) {
  const c = compareWithReference(written);
  if (c.agree) agreed.set(c.on, (agreed.get(c.on) ?? 0) + 1);
  else {
    const key = `${written.habit}: ${c.cause}`;
    const entry = causes.get(key) ?? { n: 0, examples: [] };
    entry.n++;
    if (entry.examples.length < 4)
      entry.examples.push(`${JSON.stringify(written.raw)} (${written.region}): ${c.ours}, reference ${c.theirs}`);
    causes.set(key, entry);
  }
}
console.log(`${count.toLocaleString('en-US')} numbers from seed ${seed}`);
for (const [on, n] of [...agreed].sort((a, b) => b[1] - a[1]))
  console.log(`  agree on ${on.padEnd(20)} ${n.toLocaleString('en-US')}`);
const total = [...causes.values()].reduce((n, c) => n + c.n, 0);
console.log(`  disagree                      ${total.toLocaleString('en-US')}`);
for (const [cause, { n, examples }] of [...causes].sort((a, b) => b[1].n - a[1].n)) {
  console.log(`    ${n.toLocaleString('en-US')} ${cause}`);
  for (const e of examples) console.log(`      ${e}`);
}
process.exit(total > 0 ? 1 : 0);
