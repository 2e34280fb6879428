import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Preview } from '@long-gate/contracts';
import { CountedPipe, MoneyPipe } from '../../parts/format';
import { durationOf } from '../../parts/look-up';

/** Whoever is asked about before anything goes to them, whether their number changed hands. */
@Component({
  selector: 'lg-asked-first',
  imports: [CountedPipe, MoneyPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (of(); as a) {
      <p>
        <span class="hold strong">{{ a.numbers | counted: 'number is' : 'numbers are' }} asked about first</span>,
        whether they changed hands since the last consent: {{ a.cost | money }}, about {{ duration(a.seconds) }}. Their
        texts follow with the answer.
      </p>
    }
  `,
})
export class AskedFirst {
  readonly of = input.required<Preview['askedFirst']>();
  protected readonly duration = durationOf;
}
