import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { getDispatch } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';
import { Compose } from './compose';
import { Results } from './results';

/** A dispatch at its address: a sheet to write on while it is a draft, its results afterwards. */
@Component({
  selector: 'lg-dispatch',
  imports: [Compose, Results],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (dispatch.error(); as e) {
      <div class="page">
        <div class="work">
          <div class="problem" role="alert">{{ e.message }}</div>
        </div>
      </div>
    } @else if (found(); as d) {
      @if (d.state === 'draft') {
        <lg-compose [dispatch]="d" (sent)="dispatch.reload()" />
      } @else {
        <lg-results [dispatch]="d" [state]="state()" />
      }
    } @else {
      <div class="page">
        <div class="work"><p class="soft">Reading…</p></div>
      </div>
    }
  `,
})
export class DispatchPage {
  readonly id = input.required<string>();
  readonly state = input<string>();
  private readonly api = inject(Api);
  private readonly session = inject(SessionFacade);
  protected readonly dispatch = liveResource(
    ['dispatch'],
    () => ({ businessId: this.session.businessId(), id: this.id() }),
    (params) => this.api.call(getDispatch, { params }),
  );
  protected readonly found = computed(() => (this.dispatch.hasValue() ? this.dispatch.value() : undefined));
}
