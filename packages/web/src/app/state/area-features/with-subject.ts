import { signal } from '@angular/core';
import { signalMethod, signalStoreFeature, withMethods, withProps } from '@ngrx/signals';

/** What the store is about, where its page has that from elsewhere: give it the page's own signal. */
export function withSubject<T>() {
  return signalStoreFeature(
    withProps(() => ({ _about: signal<T | null>(null) })),
    withMethods(({ _about }) => ({
      about: signalMethod<T>((subject) => {
        _about.set(subject);
      }),
    })),
  );
}
