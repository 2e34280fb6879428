import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { AS_IT_WAS, type Column, type Kept } from './column';

interface Question {
  columns: readonly Column<unknown>[];
  kept: Kept;
  /** Pixels each column that is there has now. */
  widths: Record<string, number>;
}
/** Pixels by which a column is widened or narrowed at once. */
const STEP = 24;

/** Chooses the columns of a table and how wide they are. */
@Component({
  selector: 'lg-columns-dialog',
  imports: [MatButtonModule, MatCheckboxModule, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2>Columns</h2>
      <p class="soft small">
        Kept for you, wherever you sign in. Where there is no room, the less important leave by themselves.
      </p>
      <ul>
        @for (c of columns; track c.id) {
          <li>
            <mat-checkbox
              class="check"
              [checked]="there(c)"
              [disabled]="c === columns[0]"
              (change)="put(c, $event.checked)"
              >{{ c.head }}</mat-checkbox
            >
            <span class="width">
              <button
                type="button"
                matButton
                class="plain"
                [attr.aria-label]="c.head + ' narrower'"
                (click)="widen(c, -1)"
              >
                narrower
              </button>
              <button type="button" matButton class="plain" [attr.aria-label]="c.head + ' wider'" (click)="widen(c, 1)">
                wider
              </button>
              <span class="soft right">{{ kept().widths[c.id] ? kept().widths[c.id] + ' px' : 'by itself' }}</span>
            </span>
          </li>
        }
      </ul>
      <div class="ends">
        <button type="button" matButton class="plain" [disabled]="asItWas()" (click)="kept.set(fresh)">
          As they were
        </button>
        <button type="button" matButton="outlined" mat-dialog-close>Cancel</button>
        <button type="button" matButton="filled" (click)="ref.close(kept())">Use these</button>
      </div>
    </div>
  `,
  styles: `
    ul {
      margin-top: 12px;
    }
    li {
      display: flex;
      justify-content: space-between;
      padding: 4px 0;
    }
    .width {
      display: flex;
      gap: 12px;
      font-size: 13px;
    }
    .right {
      width: 62px;
    }
  `,
})
export class ColumnsDialog {
  private readonly data = inject<Question>(MAT_DIALOG_DATA);
  protected readonly ref = inject<MatDialogRef<ColumnsDialog, Kept>>(MatDialogRef);
  protected readonly fresh = AS_IT_WAS;
  protected readonly columns = this.data.columns.filter((c) => !c.quiet);
  protected readonly kept = signal<Kept>(this.data.kept);
  protected readonly asItWas = computed(() => JSON.stringify(this.kept()) === JSON.stringify(AS_IT_WAS));

  protected there(c: Column<unknown>): boolean {
    return !this.kept().away.includes(c.id) && (!c.asked || this.kept().asked.includes(c.id));
  }
  protected put(c: Column<unknown>, on: boolean): void {
    this.kept.update((k) => ({
      ...k,
      away: [...k.away.filter((id) => id !== c.id), ...(on ? [] : [c.id])],
      asked: [...k.asked.filter((id) => id !== c.id), ...(on && c.asked ? [c.id] : [])],
    }));
  }
  protected widen(c: Column<unknown>, by: number): void {
    this.kept.update((k) => {
      const now = k.widths[c.id] ?? c.width ?? this.data.widths[c.id] ?? 120;
      return { ...k, widths: { ...k.widths, [c.id]: Math.max(48, Math.round(now + by * STEP)) } };
    });
  }
}
