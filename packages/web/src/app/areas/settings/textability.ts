import { ChangeDetectionStrategy, Component, computed, effect, inject, resource, untracked } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { TextabilityPolicyShape, type TextabilityPolicyView } from '@long-gate/contracts';
import { Confirm } from '../../parts/confirm';
import { CheckedForm } from '../../parts/form/checked-form';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { ChoiceField } from '../../parts/form/choice-field';
import { TextField } from '../../parts/form/text-field';
import { CountedPipe, MoneyPipe } from '../../parts/format';
import { TextabilityStore } from './textability.store';

const flag = () => new FormControl(false, { nonNullable: true });
const FLAGS = ['voip', 'tollFree', 'automatic', 'recheck', 'reassignedOnSchedule', 'reassignedBeforeDispatch'] as const;
const DAYS = ['staleDays', 'staleUnreachableDays', 'reassignedDays'] as const;

/** What counts as textable, how long an answer of the line service stays good, and what is asked about by itself. */
@Component({
  selector: 'lg-textability-settings',
  imports: [
    ChoiceField,
    CountedPipe,
    Faults,
    Form,
    MatButtonModule,
    MatCheckboxModule,
    MoneyPipe,
    ReactiveFormsModule,
    TextField,
  ],
  providers: [TextabilityStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.policy.error(); as e) {
      <div class="problem" role="alert">{{ e.message }}</div>
    }
    <form [lgForm]="form" (sent)="save()" class="narrow">
      <h2>What counts as textable</h2>
      <p class="soft">
        Mobile lines always do, landlines and lines that are none never. What came from a number itself outranks all of
        it: who texted from a line can be texted there.
      </p>
      <mat-checkbox [formControl]="form.controls.voip">VoIP lines are textable</mat-checkbox>
      <mat-checkbox [formControl]="form.controls.tollFree">Toll-free numbers are textable</mat-checkbox>
      <h2>How long an answer stays good</h2>
      <div class="row-fields">
        <lg-text-field [control]="form.controls.staleDays" label="Days" name="stale" inputmode="numeric" />
        <lg-text-field
          [control]="form.controls.staleUnreachableDays"
          label="Days, where the line did not answer"
          name="stale-unreachable"
          inputmode="numeric"
        />
      </div>
      <h2>What is asked about by itself</h2>
      <mat-checkbox [formControl]="form.controls.automatic"
        >Each new contact number, as it comes: 0.55 cents each</mat-checkbox
      >
      <mat-checkbox [formControl]="form.controls.recheck"
        >What has gone stale, once a day: 0.55 cents each</mat-checkbox
      >
      <h2>Whether numbers changed hands</h2>
      <p class="soft">
        The reassigned numbers database is asked by the day of the last consent. A yes voids the consent; where nothing
        is known, offers are held until a later query says no.
      </p>
      <div class="row-fields">
        <lg-text-field
          [control]="form.controls.reassignedDays"
          label="Days after which consent and answer are old"
          name="reassigned-days"
          inputmode="numeric"
        />
      </div>
      <mat-checkbox [formControl]="form.controls.reassignedBeforeDispatch"
        >Before a dispatch, whoever is on it and old: 0.55 cents each; their texts follow with the answer</mat-checkbox
      >
      <mat-checkbox [formControl]="form.controls.reassignedOnSchedule"
        >Once a day, whoever has become old: 0.55 cents each</mat-checkbox
      >
      <h2>Who pays for asking</h2>
      <p class="soft">
        It stands on the statement of this business, whoever pays; where another pays, on that one’s too, with its
        amount.
      </p>
      <div class="row-fields">
        <lg-choice-field
          [control]="form.controls.paidBy"
          label="Paid by"
          name="paid-by"
          none="this business"
          [choices]="payers()"
        />
      </div>
      @for (c of store.policy.value()?.paysFor ?? []; track c.id) {
        <p>
          This business pays for the lookups and queries of <span class="strong">{{ c.name }}</span>.
          @if (store.session.isAdministrator()) {
            <button type="button" matButton class="plain" (click)="endPaying(c.id, c.name)">Pay no longer…</button>
          }
        </p>
      }
      <lg-faults [form]="form" />
      @if (changed()) {
        <div class="effect" role="status">
          @if (preview.value(); as p) {
            <span class="strong">{{ p.opens | counted: 'number becomes' : 'numbers become' }} textable</span>,
            <span class="strong">{{ p.bars | counted: 'number is' : 'numbers are' }} barred from texts</span>. Under it
            {{ p.stale | counted: 'answer is' : 'answers are' }} stale; asking about all of them costs
            {{ p.cost | money }}. {{ p.unasked | counted: 'number is' : 'numbers are' }} to be asked about whether they
            changed hands, which costs {{ p.unaskedCost | money }}.
          } @else {
            Counting…
          }
        </div>
      }
      @if (store.session.isAdministrator()) {
        <button type="submit" matButton="filled" [disabled]="!changed() || form.busy()">Save</button>
        <button type="button" matButton="outlined" [disabled]="!changed()" (click)="again()">As it was</button>
      } @else {
        <p class="soft small">An administrator changes it.</p>
      }
    </form>
  `,
  styles: `
    .narrow {
      max-width: 620px;
    }
    h2 {
      margin: 18px 0 6px;
    }
    .row-fields {
      margin-top: 10px;
    }
    mat-checkbox {
      display: block;
      margin: 4px 0;
    }
    .effect {
      padding: 9px 12px;
      margin: 12px 0;
      background: var(--surface);
      border: 1px solid var(--hairline);
      border-left: 3px solid var(--hold);
    }
    button {
      margin: 12px 8px 0 0;
    }
  `,
})
export class TextabilitySettings {
  protected readonly store = inject(TextabilityStore);
  private readonly confirm = inject(Confirm);
  protected readonly form = new CheckedForm(
    {
      voip: flag(),
      tollFree: flag(),
      automatic: flag(),
      recheck: flag(),
      reassignedOnSchedule: flag(),
      reassignedBeforeDispatch: flag(),
      paidBy: text(),
      staleDays: text(),
      staleUnreachableDays: text(),
      reassignedDays: text(),
    },
    TextabilityPolicyShape,
    {
      body: (v) => ({
        ...v,
        staleDays: Number(v.staleDays),
        staleUnreachableDays: Number(v.staleUnreachableDays),
        reassignedDays: Number(v.reassignedDays),
      }),
    },
  );
  private readonly typed = readOf(
    () => this.form.group,
    () => this.form.body(),
  );
  protected readonly changed = computed(() => {
    const [typed, kept] = [this.typed(), this.store.policy.value()];
    return (
      !!typed && !!kept && (Object.keys(typed) as (keyof TextabilityPolicyView)[]).some((k) => typed[k] !== kept[k])
    );
  });
  protected readonly preview = resource({
    params: () => (this.changed() ? this.typed() : undefined),
    loader: ({ params }) => this.store.preview(params),
  });

  constructor() {
    effect(() => {
      if (this.store.policy.hasValue()) untracked(() => this.again());
    });
  }

  /** What is kept stands in the form again. */
  protected again(): void {
    const kept = this.store.policy.value();
    if (!kept) return;
    const { controls } = this.form;
    for (const f of FLAGS) controls[f].setValue(kept[f]);
    for (const d of DAYS) controls[d].setValue(String(kept[d]));
    controls.paidBy.setValue(kept.paidBy);
    if (this.store.session.isAdministrator()) this.form.group.enable();
    else this.form.group.disable();
  }
  /** Whoever pays now is among them, also where another chose them. */
  protected readonly payers = computed(() => {
    const kept = this.store.policy.hasValue() ? this.store.policy.value() : undefined;
    const all = this.store.payers().map((b) => ({ value: b.id, label: b.legalName }));
    return kept && kept.paidBy !== '' && !all.some((c) => c.value === kept.paidBy)
      ? [...all, { value: kept.paidBy, label: kept.payer }]
      : all;
  });
  protected async endPaying(id: string, name: string): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Pay no longer for ${name}?`,
      line: 'They pay for their own lookups and queries from now on, also for jobs that are under way.',
      yes: 'Pay no longer',
    });
    if (yes) await this.store.endPaying(id);
  }
  protected async save(): Promise<void> {
    await this.form.send((body) => this.store.save(body));
  }
}
