import { appendFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { hearStatements } from '../platform/dialects/connection.js';

/** One statement of the product, and the file that asked it. */
export interface Heard {
  from: string;
  text: string;
}

/** Names, numbers and lengths of lists differ from run to run; the plan of a statement does not. */
export function shapeOf(text: string): string {
  return text
    .replace(/'(?:[^']|'')*'/g, "''")
    .replace(/\b\d{3,}\b/g, '0')
    .replace(/\((?:'',\s*)+''\)/g, "('')")
    .replace(/\s+/g, ' ')
    .trim();
}

/** The first file of the product on the stack that is not the platform's; empty where a spec asked itself. */
export function askedBy(stack: string): string {
  const here = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
  for (const [, file = ''] of stack.matchAll(/file:\/\/([^\s)]+?\.js)/g)) {
    const own = path.relative(here, file);
    if (/^(\.\.|platform\/(dialects\/|db|thread)|testing\/statements)/.test(own)) continue;
    return own.startsWith('testing/') || own.endsWith('.spec.js') ? '' : own.replace(/\.js$/, '.ts');
  }
  return '';
}

// Loaded beside the specs with `node --import`, it writes what they make the product ask, a JSON object a line.
const file = process.env['LONG_GATE_STATEMENTS'];
if (file) {
  const known = new Set<string>();
  Error.stackTraceLimit = 40;
  hearStatements((text) => {
    const shape = shapeOf(text);
    if (known.has(shape)) return;
    const from = askedBy(new Error().stack ?? '');
    if (from === '') return;
    known.add(shape);
    appendFileSync(file, `${JSON.stringify({ from, text } satisfies Heard)}\n`);
  });
}
