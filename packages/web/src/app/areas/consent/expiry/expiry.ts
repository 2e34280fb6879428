import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  resource,
  signal,
  untracked,
} from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import { ExpiryPolicyShape, type ExpiryPreview, type ExpiryRead, type Expiring } from '@long-gate/contracts';
import { CONTACT_COUNTS, formatPhone, type ContactCounts, type ContactKind } from '@long-gate/core';
import { Chart, type Series } from '../../../parts/chart/chart';
import { Facet, type FacetValue } from '../../../parts/facet';
import { CheckedForm } from '../../../parts/form/checked-form';
import { ChoiceField } from '../../../parts/form/choice-field';
import { readOf } from '../../../parts/form/control-state';
import { flag, text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { CountedPipe, CountPipe, MomentPipe } from '../../../parts/format';
import { ListField } from '../../../parts/list-field';
import { PageTitle } from '../../../parts/page-title';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { ExpiryStore } from './expiry.store';

type Kind = 'informational' | 'promotional';
const COUNTS_WORDS: Record<ContactCounts, string> = {
  'either way': 'Their word, or a text that reached them',
  'their word': 'Their word alone',
};
const CONTACT_WORDS: Record<ContactKind, string> = {
  agreed: 'agreed',
  'wrote or called': 'wrote or called',
  kept: 'said that they stay',
  'a text reached them': 'a text of ours reached them',
};

/** Consent that nobody stands by: when it ends, how its people are asked in time, and whose ends next. */
@Component({
  selector: 'lg-expiry',
  imports: [
    Cell,
    Chart,
    ChoiceField,
    ConsentTabs,
    CountedPipe,
    CountPipe,
    Facet,
    Faults,
    Form,
    ListField,
    MatButtonModule,
    MatCheckboxModule,
    MomentPipe,
    PageTitle,
    ReactiveFormsModule,
    RouterLink,
    Table,
    TextField,
  ],
  providers: [ExpiryStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="consent nobody stands by" /></div>
        <lg-consent-tabs />
        @if (store.policy.error(); as e) {
          <div class="problem" role="alert">
            {{ e.message }}
            <button type="button" matButton class="plain" (click)="store.policy.reload()">Try again</button>
          </div>
        }
        <form [lgForm]="form" (sent)="save()" class="narrow">
          <mat-checkbox [formControl]="form.controls.on"
            >Consent ends by itself where nobody was in contact for long</mat-checkbox
          >
          <p class="soft small">
            No rule sets a time. Who has forgotten that they agreed takes a text for spam: asking them in time keeps
            those who care, and the proof fresh. Nobody’s consent ends before they were on the list below for as many
            days as are left for asking.
          </p>
          <div class="row-fields">
            <lg-text-field
              [control]="form.controls.months"
              label="Months without contact"
              name="months"
              inputmode="numeric"
            />
            <lg-text-field
              [control]="form.controls.askDays"
              label="Asked so many days before"
              name="ask-days"
              inputmode="numeric"
            />
          </div>
          <div class="row-fields">
            <lg-choice-field
              [control]="form.controls.counts"
              label="What counts as contact"
              name="counts"
              [choices]="counts"
            />
            <lg-choice-field
              [control]="form.controls.invitationId"
              label="Asked by the letter of"
              name="letter"
              none="no invitation"
              [choices]="letters()"
            />
          </div>
          <fieldset>
            <legend>Which consent ends</legend>
            <mat-checkbox [formControl]="form.controls.promotional">Offers</mat-checkbox>
            <mat-checkbox [formControl]="form.controls.informational">Notices</mat-checkbox>
          </fieldset>
          <lg-faults [form]="form" />
          @if (store.session.isAdministrator()) {
            <button type="submit" matButton="filled" [disabled]="!changed() || form.busy()">Save</button>
            <button type="button" matButton="outlined" [disabled]="!changed()" (click)="again()">As it was</button>
          } @else {
            <p class="soft small">An administrator changes it.</p>
          }
        </form>
        @if (typed()?.on) {
          <section>
            <h2>{{ changed() ? 'What this would come to' : 'What is to come' }}</h2>
            @if (outlook(); as p) {
              <p>
                Of {{ p.inForce | counted: 'number' : 'numbers' }} with consent in force,
                <span class="strong">{{ p.ending | count }}</span>
                {{ changed() ? 'would be listed at once' : 'end within the days for asking' }}, if they are not in
                contact before.
              </p>
              @if (ahead()) {
                <lg-chart
                  label="Consent that ends, by month, if nobody is in contact"
                  stepName="Month"
                  [steps]="steps()"
                  [series]="series()"
                />
              }
            } @else if (preview.error()) {
              <p class="problem" role="alert">It could not be counted. {{ preview.error()?.message }}</p>
            } @else {
              <p class="soft">Counting…</p>
            }
          </section>
        }
        @if (store.policy.value(); as kept) {
          @if (kept.on) {
            <section>
              <h2>Whose ends next</h2>
              <div class="facets tight" role="group" aria-label="Filter">
                <lg-facet
                  label="Asked"
                  [values]="facets()"
                  (picked)="store.set({ asked: $event === store.asked() ? null : $event })"
                />
                @if (store.rows().length > 0) {
                  <a matButton="outlined" [href]="store.file()" download>Export CSV</a>
                }
              </div>
              @if (store.problem(); as e) {
                <div class="problem" role="alert">
                  {{ e.message }}
                  <button type="button" matButton class="plain" (click)="store.again()">Try again</button>
                </div>
              }
              @if (store.rows().length > 0) {
                <lg-table
                  name="expiring"
                  label="Whose consent ends next"
                  [rows]="store.rows()"
                  [columns]="columns"
                  [key]="id"
                  (near)="store.more()"
                >
                  <ng-template lgCell="name" [of]="store.rows()" let-x>
                    <a
                      [routerLink]="['/b', store.session.businessId(), 'contacts']"
                      [queryParams]="{ open: x.contactId }"
                      >{{ x.name || 'no name' }}</a
                    >
                  </ng-template>
                  <ng-template lgCell="last" [of]="store.rows()" let-x
                    >{{ x.lastAt | moment: 'day' }}, {{ words[x.lastHow] }}</ng-template
                  >
                  <ng-template lgCell="ends" [of]="store.rows()" let-x>{{ x.endsAt | moment: 'day' }}</ng-template>
                  <ng-template lgCell="asked" [of]="store.rows()" let-x>
                    @if (x.askedAt) {
                      {{ x.askedAt | moment: 'day' }}
                    } @else {
                      <span class="hold">no: {{ x.why }}</span>
                    }
                  </ng-template>
                </lg-table>
                @if (store.session.mayEdit()) {
                  <form class="put" [formGroup]="onto" (ngSubmit)="putOn()">
                    <lg-list-field
                      [control]="onto.controls.name"
                      [lists]="store.lists()"
                      label="Put them on a list or tag"
                      placeholder="put them on a list or tag…"
                    />
                    <button type="submit" matButton="outlined" [disabled]="store.acting.busy()">Put them on it</button>
                  </form>
                  <p class="soft small">
                    A text that reaches them
                    {{ kept.counts === 'either way' ? 'is contact' : 'is none; their answer to it is' }}: write to a
                    list of those no letter can ask.
                  </p>
                }
              } @else if (!store.loading()) {
                <p class="soft">{{ kept.lookedAt ? 'Nobody’s, as it stands.' : 'It is being looked for.' }}</p>
              }
              @if (kept.lookedAt; as at) {
                <p class="soft small">Looked for {{ at | moment: 'short' }}, and again each day.</p>
              }
            </section>
          }
        }
      </div>
    </div>
  `,
  styles: `
    .narrow {
      max-width: 620px;
    }
    .row-fields {
      margin-top: 10px;
    }
    fieldset {
      border: 0;
      margin: 10px 0 0;
      padding: 0;
    }
    fieldset mat-checkbox {
      margin-right: 18px;
    }
    legend {
      color: var(--ink-soft);
      padding: 0;
    }
    h2 {
      margin: 22px 0 6px;
    }
    .put {
      display: flex;
      gap: 8px;
      align-items: center;
      margin-top: 10px;
      max-width: 420px;
    }
    .put lg-list-field {
      flex: 1;
    }
    .put button {
      margin: 0;
    }
    .narrow button {
      margin: 12px 8px 0 0;
    }
  `,
})
export class ExpiryPage {
  protected readonly store = inject(ExpiryStore);
  protected readonly words = CONTACT_WORDS;
  protected readonly form = new CheckedForm(
    {
      on: flag(),
      months: text(),
      askDays: text(),
      counts: text() as FormControl<ContactCounts>,
      invitationId: text(),
      promotional: flag(),
      informational: flag(),
    },
    ExpiryPolicyShape,
    {
      body: ({ promotional, informational, ...v }) => ({
        ...v,
        months: Number(v.months),
        askDays: Number(v.askDays),
        purposes: [
          ...(informational ? (['informational'] as Kind[]) : []),
          ...(promotional ? (['promotional'] as Kind[]) : []),
        ],
      }),
    },
  );
  protected readonly typed = readOf(
    () => this.form.group,
    () => this.form.body(),
  );
  /** What stood in the form before anything was typed: what is changed, and saved, is a change of that. */
  private readonly shown = signal<ExpiryRead | null>(null);
  protected readonly changed = computed(() => {
    const [typed, shown] = [this.typed(), this.shown()];
    return (
      !!typed &&
      !!shown &&
      (Object.keys(typed) as (keyof typeof typed)[]).some((k) => String(typed[k]) !== String(shown[k]))
    );
  });
  protected readonly preview = resource({
    params: () => {
      const typed = this.typed();
      return typed?.on && this.changed() ? typed : undefined;
    },
    loader: ({ params }) => this.store.preview(params),
  });
  /** What was counted when it was last looked for; of another policy, what that would come to. */
  protected readonly outlook = computed((): ExpiryPreview | null => {
    if (this.changed()) return this.preview.hasValue() ? (this.preview.value() ?? null) : null;
    const kept = this.store.policy.value();
    return kept?.outlook ? { ...kept.outlook, ending: kept.ending } : null;
  });
  protected readonly counts = CONTACT_COUNTS.map((value) => ({ value, label: COUNTS_WORDS[value] }));
  protected readonly letters = computed(() =>
    (this.store.policy.value()?.letters ?? []).map((x) => ({ value: x.id, label: x.title })),
  );
  private readonly months = computed(() => this.outlook()?.months ?? []);
  protected readonly ahead = computed(() => this.months().some((m) => m.n > 0));
  protected readonly steps = computed(() => this.months().map((m) => m.month));
  protected readonly series = computed((): Series[] => [
    { name: 'consent that ends', kind: 'bar', tone: 'hold', values: this.months().map((m) => m.n) },
  ]);
  protected readonly facets = computed((): FacetValue[] => {
    const kept = this.store.policy.value();
    const of = this.store.asked();
    return [
      { value: 'yes', label: 'by letter', on: of === 'yes', n: kept?.asked ?? 0 },
      { value: 'no', label: 'not', on: of === 'no', n: kept?.notAsked ?? 0 },
    ];
  });
  protected readonly id = (x: Expiring): string => x.e164;
  protected readonly columns: readonly Column<Expiring>[] = [
    { id: 'name', head: 'Contact', least: 110 },
    { id: 'e164', head: 'Number', width: 130, text: (x) => formatPhone(x.e164), face: 'mono', leaves: 2 },
    { id: 'last', head: 'Last contact', least: 150, leaves: 1 },
    { id: 'ends', head: 'Ends', width: 110 },
    { id: 'asked', head: 'Asked', least: 120 },
  ];

  constructor() {
    effect(() => {
      // What others do meanwhile is no reason to lose what is being typed; saving says so.
      if (this.store.policy.hasValue())
        untracked(() => {
          if (!this.changed()) this.again();
        });
    });
  }

  /** What is kept stands in the form again. */
  protected again(): void {
    const kept = this.store.policy.value();
    if (!kept) return;
    this.shown.set(kept);
    const { on, months, askDays, counts, invitationId, purposes } = kept;
    this.form.group.setValue({
      on,
      months: String(months),
      askDays: String(askDays),
      counts,
      invitationId,
      promotional: purposes.includes('promotional'),
      informational: purposes.includes('informational'),
    });
    if (this.store.session.isAdministrator()) this.form.group.enable();
    else this.form.group.disable();
  }
  protected readonly onto = new FormGroup({ name: text() });
  protected async putOn(): Promise<void> {
    const name = this.onto.controls.name.value.trim();
    if (name !== '' && (await this.store.putOn(name))) this.onto.reset();
  }
  protected async save(): Promise<void> {
    const version = this.shown()?.version ?? 0;
    const saved = await this.form.send((body) => this.store.save(body, version));
    if (saved) this.again();
  }
}
