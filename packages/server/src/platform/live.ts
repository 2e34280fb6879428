import { EventEmitter } from 'node:events';

/** Something changed; the web application asks again for what it shows of it. */
export interface LiveEvent {
  /** Empty for everyone. */
  businessId: string;
  /** One of the areas, `jobs`, `clock`, or `lifted`: something happened that may lift holds. */
  topic: string;
  /** The object, where one is meant. */
  id?: string;
}

/** Hands live events to the open streams, a topic and object at most a few times a second. */
export class Live {
  private readonly emitter = new EventEmitter().setMaxListeners(0);
  private readonly waiting = new Map<string, LiveEvent>();
  private timer: NodeJS.Timeout | null = null;

  tell(event: LiveEvent): void {
    this.waiting.set(`${event.businessId}|${event.topic}|${event.id ?? ''}`, event);
    this.timer ??= setTimeout(() => {
      this.timer = null;
      const events = [...this.waiting.values()];
      this.waiting.clear();
      for (const e of events) this.emitter.emit('event', e);
    }, 200);
  }

  /** Somebody's session or role ended: every open stream asks again who is listening. */
  lookAgain(): void {
    this.emitter.emit('look again');
  }

  onLookAgain(listener: () => void): () => void {
    this.emitter.on('look again', listener);
    return () => this.emitter.off('look again', listener);
  }

  listen(listener: (event: LiveEvent) => void): () => void {
    this.emitter.on('event', listener);
    return () => this.emitter.off('event', listener);
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.emitter.removeAllListeners();
  }
}
