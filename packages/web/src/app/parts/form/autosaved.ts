import { DestroyRef, effect, inject, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormArray, type AbstractControl, type FormGroup } from '@angular/forms';
import type { Autosave } from './autosave';
import { changed } from './merge';
import { controlAt } from './control-at';
import { text } from './controls';

/**
 * Ties a typed form to what saves itself: what is typed is saved, what the server or a colleague made of it is shown, and
 * what the server refuses stands at its field. Made where one may inject.
 */
export function autosaved<T extends object, C extends { [K in keyof T]: AbstractControl }>(
  group: FormGroup<C>,
  saving: Autosave<T>,
  /** What a row of a list is, where it is more than a text. */
  rowsOf: { [K in keyof T]?: () => AbstractControl } = {},
): void {
  let showing = false;
  group.valueChanges.pipe(takeUntilDestroyed(inject(DestroyRef))).subscribe(() => {
    const had = saving.value();
    if (showing || !had) return;
    const now = group.getRawValue() as unknown as T;
    const typed = changed(had, { ...had, ...now });
    if (typed.length > 0) saving.change(Object.fromEntries(typed.map((k) => [k, now[k]])) as unknown as Partial<T>);
  });
  effect(() => {
    const value = saving.value();
    if (!value) return;
    untracked(() => {
      const shown = group.getRawValue() as unknown as T;
      const other = changed(shown, { ...shown, ...value });
      if (other.length === 0) return;
      showing = true;
      for (const key of other) {
        const rows = group.controls[key];
        if (rows instanceof FormArray) resize(rows, (value[key] as unknown[]).length, rowsOf[key] ?? text);
      }
      group.patchValue(value as Parameters<FormGroup<C>['patchValue']>[0]);
      showing = false;
    });
  });
  effect(() => {
    const refused = saving.refused();
    untracked(() => {
      for (const { field, message } of refused) {
        const control = controlAt(group, field);
        control?.setErrors({ wrong: message });
        control?.markAsTouched();
      }
    });
  });
}

/** As many rows as there are: patching a list of controls adds none and takes none away. Locked where the list is. */
function resize(rows: FormArray, length: number, made: () => AbstractControl): void {
  const locked = rows.disabled;
  while (rows.length < length) {
    const row = made();
    if (locked) row.disable();
    rows.push(row, { emitEvent: false });
  }
  while (rows.length > length) rows.removeAt(rows.length - 1, { emitEvent: false });
}
