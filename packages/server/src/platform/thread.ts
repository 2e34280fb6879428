import { Readable } from 'node:stream';
import { Worker } from 'node:worker_threads';
import type { Reader } from './db.js';

/** What a thread is given to do: what the module of that address serves, with a database to read. */
export interface Work {
  module: string;
  place: string;
  given: unknown;
}
/** What a thread is told of its work: that the next part is wanted, or that nobody wants anything more of it. */
export type Wish = 'more' | 'stop';
/** What a thread tells: a part of its answer on the way, or how it ended. */
export type Told = { part: unknown } | { answer: unknown } | { fault: string };
/**
 * Messages to a thread, and from one. Works are counted, so that no late wish about one is taken for the next; with the
 * last word on a work, null where nobody waits for it any more, the thread is free.
 */
export type ToThread = { n: number; work: Work } | { n: number; wish: Wish } | 'end';
export type FromThread = { told: Told } | { done: Told | null };

const HOST = new URL('./thread-host.js', import.meta.url);
/** A thread without work waits so long for the next, which then need not load all over again. */
const WAITS_MS = 60_000;
const GONE = 'The work on it ended before it was done; try again.';

const threads = new Set<Thread>();

/** A thread that does one work after another. It never keeps the process from ending while it has none. */
class Thread {
  private readonly worker = new Worker(HOST);
  private n = 0;
  private hear: ((told: Told) => void) | null = null;
  private leaves: NodeJS.Timeout | undefined;
  free = false;

  constructor() {
    threads.add(this);
    this.worker.on('message', (m: FromThread) => {
      const { hear } = this;
      if ('done' in m) this.wait();
      hear?.('done' in m ? (m.done ?? { fault: GONE }) : m.told);
    });
    this.worker.once('error', (error: Error) => this.hear?.({ fault: error.message }));
    this.worker.once('exit', () => {
      clearTimeout(this.leaves);
      threads.delete(this);
      this.hear?.({ fault: GONE });
    });
  }

  /** Begins a work. @returns how to tell it something. */
  begin(work: Work, hear: (told: Told) => void): (wish: Wish) => void {
    const n = ++this.n;
    clearTimeout(this.leaves);
    this.free = false;
    this.hear = hear;
    this.worker.ref();
    this.post({ n, work });
    return (wish) => this.post({ n, wish });
  }

  /** Ends it, after the query it is at: one ended in the middle of it would end the whole process. */
  end(): Promise<void> {
    this.free = false;
    // Nothing else may keep the process until it has ended.
    this.worker.ref();
    this.post('end');
    return new Promise((ended) => this.worker.once('exit', () => ended()));
  }

  private wait(): void {
    this.hear = null;
    this.free = true;
    this.worker.unref();
    this.leaves = setTimeout(() => void this.end(), WAITS_MS).unref();
  }

  private post(message: ToThread): void {
    this.worker.postMessage(message);
  }
}

function freeThread(): Thread {
  for (const thread of threads) if (thread.free) return thread;
  return new Thread();
}

/** Ends all threads, each after the query it is at. Called before the process ends. */
export async function endThreads(): Promise<void> {
  await Promise.all([...threads].map((thread) => thread.end()));
}

/** Long reading, done in a thread on a connection of its own, so that nobody waits for it. */
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
  return new Promise<Answer>((resolve, reject) => {
    freeThread().begin({ module: module.href, place, given }, (told) => {
      if ('part' in told) hear(told.part as Part);
      else if ('answer' in told) resolve(told.answer as Answer);
      else reject(new Error(told.fault));
    });
  });
}

/** What is long to be written out, read and put into words piece by piece. */
export interface LongText<Given> {
  (r: Reader, given: Given): AsyncGenerator<string>;
}

/**
 * A long text (an export) that a module's thread writes ({@link serveText}), no faster than it is read here. Where the
 * reader goes away the thread leaves it.
 */
export function textFromThread<Given>(module: URL, place: string, given: Given): Readable {
  const wish = freeThread().begin({ module: module.href, place, given }, (told) => {
    if ('part' in told) text.push(told.part);
    else if ('answer' in told) text.push(null);
    else text.destroy(new Error(told.fault));
  });
  const text = new Readable({
    encoding: 'utf8',
    read: () => wish('more'),
    destroy: (error, done) => {
      wish('stop');
      done(error);
    },
  });
  return text;
}

/** How a work tells what it has on the way, and waits until more is wanted. */
export interface Way {
  tell(part: unknown): void;
  next(): Promise<void>;
}
type Served = (r: Reader, given: unknown, way: Way) => Promise<unknown>;
const served = new Map<string, Served>();

/** What the module of that address serves, loaded where it was not yet. @throws Error where it serves nothing. */
export async function servedBy(module: string): Promise<Served> {
  await import(module);
  const work = served.get(module);
  if (!work) throw new Error(`${module} serves no thread.`);
  return work;
}

/** Serves a task to {@link inThread}. Called at the end of its module. @param module `import.meta.url` of it. */
export function serveTask<Given, Part, Answer>(module: string, task: LongTask<Given, Part, Answer>): void {
  served.set(module, (r, given, way) => task(r, given as Given, (part) => way.tell(part)));
}

/** Serves a text to {@link textFromThread}. Called at the end of its module. @param module `import.meta.url` of it. */
export function serveText<Given>(module: string, write: LongText<Given>): void {
  served.set(module, async (r, given, way) => {
    for await (const part of write(r, given as Given)) {
      await way.next();
      way.tell(part);
    }
    return null;
  });
}
