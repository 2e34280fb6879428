import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { openReader, type Reader } from './db.js';

/** What a thread tells: a part of its answer on the way, or how it ended. */
type Told<Part, Answer> = { part: Part } | { answer: Answer } | { fault: string };

/** Long reading, done in a thread of its own on a connection of its own, so that nobody waits for it. */
export interface LongTask<Given, Part, Answer> {
  (r: Reader, given: Given, tell: (part: Part) => void): Promise<Answer>;
}

/**
 * Runs the task that a module serves ({@link serveTask}) in a thread.
 * @param module its compiled file. @param place the database. @param given what it is asked; it is copied over.
 * @param hear told each part on the way, in order.
 * @throws Error with the task's own message, or where the thread died.
 */
export async function inThread<Given, Part, Answer>(
  module: URL,
  place: string,
  given: Given,
  hear: (part: Part) => void = () => undefined,
): Promise<Answer> {
  // It ends by itself once its connection is closed: to be ended in the middle of a query would end us all.
  const worker = new Worker(module, { workerData: { place, given } });
  return new Promise<Answer>((resolve, reject) => {
    worker.on('message', (told: Told<Part, Answer>) => {
      if ('part' in told) hear(told.part);
      else if ('answer' in told) resolve(told.answer);
      else reject(new Error(told.fault));
    });
    worker.once('error', reject);
    worker.once('exit', () => reject(new Error('The work on it ended before it was done; try again.')));
  });
}

/** Serves a task to {@link inThread}. Called at the end of the task's module; does nothing where that is only imported. */
export function serveTask<Given, Part, Answer>(task: LongTask<Given, Part, Answer>): void {
  if (isMainThread || !parentPort) return;
  const port = parentPort;
  const { place, given } = workerData as { place: string; given: Given };
  const tell = (told: Told<Part, Answer>): void => port.postMessage(told);
  void (async () => {
    const reader = await openReader(place);
    try {
      tell({ answer: await task(reader, given, (part) => tell({ part })) });
    } finally {
      await reader.close();
    }
  })().catch((error: unknown) => tell({ fault: (error as Error).message }));
}
