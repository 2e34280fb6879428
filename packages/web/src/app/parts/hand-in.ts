import { ApiProblem } from '../api/api';
import { linesOf } from './lines-of';

/** A part whose answer was lost is handed in again so often, after a while each time. */
const TRIES = 4;
const AGAIN_MS = 700;
/** What of a line is read; a number, a day and a few words are shorter. */
const LINE = 400;

/**
 * Hands a file of lines in, part by part, each until it is answered: the server takes the same part once only.
 * @param most lines of a part. @param part hands one in, counted from 0.
 * @param told after each, with its answer and how much of the file that was, from 0 to 1.
 * @returns how many parts there were. @throws ApiProblem also for an empty file
 */
export async function handIn<T>(
  file: File,
  most: number,
  part: (n: number, lines: string[]) => Promise<T>,
  told: (answer: T, share: number) => void,
): Promise<number> {
  let parts = 0;
  let read = 0;
  for await (const lines of linesOf(file, most)) {
    read += lines.reduce((n, l) => n + l.length + 1, 0);
    const cut = lines.map((l) => l.slice(0, LINE));
    const answer = await untilAnswered(() => part(parts, cut));
    parts++;
    told(answer, Math.min(1, read / Math.max(file.size, 1)));
  }
  if (parts === 0) throw new ApiProblem(422, 'empty', `“${file.name}” is empty. Choose another file.`, []);
  return parts;
}

async function untilAnswered<T>(ask: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await ask();
    } catch (error) {
      const lost = error instanceof ApiProblem && (error.status === 0 || error.status >= 500);
      if (!lost || tries === TRIES) throw error;
      await new Promise((later) => setTimeout(later, AGAIN_MS * tries));
    }
  }
}
