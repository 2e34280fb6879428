import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { startStandins, type StandinOptions } from '@long-gate/standins';

type Wish = { known: string } | 'stop';

/** The stand-ins, in a thread of their own: they have a process of their own where the product runs. */
export class Outside {
  private constructor(
    private readonly worker: Worker,
    readonly url: string,
  ) {}

  static async start(options: StandinOptions): Promise<Outside> {
    const worker = new Worker(new URL(import.meta.url), { workerData: options });
    return new Outside(worker, await answer(worker));
  }

  /** Makes a sending number known there, as if its campaign had been registered. */
  async know(e164: string): Promise<void> {
    await this.wish({ known: e164 });
  }

  async stop(): Promise<void> {
    await this.wish('stop');
    await this.worker.terminate();
  }

  private wish(wish: Wish): Promise<string> {
    this.worker.postMessage(wish);
    return answer(this.worker);
  }
}

function answer(worker: Worker): Promise<string> {
  return new Promise((resolve, reject) => {
    worker.once('message', resolve);
    worker.once('error', reject);
  });
}

if (!isMainThread && parentPort) {
  const port = parentPort;
  const running = await startStandins(workerData as StandinOptions);
  port.on('message', (wish: Wish) => {
    void (
      wish === 'stop'
        ? running.stop()
        : running.store.run(`INSERT INTO assigned (e164, campaign_key) VALUES ($1, 'bench')`, [wish.known])
    ).then(() => port.postMessage('done'));
  });
  port.postMessage(running.url);
}
