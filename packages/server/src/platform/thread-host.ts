/** Where the threads of `thread.ts` begin: does one work after another, each on a connection of its own. */
import { parentPort, type MessagePort } from 'node:worker_threads';
import { openReader, type Reader } from './db.js';
import { servedBy, type FromThread, type Told, type ToThread, type Way, type Work } from './thread.js';

/** What was being worked on is not wanted any more. */
class Stopped extends Error {}

/** One work, and what came from outside about it. */
class Job implements Way {
  stopped = false;
  private wanted = 0;
  private heard: () => void = () => undefined;

  constructor(
    readonly n: number,
    private readonly say: (told: Told) => void,
  ) {}

  more(): void {
    this.wanted++;
    this.heard();
  }

  stop(): void {
    this.stopped = true;
    this.heard();
  }

  tell(part: unknown): void {
    this.say({ part });
  }

  async next(): Promise<void> {
    while (this.wanted === 0 && !this.stopped) await new Promise<void>((resolve) => (this.heard = resolve));
    this.goOn();
    this.wanted--;
  }

  /** @returns the last word on it; null where nobody waits for it. */
  async carryOut({ module, place, given }: Work): Promise<Told | null> {
    try {
      const work = await servedBy(module);
      this.goOn();
      const reader = await openReader(place);
      try {
        return { answer: await work(this.asking(reader), given, this) };
      } finally {
        await reader.close();
      }
    } catch (error) {
      return error instanceof Stopped ? null : { fault: (error as Error).message };
    }
  }

  /** Before each query it is asked whether anybody still waits for what it will answer. */
  private asking(reader: Reader): Reader {
    return {
      dialect: reader.dialect,
      all: async (sql, bind) => (this.goOn(), reader.all(sql, bind)),
      one: async (sql, bind) => (this.goOn(), reader.one(sql, bind)),
      of: (table) => (this.goOn(), reader.of(table)),
    };
  }

  private goOn(): void {
    if (this.stopped) throw new Stopped();
  }
}

function doWorks(port: MessagePort): void {
  let job: Job | null = null;
  let ending = false;
  const begin = async (n: number, work: Work): Promise<void> => {
    job = new Job(n, (told) => port.postMessage({ told } satisfies FromThread));
    const done = await job.carryOut(work);
    job = null;
    port.postMessage({ done } satisfies FromThread);
    // With its port closed nothing more is heard, and so the thread ends.
    if (ending) port.close();
  };
  port.on('message', (m: ToThread) => {
    if (m === 'end') {
      ending = true;
      if (job) job.stop();
      else port.close();
    } else if ('work' in m) void begin(m.n, m.work);
    else if (m.n === job?.n) m.wish === 'stop' ? job.stop() : job.more();
  });
}

if (parentPort) doWorks(parentPort);
