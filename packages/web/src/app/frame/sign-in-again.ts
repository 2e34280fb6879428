import { inject, Injectable, Injector } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { firstValueFrom } from 'rxjs';
import { SessionFacade } from '../state/session.facade';

/** So long no key was pressed before the dialog takes the focus. */
const PAUSE_MS = 700;

/**
 * A session that ended while somebody works: they sign in again where they are, and what was asked of the server
 * meanwhile is asked once more. However many questions find it ended, one dialog opens.
 */
@Injectable({ providedIn: 'root' })
export class SignInAgain {
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  private readonly session = inject(SessionFacade);
  private open: Promise<boolean> | null = null;
  private typedAt = 0;
  private watching = false;

  /** From now on a session that ended is asked for in place. */
  watch(): void {
    if (this.watching) return;
    this.watching = true;
    document.addEventListener('keydown', () => (this.typedAt = Date.now()), { capture: true, passive: true });
    this.session.whenEnded(() => (this.open ??= this.ask().finally(() => (this.open = null))));
  }

  private async ask(): Promise<boolean> {
    const user = this.session.session()?.user;
    if (!user) return false;
    // No part of the frame's first load.
    const { SignInDialog } = await import('./sign-in-dialog');
    // No key of a word that is being typed goes into the dialog.
    while (Date.now() - this.typedAt < PAUSE_MS) await new Promise((r) => setTimeout(r, 50));
    const ref = this.dialog.open<unknown, string, boolean>(SignInDialog, {
      data: user.email,
      injector: this.injector,
      width: '380px',
      disableClose: true,
      ariaLabel: 'Sign in again',
    });
    return (await firstValueFrom(ref.afterClosed())) ?? false;
  }
}
