import { Directive, inject, input, output } from '@angular/core';
import { plain, Shortcuts } from './shortcuts';

/** Arrows move through a list and open the docket of each, Esc closes it. */
@Directive({ selector: '[lgDocketKeys]' })
export class DocketKeys {
  readonly ids = input.required<readonly string[]>({ alias: 'lgDocketKeys' });
  readonly open = input<string | null | undefined>(null);
  readonly chosen = output<string | null>();
  private at = -1;

  constructor() {
    inject(Shortcuts).add(
      { shown: '↑ ↓', words: 'move in the list', is: plain('ArrowUp', 'ArrowDown'), act: (e) => this.move(e) },
      { shown: 'Esc', words: 'close the docket', is: plain('Escape'), act: () => this.close() },
    );
  }

  private move(event: KeyboardEvent): boolean {
    const ids = this.ids();
    if (ids.length === 0) return false;
    const open = this.open();
    const now = open ? ids.indexOf(open) : this.at;
    this.at = Math.max(0, Math.min(ids.length - 1, now + (event.key === 'ArrowDown' ? 1 : -1)));
    this.chosen.emit(ids[this.at] ?? null);
    return true;
  }
  private close(): boolean {
    if (!this.open()) return false;
    this.chosen.emit(null);
    return true;
  }
}
