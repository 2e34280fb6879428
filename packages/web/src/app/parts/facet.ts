import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonToggleModule, type MatButtonToggleChange } from '@angular/material/button-toggle';
import { CountPipe } from './format';

export interface FacetValue {
  value: string;
  /** Where it is called otherwise than its value. */
  label?: string;
  /** How many there are; none is said where that is not known. */
  n?: number;
  on: boolean;
  tone?: string;
}

/** One thing a list can be narrowed by: its values in a row, each with how many there are. */
@Component({
  selector: 'lg-facet',
  imports: [MatButtonToggleModule, CountPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (label()) {
      <span>{{ label() }}</span>
    }
    <mat-button-toggle-group multiple hideMultipleSelectionIndicator [attr.aria-label]="label() || name()">
      @for (v of values(); track v.value) {
        <mat-button-toggle [value]="v.value" [checked]="v.on" [class]="v.tone ?? ''" (change)="pick($event, v)">
          {{ v.label ?? v.value }} {{ v.n === undefined ? '' : (v.n | count) }}
        </mat-button-toggle>
      }
    </mat-button-toggle-group>
  `,
  styles: `
    :host {
      display: flex;
      gap: 10px;
      align-items: baseline;
      min-width: 0;
    }
    span {
      color: var(--ink-soft);
    }
    mat-button-toggle-group {
      flex-wrap: wrap;
      gap: 0 24px;
      padding: 0 12px;
      margin: 0 -12px;
      overflow: visible;
    }
  `,
})
export class Facet {
  readonly label = input('');
  /** What it is, for a screen reader, where no label is shown. */
  readonly name = input('');
  readonly values = input.required<readonly FacetValue[]>();
  readonly picked = output<string>();

  /** Whether a value is on is the list's to say: what was pressed goes back until it has. */
  protected pick(change: MatButtonToggleChange, v: FacetValue): void {
    change.source.checked = v.on;
    this.picked.emit(v.value);
  }
}
