import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import type { Choice } from './form/choice-field';

/** One thing a list can be narrowed by, of more values than a row of toggles has room for. */
@Component({
  selector: 'lg-choice-facet',
  imports: [MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span>{{ label() }}</span>
    <mat-form-field
      ><select
        matNativeControl
        class="small"
        [attr.aria-label]="name() || label()"
        (change)="picked.emit($any($event.target).value || null)"
      >
        <option value="">any</option>
        @for (v of values(); track v.value) {
          <option [value]="v.value" [selected]="v.value === chosen()">{{ v.label }}</option>
        }
      </select></mat-form-field
    >
  `,
  styles: `
    :host {
      display: flex;
      gap: 10px;
      align-items: baseline;
    }
    span {
      color: var(--ink-soft);
    }
  `,
})
export class ChoiceFacet {
  readonly label = input.required<string>();
  /** What it is, for a screen reader, where the label is short. */
  readonly name = input('');
  readonly values = input.required<readonly Choice[]>();
  readonly chosen = input<string | undefined>();
  /** Null for any. */
  readonly picked = output<string | null>();
}
