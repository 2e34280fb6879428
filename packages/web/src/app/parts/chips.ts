import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatChipsModule } from '@angular/material/chips';
import { Icon } from './icon';

export interface Chip {
  id: string;
  name: string;
}

/** A few things that were chosen, each to be taken out again: in a sentence or in a row. */
@Component({
  selector: 'lg-chips',
  imports: [MatChipsModule, Icon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-chip-set [aria-label]="label()">
      @for (c of chips(); track c.id) {
        <mat-chip disableRipple [removable]="editable()" (removed)="removed.emit(c.id)">
          {{ c.name }}
          @if (editable()) {
            <button type="button" matChipRemove [attr.aria-label]="takeOut() + ' ' + c.name">
              <lg-icon sign="close" />
            </button>
          }
        </mat-chip>
        @if (between() && !$last) {
          <span class="between">{{ between() }}</span>
        }
      }
    </mat-chip-set>
  `,
  styles: `
    :host {
      display: inline-block;
      vertical-align: middle;
      margin-inline: 4px;
    }
    .between {
      align-self: center;
      margin-left: 8px;
    }
  `,
})
export class Chips {
  readonly chips = input.required<readonly Chip[]>();
  /** What they are, for whoever does not see them. */
  readonly label = input.required<string>();
  /** What taking one out is called, before its name. */
  readonly takeOut = input('Take out');
  readonly editable = input(true);
  /** A word between two of them. */
  readonly between = input('');
  readonly removed = output<string>();
}
