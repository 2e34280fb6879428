import { signal } from '@angular/core';
import type * as z from 'zod';
import type { ApiProblem } from '../api/api';
import { checkWith, problemsInto } from './schema-form';

/** Sends a form: busy meanwhile, and what the contract or the server refuses stands at the field it is about. */
export class FormActing {
  readonly busy = signal(false);
  readonly errors = signal<Record<string, string>>({});

  /** Whether a value fits the contract; what does not is shown at its field. */
  fits(schema: z.ZodType, value: unknown): boolean {
    this.errors.set(checkWith(schema, value));
    return Object.keys(this.errors()).length === 0;
  }

  /** What the server answered, or undefined where it refused. */
  async run<T>(work: () => Promise<T>): Promise<T | undefined> {
    this.busy.set(true);
    this.errors.set({});
    try {
      return await work();
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
      return undefined;
    } finally {
      this.busy.set(false);
    }
  }
}
