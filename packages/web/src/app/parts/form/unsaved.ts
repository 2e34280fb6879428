import { inject, Injectable } from '@angular/core';
import type { CanDeactivateFn } from '@angular/router';
import { Confirm } from '../confirm';

interface Editor {
  dirty(): boolean;
  settle(): Promise<boolean>;
}

/** What is being edited and not saved: nobody leaves it unasked. */
@Injectable({ providedIn: 'root' })
export class Unsaved {
  private readonly confirm = inject(Confirm);
  private readonly editors = new Set<Editor>();

  constructor() {
    globalThis.addEventListener('beforeunload', (event) => {
      if ([...this.editors].some((e) => e.dirty())) event.preventDefault();
    });
  }

  add(editor: Editor): void {
    this.editors.add(editor);
  }

  drop(editor: Editor): void {
    this.editors.delete(editor);
  }

  /** Saves what is unsaved; where that cannot be, the person says whether to leave it. */
  async mayLeave(): Promise<boolean> {
    const saved = await Promise.all([...this.editors].filter((e) => e.dirty()).map((e) => e.settle()));
    if (saved.every(Boolean)) return true;
    return this.confirm.ask({
      title: 'Leave with something unsaved?',
      line: 'It is not saved. It is kept in this browser and stands there when you come back, but for tax numbers and PINs, which are not kept.',
      yes: 'Leave it',
      no: 'Stay',
    });
  }
}

/** For routes with an editor. */
export const askUnsaved: CanDeactivateFn<unknown> = () => inject(Unsaved).mayLeave();
