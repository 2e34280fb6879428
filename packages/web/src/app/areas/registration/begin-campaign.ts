import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, FormRecord, ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { addCampaign } from '@long-gate/contracts';
import {
  findUse,
  formatAmount,
  mayHave,
  throughputOf,
  useCase,
  USE_CASES,
  WANTS,
  whoMay,
  type UseCase,
} from '@long-gate/core';
import { CheckedForm } from '../../parts/form/checked-form';
import { readOf } from '../../parts/form/control-state';
import { flag, text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { BeforeFiling } from './before-filing';
import { DossierStore } from './dossier.store';

/** Begins a campaign: its name, and its use, chosen with all of them compared, since it can't be changed later. */
@Component({
  selector: 'lg-begin-campaign',
  providers: [DossierStore],
  imports: [
    BeforeFiling,
    Cell,
    Faults,
    Form,
    MatButtonModule,
    MatCheckboxModule,
    PageTitle,
    ReactiveFormsModule,
    RouterLink,
    Table,
    TextField,
  ],
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
          <lg-before-filing />
          <form [lgForm]="form" (sent)="begin()">
            <lg-text-field
              class="name"
              [control]="form.controls.name"
              label="Name"
              hint="for colleagues"
              name="new-name"
              [most]="60"
            />
            <h2>What do you want to send?</h2>
            <div class="wants" role="group" aria-label="What you want to send">
              @for (w of wants; track w.key) {
                <mat-checkbox class="check" [formControl]="wantOf(w.key)">{{ w.asks }}</mat-checkbox>
              }
            </div>
            <div class="wants">
              <mat-checkbox class="check" [formControl]="asked.controls.few"
                >At most 2,000 segments a day, all together</mat-checkbox
              >
              <mat-checkbox class="check" [formControl]="asked.controls.pool">From more than 49 numbers</mat-checkbox>
            </div>
            @if (fits().why) {
              <p class="fits" aria-live="polite">
                @if (fits().useCase) {
                  <span class="strong">{{ nameOf(fits().useCase) }}</span>
                  @if (fits().subUses.length > 0) {
                    ({{ fits().subUses.map(nameOf).join(', ') }})
                  }
                  fits.
                }
                {{ fits().why }}
                @if (fits().useCase) {
                  <button
                    type="button"
                    matButton="outlined"
                    [disabled]="chosen() === fits().useCase"
                    (click)="takeFound()"
                  >
                    Choose it
                  </button>
                }
              </p>
            }
            <h2>All uses <span class="soft small">It can’t be changed later.</span></h2>
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
                Chosen: <span class="strong">{{ c.label }}</span>. {{ c.means }}
                @if (c.duty) {
                  <span class="hold">{{ c.duty }}</span>
                }
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
    .wants {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
      gap: 2px 18px;
    }
    .wants + .wants {
      margin-top: 8px;
      padding-top: 8px;
      border-top: 1px solid var(--hairline);
    }
    .fits button {
      margin-left: 8px;
    }
    form > button {
      margin-top: 8px;
    }
  `,
})
export class BeginCampaign {
  protected readonly store = inject(DossierStore);
  private readonly router = inject(Router);
  protected readonly form = new CheckedForm(
    { name: text(), useCase: text(), subUses: new FormControl<string[]>([], { nonNullable: true }) },
    addCampaign.body,
  );
  /** What one wants to send, in plain words. */
  protected readonly wants = WANTS;
  protected readonly asked = new FormGroup({
    few: flag(true),
    pool: flag(),
    wants: new FormRecord(Object.fromEntries(WANTS.map((w) => [w.key, flag()]))),
  });
  private readonly said = toSignal(this.asked.valueChanges, { initialValue: this.asked.value });
  /** The use that fits what was said. */
  protected readonly fits = computed(() => {
    const { few = true, pool = false, wants = {} } = this.said();
    return findUse(
      WANTS.filter((w) => wants[w.key]).map((w) => w.key),
      { form: this.brand()?.body.form ?? 'private company', few, numbers: pool ? 50 : 1 },
    );
  });
  protected readonly nameOf = (code: string): string => useCase(code)?.label ?? code;
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
    const pace = (u: UseCase) =>
      throughputOf(u.onlyFor?.includes('sole proprietor') ? 'sole proprietor' : legal, score, u.code);
    return [
      { id: 'use', head: 'Use', least: 200, by: (u) => u.label },
      { id: 'means', head: 'What it means', least: 220, text: (u) => u.means, face: () => 'soft' },
      { id: 'offers', head: 'Offers', width: 90, text: (u) => (u.promotional ? 'may be sent' : 'no') },
      { id: 'stop', head: 'Way to stop', width: 120, leaves: 1, text: (u) => (u.needsStop ? 'in the samples' : 'no') },
      {
        id: 'who',
        head: 'Who may',
        least: 130,
        text: (u) => (u.onlyFor ? `only ${whoMay(u)}` : 'all but a sole proprietor'),
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
    return mayHave(u, this.brand()?.body.form ?? 'private company') && !(u.vetted && this.score() === null);
  }

  protected wantOf(key: string) {
    return this.asked.controls.wants.controls[key] ?? flag();
  }

  protected choose(code: string | null): void {
    const use = USE_CASES.find((u) => u.code === code);
    if (!use || !this.may(use)) return;
    this.form.controls.useCase.setValue(use.code);
    this.form.controls.subUses.setValue([]);
  }
  /** Takes what was found, with the uses it names. */
  protected takeFound(): void {
    const { useCase: code, subUses } = this.fits();
    this.choose(code);
    this.form.controls.subUses.setValue(subUses);
  }

  protected async begin(): Promise<void> {
    const made = await this.form.send((body) => this.store.addCampaign(body));
    if (made) await this.router.navigate(['/b', this.store.session.businessId(), 'registration', 'campaigns', made.id]);
  }
}
