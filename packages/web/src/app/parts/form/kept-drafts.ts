import { inject, Injectable } from '@angular/core';
import { SessionFacade } from '../../state/session.facade';

/** What was typed and is not saved yet: the fields that differ, and what they were made from. */
export interface KeptDraft<T> {
  base: Partial<T>;
  mine: Partial<T>;
  version: number;
}

/** Keeps drafts in this browser, each person's apart, so that neither a reload nor a server that is away loses a word. */
@Injectable({ providedIn: 'root' })
export class KeptDrafts {
  private readonly session = inject(SessionFacade);

  of<T>(key: string): KeptDraft<T> | null {
    try {
      const kept = localStorage.getItem(this.name(key));
      return kept === null ? null : (JSON.parse(kept) as KeptDraft<T>);
    } catch {
      return null;
    }
  }

  keep<T>(key: string, draft: KeptDraft<T>): void {
    try {
      localStorage.setItem(this.name(key), JSON.stringify(draft));
    } catch {
      // A browser that keeps nothing: the words stay on the page.
    }
  }

  forget(key: string): void {
    try {
      localStorage.removeItem(this.name(key));
    } catch {
      // As above.
    }
  }

  private name(key: string): string {
    return `draft ${this.session.session()?.user?.id ?? ''} ${key}`;
  }
}
