import { Readable } from 'node:stream';
import { isMainThread, parentPort, Worker, workerData, type MessagePort } from 'node:worker_threads';
import { openReader, type Reader } from './db.js';

/** What a thread tells: a part of its answer on the way, or how it ended. */
type Told<Part, Answer> = { part: Part } | { answer: Answer } | { fault: string };
/** What a thread is told: that its next part is wanted, or that nobody wants anything more of it. */
type Wish = 'more' | 'stop';

/** Threads at work. One that is ended in the middle of a query would end the whole process, so they are waited for. */
const working = new Set<Worker>();

function begin(module: URL, place: string, given: unknown): Worker {
  const worker = new Worker(module, { workerData: { place, given } });
  working.add(worker);
  worker.once('exit', () => working.delete(worker));
  return worker;
}

/** Ends all threads, each after the query it is at. Called before the process ends. */
export async function endThreads(): Promise<void> {
  await Promise.all(
    [...working].map((worker) => {
      worker.postMessage('stop' satisfies Wish);
      return new Promise((ended) => worker.once('exit', ended));
    }),
  );
}

/** Long reading, done in a thread of its own on a connection of its own, so that nobody waits for it. */
export interface LongTask<Given, Part, Answer> {
  (r: Reader, given: Given, tell: (part: Part) => void): Promise<Answer>;
}

/**
 * Runs the task that a module serves ({@link serveTask}) in a thread.
 * @param module its compiled file. @param place the database. @param given what it is asked; it is copied over.
 * @param hear told each part on the way, in order.
 * @throws Error with the task's own message, or where the thread ended before it was done.
 */
export async function inThread<Given, Part, Answer>(
  module: URL,
  place: string,
  given: Given,
  hear: (part: Part) => void = () => undefined,
): Promise<Answer> {
  const worker = begin(module, place, given);
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
  serve<Given, Part, Answer>(async (reader, given, port) =>
    task(reader, given, (part) => port.postMessage({ part } satisfies Told<Part, Answer>)),
  );
}

/** What is long to be written out, read and put into words piece by piece. */
export interface LongText<Given> {
  (r: Reader, given: Given): AsyncGenerator<string>;
}

/**
 * A long text (an export) that a module's thread writes ({@link serveText}), no faster than it is read here. Where the
 * reader goes away the thread ends.
 */
export function textFromThread<Given>(module: URL, place: string, given: Given): Readable {
  const worker = begin(module, place, given);
  const text = new Readable({
    encoding: 'utf8',
    read: () => worker.postMessage('more' satisfies Wish),
    destroy: (error, done) => {
      worker.postMessage('stop' satisfies Wish);
      done(error);
    },
  });
  worker.on('message', (told: Told<string, null>) => {
    if ('part' in told) text.push(told.part);
    else if ('answer' in told) text.push(null);
    else text.destroy(new Error(told.fault));
  });
  worker.once('error', (error) => text.destroy(error));
  return text;
}

/** Serves a text to {@link textFromThread}. Called at the end of its module; does nothing where that is only imported. */
export function serveText<Given>(write: LongText<Given>): void {
  serve<Given, string, null>(async (reader, given, port, next) => {
    for await (const part of write(reader, given)) {
      await next();
      port.postMessage({ part } satisfies Told<string, null>);
    }
    return null;
  });
}

/** What was being worked on is not wanted any more. */
class Stopped extends Error {}

function serve<Given, Part, Answer>(
  work: (r: Reader, given: Given, port: MessagePort, next: () => Promise<void>) => Promise<Answer>,
): void {
  if (isMainThread || !parentPort) return;
  const port = parentPort;
  const { place, given } = workerData as { place: string; given: Given };
  let wanted = 0;
  let stopped = false;
  let heard: () => void = () => undefined;
  port.on('message', (wish: Wish) => {
    if (wish === 'stop') stopped = true;
    else wanted++;
    heard();
  });
  const goOn = (): void => {
    if (stopped) throw new Stopped();
  };
  /** Waits until a part is wanted. */
  const next = async (): Promise<void> => {
    while (wanted === 0 && !stopped) await new Promise<void>((resolve) => (heard = resolve));
    goOn();
    wanted--;
  };
  const tell = (told: Told<Part, Answer>): void => port.postMessage(told);
  void (async () => {
    const reader = await openReader(place);
    // Before each query it is asked whether anybody still waits for what it will answer.
    const asked: Reader = {
      dialect: reader.dialect,
      all: async (sql, bind) => (goOn(), reader.all(sql, bind)),
      one: async (sql, bind) => (goOn(), reader.one(sql, bind)),
      of: (table) => (goOn(), reader.of(table)),
    };
    try {
      tell({ answer: await work(asked, given, port, next) });
    } finally {
      await reader.close();
    }
  })()
    .catch((error: unknown) => {
      if (!(error instanceof Stopped)) tell({ fault: (error as Error).message });
    })
    // Nothing more is heard, and so the thread ends.
    .finally(() => port.close());
}
