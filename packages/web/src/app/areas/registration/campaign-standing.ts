import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { CampaignView } from '@long-gate/contracts';
import { renewableFrom } from '@long-gate/core';
import { Acting } from '../../parts/acting';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';
import { Statement } from './statement';

/** Whether a registered campaign still stands: a suspension to answer, a year to renew. */
@Component({
  selector: 'lg-campaign-standing',
  imports: [MatButtonModule, MomentPipe, Statement],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (campaign().halt; as h) {
      <h3>Suspended {{ h.since | moment }}</h3>
      @for (r of h.reasons; track r.code) {
        <p class="stop">{{ r.message }}</p>
      }
      @if (h.answeredAt !== null) {
        <p class="small">
          <span class="strong">Answered</span> {{ h.answeredAt | moment }}: {{ h.answer }}
          <span class="hold">The registrar decides within two days.</span>
        </p>
      } @else if (session.isAdministrator()) {
        <lg-statement
          label="Your answer"
          hint="say what was changed, so that it does not happen again"
          act="Answer the registrar"
          name="answer"
          [busy]="busy()"
          (said)="answer($event)"
        />
      }
    }
    @if (campaign().renewalAskedAt; as at) {
      <p class="hold small">Renewal asked for {{ at | moment }}; the registrar answers within hours.</p>
    } @else if (renewable()) {
      @if (session.isAdministrator()) {
        <p><button type="button" matButton="filled" [disabled]="busy()" (click)="renew()">Renew…</button></p>
      }
      <p class="soft small">Costs nothing beside the monthly fee. Read it first: does it still say what is sent?</p>
    }
  `,
})
export class CampaignStanding {
  readonly campaign = input.required<CampaignView>();
  private readonly store = inject(DossierStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(SessionFacade);
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly renewable = computed(() => {
    const { renewsAt } = this.campaign();
    return renewsAt !== null && renewableFrom(renewsAt) <= this.session.now();
  });

  protected answer(text: string): Promise<boolean> {
    return this.acting.did(() => this.store.answerSuspension(this.campaign().id, text));
  }
  protected async renew(): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Renew ${this.campaign().name}?`,
      line: 'Nothing now; its monthly fee goes on. With it you confirm that what is sent is still what is written here. It is registered for another year.',
      yes: 'Renew for a year',
    });
    if (yes) await this.acting.did(() => this.store.renewCampaign(this.campaign().id));
  }
}
