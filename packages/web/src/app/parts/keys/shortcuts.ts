import { DestroyRef, DOCUMENT, inject, Injectable, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';

/** One key, or several that belong together: what they are called, what they do, and doing it. */
export interface Shortcut {
  /** As it stands in the table of keys. */
  shown: string;
  words: string;
  /** Whether a key pressed is this one. */
  is: (event: KeyboardEvent) => boolean;
  /** @returns false where there is nothing to do: the key is then left to the browser. */
  act: (event: KeyboardEvent) => boolean;
  /** Works while something is being typed, and over an open dialog. */
  always?: boolean;
}

const TYPES = /^(?:INPUT|TEXTAREA|SELECT)$/;
const typing = (event: KeyboardEvent): boolean => {
  const at = event.target;
  return at instanceof HTMLElement && (TYPES.test(at.tagName) || at.isContentEditable);
};
/** A key by itself. */
export const plain =
  (...keys: string[]) =>
  (e: KeyboardEvent): boolean =>
    keys.includes(e.key) && !e.ctrlKey && !e.altKey && !e.metaKey;

/** The keys that work now: the same table acts and is shown. What was added last comes first. */
@Injectable({ providedIn: 'root' })
export class Shortcuts {
  private readonly dialog = inject(MatDialog);
  readonly table = signal<readonly Shortcut[]>([]);

  constructor() {
    inject(DOCUMENT).addEventListener('keydown', (event) => {
      this.press(event);
    });
  }

  /** Adds keys for as long as whoever adds them is there. Made where one may inject. */
  add(...shortcuts: readonly Shortcut[]): void {
    this.table.update((now) => [...shortcuts, ...now]);
    inject(DestroyRef).onDestroy(() => {
      this.table.update((now) => now.filter((s) => !shortcuts.includes(s)));
    });
  }

  private press(event: KeyboardEvent): void {
    if (event.defaultPrevented) return;
    const busy = this.dialog.openDialogs.length > 0;
    // Esc leaves the field before it closes what the field stands in.
    if (typing(event) && event.key === 'Escape' && !busy) {
      (event.target as HTMLElement).blur();
      return;
    }
    for (const s of this.table()) {
      if ((!s.always && (busy || typing(event))) || !s.is(event)) continue;
      if (s.act(event)) {
        event.preventDefault();
        return;
      }
    }
  }
}
