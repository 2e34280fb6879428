import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { CountPipe } from './format';
import type { FacetValue } from './facet';

/** One thing a list can be narrowed by, folded away: opened it shows its values with how many there are. */
@Component({
  selector: 'lg-menu-facet',
  imports: [CountPipe, MatInputModule, MatSelectModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span>{{ label() }}</span>
    <mat-form-field
      ><mat-select
        multiple
        panelWidth=""
        placeholder="any"
        [value]="on()"
        [aria-label]="name() || label()"
        (selectionChange)="chosen.emit($event.value)"
      >
        <mat-select-trigger>{{ said() }}</mat-select-trigger>
        @for (v of values(); track v.value) {
          <mat-option [value]="v.value"
            >{{ v.label ?? v.value }}
            @if (v.n !== undefined) {
              <span class="n">{{ v.n | count }}</span>
            }
          </mat-option>
        } @empty {
          <mat-option disabled>none</mat-option>
        }
      </mat-select></mat-form-field
    >
  `,
  styles: `
    :host {
      display: flex;
      gap: 6px;
      align-items: baseline;
    }
    :host > span {
      color: var(--ink-soft);
    }
    :host mat-form-field.mat-mdc-form-field {
      width: 104px;
    }
    .n {
      color: var(--ink-soft);
      margin-left: 8px;
    }
  `,
})
export class MenuFacet {
  readonly label = input.required<string>();
  /** What it is, for a screen reader, where the label is short. */
  readonly name = input('');
  readonly values = input.required<readonly FacetValue[]>();
  /** Those that are on from now on; none for any. */
  readonly chosen = output<string[]>();
  protected readonly on = computed(() =>
    this.values()
      .filter((v) => v.on)
      .map((v) => v.value),
  );
  protected readonly said = computed(() =>
    this.values()
      .filter((v) => v.on)
      .map((v) => v.label ?? v.value)
      .join(', '),
  );
}
