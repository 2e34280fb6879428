import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { AccountStore } from '../areas/settings/account.store';
import { OwnFactor } from '../areas/settings/own-factor';
import { SessionFacade } from '../state/session.facade';

/** Where an administrator of a business that wants a second factor, and has none, is led first. */
@Component({
  selector: 'lg-factor-first',
  imports: [OwnFactor, RouterLink],
  providers: [AccountStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      <h1>{{ business()?.legalName ?? 'Your account' }}</h1>
      @if (business()?.factorMissing) {
        <p>This business wants a second factor of its administrators. Set it up, then go on.</p>
      }
      <lg-own-factor />
      @if (!business()?.factorMissing && store.recoveryCodes().length === 0) {
        <p><a [routerLink]="['/b', businessId()]">Go on</a></p>
      }
      @for (b of others(); track b.id) {
        <p>
          <a [routerLink]="['/b', b.id]">To {{ b.legalName }}</a>
        </p>
      }
    </main>
  `,
})
export class FactorFirst {
  readonly businessId = input.required<string>();
  protected readonly store = inject(AccountStore);
  private readonly session = inject(SessionFacade);
  private readonly all = computed(() => this.session.session()?.businesses ?? []);
  protected readonly business = computed(() => this.all().find((b) => b.id === this.businessId()));
  protected readonly others = computed(() => this.all().filter((b) => b.id !== this.businessId() && !b.factorMissing));
}
