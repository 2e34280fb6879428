import { appendFileSync } from 'node:fs';
import { threadId } from 'node:worker_threads';
import type { Reader } from '../platform/db.js';
import { serveText } from '../platform/thread.js';

/** A text of many large parts, each with the thread that wrote it; it notes in a file each that was made. */
async function* counted(r: Reader, o: { parts: number; noted: string; failAt?: number }): AsyncGenerator<string> {
  for (let i = 0; i < o.parts; i++) {
    const [row] = await r.all<{ n: number }>('SELECT CAST($1 AS INTEGER) AS n', [i]);
    appendFileSync(o.noted, '.');
    if (i === o.failAt) throw new Error('the ink has run out');
    yield `${row?.n} ${threadId} ${'x'.repeat(50_000)}\n`;
  }
}

serveText(import.meta.url, counted);
