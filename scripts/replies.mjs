// `npm run replies -- learn` learns the reader's weights anew from the part one works on.
// `npm run replies`: how well replies are read, on the part one works on and on the part that is only measured.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { compile, install, root } from './prepare.mjs';

install();
compile();
const { learnFrom, measure, parseLabelled, read } = await import(
  path.join(root, 'packages/core/dist/replies/labelled.js')
);
const folder = path.join(root, 'packages/core/replies');
const all = readdirSync(folder)
  .filter((f) => f.endsWith('.txt'))
  .flatMap((f) => parseLabelled(readFileSync(path.join(folder, f), 'utf8')));
if (process.argv.includes('learn')) {
  const weights = Object.entries(learnFrom(all)).sort(([a], [b]) => (a < b ? -1 : 1));
  const file = path.join(root, 'packages/core/src/replies/weights.data.ts');
  writeFileSync(
    file,
    `/** How much each word and turn speaks for a wish to stop (see features.ts). Made by \`npm run replies -- learn\` from the working part of packages/core/replies; not edited by hand. */\nexport const WEIGHTS: ReadonlyMap<string, number> = new Map(Object.entries(JSON.parse(\n  ${JSON.stringify(
      JSON.stringify(Object.fromEntries(weights)),
    )
      .replace(/^"|"$/g, "'")
      .replaceAll('\\"', '"')},\n) as Record<string, number>));\n`,
  );
  console.log(
    `learned ${weights.length} weights from ${all.filter((r) => !r.held).length} replies; compile and measure again`,
  );
  process.exit(0);
}
const share = ({ k, n }) => `${k} of ${n} (${((100 * k) / n).toFixed(1)}%)`;
for (const [name, held] of [
  ['working part', false],
  ['measuring part', true],
]) {
  const m = measure(all.filter((r) => r.held === held));
  console.log(`\n${name}`);
  console.log(`  wishes to stop heard (recall)         ${share(m.recall)}`);
  console.log(`  read as a wish and one (precision)    ${share(m.precision)}`);
  for (const [label, n] of Object.entries(m.byLabel)) console.log(`  read exactly: ${label.padEnd(8)} ${share(n)}`);
  if (!held)
    for (const { reply, as } of m.misses)
      console.log(`    ${reply.label} read as ${as}: ${JSON.stringify(reply.text)}`);
}
for (let warm = 0; warm < 3; warm++) for (const r of all) read(r);
const times = all.map((r) => {
  const at = process.hrtime.bigint();
  read(r);
  return Number(process.hrtime.bigint() - at) / 1000;
});
times.sort((a, b) => a - b);
console.log(
  `\n${all.length} replies; median ${times[Math.floor(times.length / 2)].toFixed(1)} µs, 99th of a hundred ${times[Math.floor(times.length * 0.99)].toFixed(1)} µs`,
);
