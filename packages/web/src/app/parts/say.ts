import { inject, Injectable } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';

/** One line at the foot of the page: what was done, or why not. */
@Injectable({ providedIn: 'root' })
export class Say {
  private readonly bar = inject(MatSnackBar);

  done(text: string): void {
    this.bar.open(text, undefined, { duration: 4000, politeness: 'polite' });
  }

  problem(error: unknown): void {
    this.bar.open(error instanceof Error ? error.message : String(error), 'Close', {
      duration: 12_000,
      politeness: 'assertive',
    });
  }
}
