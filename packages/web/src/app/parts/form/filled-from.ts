import { effect } from '@angular/core';
import type { CheckedForm } from './checked-form';

/**
 * Fills a form from what it is about: with another object anew, with the same one's newer values only while nobody has
 * typed. Made where one may inject.
 * @param source what it is about and its values; undefined while there is nothing to fill it from.
 */
export function filledFrom(
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- whatever its controls
  form: CheckedForm<any>,
  source: () => { of: string; values: object } | undefined,
): void {
  let about: string | null = null;
  effect(() => {
    const now = source();
    if (!now || (now.of === about && form.group.dirty)) return;
    about = now.of;
    form.group.reset(now.values);
  });
}
