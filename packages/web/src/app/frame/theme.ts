import { Injectable, signal } from '@angular/core';

const KEPT = 'long-gate.theme';

/** Light or dark: the system's wish until somebody turns it; kept on this device. */
@Injectable({ providedIn: 'root' })
export class Theme {
  readonly dark = signal(matchMedia('(prefers-color-scheme: dark)').matches);

  constructor() {
    const kept = localStorage.getItem(KEPT);
    if (kept) this.set(kept === 'dark');
  }

  turn(): void {
    this.set(!this.dark());
    localStorage.setItem(KEPT, this.dark() ? 'dark' : 'light');
  }

  private set(dark: boolean): void {
    this.dark.set(dark);
    document.documentElement.dataset['theme'] = dark ? 'dark' : 'light';
  }
}
