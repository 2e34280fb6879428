import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { addCampaign } from '@long-gate/contracts';
import { formatAmount, throughputOf, USE_CASES, type UseCase } from '@long-gate/core';
import { CheckedForm } from '../../parts/form/checked-form';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { DossierStore } from './dossier.store';

/** Begins a campaign: its name, and its use, chosen with all of them compared, since it can't be changed later. */
@Component({
  selector: 'lg-begin-campaign',
  providers: [DossierStore],
  imports: [Cell, Faults, Form, MatButtonModule, PageTitle, RouterLink, Table, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.dossier.hasValue()) {
      <div class="page">
        <div class="work">
          <div class="head">
            <lg-page-title what="begins a campaign" />
            <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'registration', 'brand']"
              >Not now</a
            >
          </div>
          <form [lgForm]="form" (sent)="begin()">
            <lg-text-field
              class="name"
              [control]="form.controls.name"
              label="Name"
              hint="for colleagues"
              name="new-name"
              [most]="60"
            />
            <h2>What is it for? <span class="soft small">It can’t be changed later.</span></h2>
            <lg-table
              label="Use cases"
              [rows]="uses"
              [columns]="columns()"
              [key]="key"
              [face]="face"
              opening
              [open]="chosen()"
              (opened)="choose($event)"
            >
              <ng-template lgCell="use" [of]="uses" let-u>
                <button
                  type="button"
                  matButton
                  class="plain"
                  [class.strong]="chosen() === u.code"
                  [attr.aria-pressed]="chosen() === u.code"
                  [attr.data-use]="u.code"
                  [disabled]="!may(u)"
                  (click)="choose(u.code); $event.stopPropagation()"
                >
                  {{ u.label }}
                </button>
              </ng-template>
            </lg-table>
            @if (missing()) {
              <p class="error" role="alert">Choose what the campaign is for.</p>
            }
            <p class="soft small">
              The fees are the registrar’s; the pace holds for the brand as it is vetted now{{
                score() === null ? ' (not vetted yet)' : ', with a score of ' + score()
              }}.
            </p>
            <lg-faults [form]="form" />
            @if (choice(); as c) {
              <p>
                Chosen: <span class="strong">{{ c.label }}</span>
              </p>
            }
            <button type="submit" matButton="filled" [disabled]="form.busy() || !store.session.isAdministrator()">
              Begin
            </button>
          </form>
        </div>
      </div>
    }
  `,
  styles: `
    .name {
      display: block;
      max-width: 380px;
    }
    h2 {
      margin: 10px 0 6px;
    }
    form > button {
      margin-top: 8px;
    }
  `,
})
export class BeginCampaign {
  protected readonly store = inject(DossierStore);
  private readonly router = inject(Router);
  protected readonly form = new CheckedForm({ name: text(), useCase: text() }, addCampaign.body);
  protected readonly chosen = readOf(
    () => this.form.controls.useCase,
    (c) => c.value,
  );
  protected readonly choice = computed(() => USE_CASES.find((u) => u.code === this.chosen()));
  /** It was to be sent without a use. */
  protected readonly missing = readOf(
    () => this.form.controls.useCase,
    (c) => c.touched && c.value === '',
  );
  protected readonly uses = [...USE_CASES];
  protected readonly key = (u: UseCase): string => u.code;
  protected readonly face = (u: UseCase): string => (this.may(u) ? '' : 'soft');
  private readonly brand = computed(() => this.store.dossier.value()?.brand ?? null);
  protected readonly score = computed(() => this.brand()?.score ?? null);
  protected readonly columns = computed((): readonly Column<UseCase>[] => {
    const legal = this.brand()?.body.form ?? 'private company';
    const score = this.score();
    const pace = (u: UseCase) => throughputOf(u.onlyFor === 'sole proprietor' ? u.onlyFor : legal, score, u.code);
    return [
      { id: 'use', head: 'Use', least: 200, by: (u) => u.label },
      { id: 'offers', head: 'Offers', width: 90, text: (u) => (u.promotional ? 'may be sent' : 'no') },
      { id: 'stop', head: 'Way to stop', width: 120, leaves: 1, text: (u) => (u.needsStop ? 'in the samples' : 'no') },
      {
        id: 'who',
        head: 'Who may',
        least: 130,
        text: (u) => (u.onlyFor ? `only a ${u.onlyFor}` : 'any brand'),
        face: (u) => (this.may(u) ? 'soft' : 'hold'),
      },
      { id: 'samples', head: 'Samples', width: 80, right: true, text: (u) => `${u.samples}` },
      {
        id: 'monthly',
        head: 'Monthly',
        width: 90,
        right: true,
        by: (u) => u.monthly,
        text: (u) => formatAmount(u.monthly),
      },
      {
        id: 'second',
        head: 'A second',
        width: 90,
        right: true,
        leaves: 3,
        by: (u) => pace(u).campaignPerSecond,
        text: (u) => `${pace(u).campaignPerSecond}`,
      },
      {
        id: 'day',
        head: 'A day',
        width: 90,
        right: true,
        leaves: 2,
        by: (u) => pace(u).brandPerDay,
        text: (u) => pace(u).brandPerDay.toLocaleString('en-US'),
      },
    ];
  });

  protected may(u: UseCase): boolean {
    return !u.onlyFor || u.onlyFor === this.brand()?.body.form;
  }

  protected choose(code: string | null): void {
    const use = USE_CASES.find((u) => u.code === code);
    if (use && this.may(use)) this.form.controls.useCase.setValue(use.code);
  }

  protected async begin(): Promise<void> {
    const made = await this.form.send((body) => this.store.addCampaign(body));
    if (made) await this.router.navigate(['/b', this.store.session.businessId(), 'registration', 'campaigns', made.id]);
  }
}
