import { booleanAttribute, ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { ActivatedRoute, Router } from '@angular/router';
import { History } from '../history';

/**
 * What one object is: its kind, its name, the one next step, facts and history. Wide or narrow stands in the address.
 * Slots: `name` (under the name), `step` (what can be done about the next step), what else there is, in order.
 */
@Component({
  selector: 'lg-docket',
  imports: [MatButtonModule, History],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="kind">
      <span>{{ kind() }}</span>
      <span class="ends">
        <button type="button" matButton class="plain" [attr.aria-pressed]="wide()" (click)="widen()">
          {{ wide() ? 'Narrower' : 'Wider' }}
        </button>
        <button type="button" matButton class="plain" (click)="closed.emit()">Close</button>
      </span>
    </div>
    @if (name()) {
      <h2 [class.mono]="mono()">{{ name() }}</h2>
    }
    <ng-content select="[name]" />
    @if (next(); as n) {
      <div class="step" [class.pass]="n.tone === 'pass'" [class.hold]="n.tone === 'hold'">
        <span class="strong">{{ n.title }}</span> {{ n.why }}
        <ng-content select="[step]" />
      </div>
    }
    <ng-content />
    @if (history(); as of) {
      <lg-history [kind]="of" [object]="object()" />
    }
  `,
  styles: `
    .ends {
      display: flex;
      gap: 14px;
    }
  `,
  host: { class: 'docket', role: 'complementary', '[attr.aria-label]': 'kind()', '[class.wide]': 'wide()' },
})
export class Docket {
  readonly kind = input.required<string>();
  readonly name = input('');
  /** The name is a number or a code. */
  readonly mono = input(false, { transform: booleanAttribute });
  readonly next = input<{ title: string; why: string; tone?: 'pass' | 'hold' | 'stop' } | null>(null);
  /** Under what kind its history is kept; none is shown where it is empty. */
  readonly history = input('');
  readonly object = input('');
  readonly closed = output();
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  private readonly query = toSignal(this.route.queryParamMap, { initialValue: this.route.snapshot.queryParamMap });
  protected readonly wide = computed(() => this.query().get('wide') === 'yes');

  protected widen(): void {
    const queryParams = { wide: this.wide() ? null : 'yes' };
    void this.router.navigate([], {
      relativeTo: this.route,
      queryParams,
      queryParamsHandling: 'merge',
      replaceUrl: true,
    });
  }
}
