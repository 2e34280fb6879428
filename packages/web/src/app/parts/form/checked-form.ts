import { signal } from '@angular/core';
import { FormGroup, type AbstractControl, type ValidationErrors } from '@angular/forms';
import { faultWords } from '@long-gate/contracts';
import type * as z from 'zod';
import type { ApiProblem } from '../../api/api';
import { controlAt } from './control-at';

type Controls = Record<string, AbstractControl>;
type Values<C extends Controls> = ReturnType<FormGroup<C>['getRawValue']>;

export interface CheckedFormOptions<V> {
  /** What is sent, made of what is typed. */
  body?: (value: V) => unknown;
  /** The control at which a fault of the body is shown, where it is called otherwise. */
  at?: (path: string, value: V) => string;
}

/**
 * A typed form checked by the contract's schema, so that browser and server say the same words about the same fault. A
 * fault stands at its control under `wrong`; what belongs to no control stands at the whole.
 */
export class CheckedForm<C extends Controls, S extends z.ZodType = z.ZodType> {
  readonly group: FormGroup<C>;
  readonly busy = signal(false);
  /** Counts what was refused: the first fault takes the focus each time. */
  readonly refused = signal(0);
  private checking = false;

  constructor(
    controls: C,
    private readonly schema: S,
    private readonly options: CheckedFormOptions<Values<C>> = {},
  ) {
    this.group = new FormGroup<C>(controls);
    this.group.addValidators(() => this.check());
    this.group.updateValueAndValidity();
  }

  get controls(): C {
    return this.group.controls as C;
  }

  /** What is sent, as the contract reads it; undefined where it does not fit. */
  body(): z.output<S> | undefined {
    const read = this.schema.safeParse(this.made(), { error: faultWords });
    return read.success ? read.data : undefined;
  }

  /** Whether it fits the contract; where it does not every fault is shown at its field. */
  fits(): boolean {
    this.group.updateValueAndValidity();
    if (this.group.valid) return true;
    this.group.markAllAsTouched();
    this.refused.update((n) => n + 1);
    return false;
  }

  /** What the server answered, or undefined where the form does not fit or it refused, which then stands at its fields. */
  async send<T>(work: (body: z.output<S>) => Promise<T>): Promise<T | undefined> {
    if (this.busy() || !this.fits()) return undefined;
    const body = this.body();
    return body === undefined ? undefined : this.try(() => work(body));
  }

  /** As {@link send}, where only some fields are asked for: what is wrong with the others does not matter. */
  async sendPart<K extends keyof C & string, T>(
    names: readonly K[],
    work: (part: Pick<Values<C>, K & keyof Values<C>>) => Promise<T>,
  ): Promise<T | undefined> {
    if (this.busy()) return undefined;
    this.group.updateValueAndValidity();
    const wrong = names.map((name) => this.controls[name] as AbstractControl).filter((c) => c.invalid);
    for (const control of wrong) control.markAsTouched();
    if (wrong.length > 0) {
      this.refused.update((n) => n + 1);
      return undefined;
    }
    return this.try(() => work(this.group.getRawValue() as Values<C>));
  }

  private async try<T>(work: () => Promise<T>): Promise<T | undefined> {
    this.busy.set(true);
    try {
      return await work();
    } catch (error) {
      this.refuse(error as ApiProblem);
      return undefined;
    } finally {
      this.busy.set(false);
    }
  }

  /** Shows what the server refused at its fields, until they are changed. */
  refuse(problem: ApiProblem): void {
    const rest: string[] = [];
    for (const f of problem.fields ?? []) {
      const control = this.control(f.field);
      if (control) {
        control.setErrors({ wrong: f.message });
        control.markAsTouched();
      } else rest.push(f.message);
    }
    if ((problem.fields ?? []).length === 0) rest.push(problem.message);
    if (rest.length > 0) this.group.setErrors({ wrong: rest.join(' ') });
    this.refused.update((n) => n + 1);
  }

  private made(): unknown {
    const value = this.group.getRawValue() as Values<C>;
    return this.options.body ? this.options.body(value) : value;
  }

  private control(path: string): AbstractControl | null {
    const name = this.options.at?.(path, this.group.getRawValue() as Values<C>) ?? path;
    return controlAt(this.group, name);
  }

  private check(): ValidationErrors | null {
    // Writing a fault at a control checks the whole again.
    if (this.checking) return this.group.errors;
    this.checking = true;
    try {
      const read = this.schema.safeParse(this.made(), { error: faultWords });
      const faults = new Map<AbstractControl, string>();
      const rest: string[] = [];
      for (const issue of read.success ? [] : read.error.issues) {
        const control = this.control(issue.path.join('.'));
        if (!control) rest.push(issue.message);
        else if (!faults.has(control)) faults.set(control, issue.message);
      }
      for (const control of leaves(this.group)) {
        const message = faults.get(control);
        if (control.errors?.['wrong'] !== message) control.setErrors(message === undefined ? null : { wrong: message });
      }
      return rest.length > 0 ? { wrong: rest.join(' ') } : null;
    } finally {
      this.checking = false;
    }
  }
}

/** Every control that holds a value of its own. */
export function leaves(of: AbstractControl): AbstractControl[] {
  const held = (of as Partial<FormGroup>).controls as Controls | AbstractControl[] | undefined;
  return held === undefined ? [of] : Object.values(held).flatMap(leaves);
}

/** What is wrong with a control, once it has been left or the form was sent; the empty string where nothing is. */
export function faultOf(control: AbstractControl): string {
  return control.touched ? ((control.errors?.['wrong'] as string | undefined) ?? '') : '';
}
