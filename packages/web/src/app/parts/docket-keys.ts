import { Directive, inject, input, output } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';

/** Arrows move through a list, Enter opens the docket, Esc closes it; outside fields and dialogs. */
@Directive({ selector: '[lgDocketKeys]', host: { '(document:keydown)': 'onKey($event)' } })
export class DocketKeys {
  readonly ids = input.required<readonly string[]>({ alias: 'lgDocketKeys' });
  readonly open = input<string | null | undefined>(null);
  readonly chosen = output<string | null>();
  private readonly dialog = inject(MatDialog);
  private at = -1;

  protected onKey(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    if (this.dialog.openDialogs.length > 0 || event.ctrlKey || event.altKey || event.metaKey) return;
    if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) {
      if (event.key === 'Escape') target.blur();
      return;
    }
    const ids = this.ids();
    if (event.key === 'Escape') {
      if (this.open()) this.chosen.emit(null);
      return;
    }
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    if (ids.length === 0) return;
    event.preventDefault();
    const now = this.open() ? ids.indexOf(this.open() as string) : this.at;
    this.at = Math.max(0, Math.min(ids.length - 1, now + (event.key === 'ArrowDown' ? 1 : -1)));
    this.chosen.emit(ids[this.at] ?? null);
  }
}
