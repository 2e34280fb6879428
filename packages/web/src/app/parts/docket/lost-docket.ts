import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { Docket } from './docket';

/** The docket of what an address names and is not there. */
@Component({
  selector: 'lg-lost-docket',
  imports: [Docket],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-docket [kind]="kind()" name="Not found" (closed)="closed.emit()">
      <p role="alert">{{ why() }}</p>
    </lg-docket>
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class LostDocket {
  readonly kind = input.required<string>();
  readonly why = input.required<string>();
  readonly closed = output();
}
