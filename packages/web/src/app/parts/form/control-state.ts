import { computed, type Signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import type { AbstractControl } from '@angular/forms';
import { startWith, switchMap } from 'rxjs';

/** Reads something of a control again whenever anything about it changes. Made where one may inject. */
export function readOf<C extends AbstractControl, T>(of: (() => C) | Signal<C>, read: (control: C) => T): Signal<T> {
  const control = computed(of);
  const tick = toSignal(toObservable(control).pipe(switchMap((c) => c.events.pipe(startWith(null)))));
  return computed(
    () => {
      tick();
      return read(control());
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
}
