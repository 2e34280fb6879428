import { ChangeDetectionStrategy, Component, computed, effect, inject, resource, untracked } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { TextabilityPolicyShape, type TextabilityPolicyView } from '@long-gate/contracts';
import { CheckedForm } from '../../parts/form/checked-form';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { CountedPipe, MoneyPipe } from '../../parts/format';
import { TextabilityStore } from './textability.store';

const flag = () => new FormControl(false, { nonNullable: true });
const FLAGS = ['voip', 'tollFree', 'automatic', 'recheck'] as const;

/** What counts as textable, how long an answer of the line service stays good, and what is asked about by itself. */
@Component({
  selector: 'lg-textability-settings',
  imports: [CountedPipe, Faults, Form, MatButtonModule, MatCheckboxModule, MoneyPipe, ReactiveFormsModule, TextField],
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
      <lg-faults [form]="form" />
      @if (changed()) {
        <div class="effect" role="status">
          @if (preview.value(); as p) {
            <span class="strong">{{ p.opens | counted: 'number becomes' : 'numbers become' }} textable</span>,
            <span class="strong">{{ p.bars | counted: 'number is' : 'numbers are' }} barred from texts</span>. Under it
            {{ p.stale | counted: 'answer is' : 'answers are' }} stale; asking about all of them costs
            {{ p.cost | money }}.
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
  protected readonly form = new CheckedForm(
    {
      voip: flag(),
      tollFree: flag(),
      automatic: flag(),
      recheck: flag(),
      staleDays: text(),
      staleUnreachableDays: text(),
    },
    TextabilityPolicyShape,
    {
      body: (v) => ({ ...v, staleDays: Number(v.staleDays), staleUnreachableDays: Number(v.staleUnreachableDays) }),
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
    controls.staleDays.setValue(String(kept.staleDays));
    controls.staleUnreachableDays.setValue(String(kept.staleUnreachableDays));
    if (this.store.session.isAdministrator()) this.form.group.enable();
    else this.form.group.disable();
  }
  protected async save(): Promise<void> {
    await this.form.send((body) => this.store.save(body));
  }
}
