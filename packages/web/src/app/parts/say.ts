import { inject, Injectable } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';

/** One line at the foot of the page: what was done, or why not. */
@Injectable({ providedIn: 'root' })
export class Say {
  private readonly bar = inject(MatSnackBar);

  /** @param undo takes it back, offered for a while. */
  done(text: string, undo?: () => void): void {
    const said = this.bar.open(text, undo && 'Undo', { duration: undo ? 10_000 : 4000, politeness: 'polite' });
    if (undo) said.onAction().subscribe(undo);
  }

  problem(error: unknown): void {
    this.bar.open(error instanceof Error ? error.message : String(error), 'Close', {
      duration: 12_000,
      politeness: 'assertive',
    });
  }
}
