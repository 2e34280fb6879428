import { readFileSync, statSync, existsSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const BUILT = fileURLToPath(new URL('../../../packages/web/dist/browser/', import.meta.url));

/** The files of this kind that are read before a page shows anything: those of the page itself, and all they import. */
function readFirst(): Map<string, string> {
  const html = readFileSync(path.join(BUILT, 'index.html'), 'utf8');
  const read = new Map<string, string>();
  const waiting = Array.from(html.matchAll(/(?:src|href)="([^"]+\.js)"/g), (m) => m[1] ?? '');
  for (let name = waiting.pop(); name !== undefined; name = waiting.pop()) {
    if (read.has(name)) continue;
    const text = readFileSync(path.join(BUILT, name), 'utf8');
    read.set(name, text);
    // What is imported when it is wanted stands in brackets.
    for (const m of text.matchAll(/(?:from|import)"\.\/([^"]+\.js)"/g)) waiting.push(m[1] ?? '');
  }
  return read;
}

describe('what every page reads first', () => {
  it('is small, as it is packed', () => {
    const names = [...readFirst().keys()];
    expect(names.length).toBeGreaterThan(5);
    const packed = names.map((n) => path.join(BUILT, existsSync(path.join(BUILT, `${n}.br`)) ? `${n}.br` : n));
    const bytes = packed.reduce((sum, file) => sum + statSync(file).size, 0);
    expect(bytes / 1000)
      .withContext(names.map((n, i) => `${n} ${statSync(packed[i] ?? '').size}`).join(', '))
      .toBeLessThan(170);
  });

  it('has neither the library of numbers, nor that of names of hosts, nor that of dates', () => {
    const all = [...readFirst().values()].join('');
    // A name that each of them holds, and none of ours does.
    for (const [what, sign] of [
      ['numbers', 'NOT_A_NUMBER'],
      ['hosts', 'validateHostname'],
      ['dates', 'Invalid DateTime'],
    ] as const)
      expect(all.includes(sign)).withContext(what).toBeFalse();
  });
});
