import { inject, signal } from '@angular/core';
import { Say } from './say';

/** Carries out one wish after another: busy meanwhile, and the end of each is said. Made where one may inject. */
export class Acting {
  private readonly say = inject(Say);
  readonly busy = signal(false);

  /** What the server answered, or undefined where it refused; the refusal is said already. */
  async run<T>(work: () => Promise<T>, done = ''): Promise<T | undefined> {
    this.busy.set(true);
    try {
      const answer = await work();
      if (done) this.say.done(done);
      return answer;
    } catch (error) {
      this.say.problem(error);
      return undefined;
    } finally {
      this.busy.set(false);
    }
  }

  /** The same where the answer says nothing: whether it was done. */
  async did(work: () => Promise<unknown>, done = ''): Promise<boolean> {
    return (await this.run(async () => ({ answer: await work() }), done)) !== undefined;
  }

  /** @param undo takes it back, once, where somebody presses it soon. */
  done(words: string, undo?: () => Promise<unknown>): void {
    this.say.done(words, undo && (() => void this.did(undo, 'Taken back.')));
  }
  refused(words: string): void {
    this.say.problem(new Error(words));
  }
}
