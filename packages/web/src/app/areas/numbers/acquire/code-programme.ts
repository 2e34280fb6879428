import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { setProgramme, type Basket } from '@long-gate/contracts';
import { CheckedForm } from '../../../parts/form/checked-form';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { AcquireStore } from './acquire.store';

/** What a short code is to be leased for: the networks look at it before they approve the code. */
@Component({
  selector: 'lg-code-programme',
  imports: [Faults, Form, MatButtonModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (editing()) {
      <form [lgForm]="form" (sent)="save()">
        <lg-text-field [control]="form.controls.name" label="Programme" name="name" [most]="60" />
        <lg-text-field
          [control]="form.controls.what"
          label="What is sent"
          hint="to whom, how often"
          name="what"
          [lines]="3"
          [most]="600"
        />
        <lg-text-field
          [control]="form.controls.agreement"
          label="How people agree"
          hint="where, by which words"
          name="agreement"
          [lines]="3"
          [most]="600"
        />
        <lg-text-field [control]="form.controls.sample" label="A text as sent" name="sample" [lines]="3" [most]="480" />
        <lg-text-field [control]="form.controls.help" label="Where people get help" name="help" [most]="200" />
        <lg-faults [form]="form" />
        <button type="submit" matButton="filled" [disabled]="form.busy()">Keep the programme</button>
        @if (item().programme) {
          <button type="button" matButton="outlined" (click)="editing.set(false)">Cancel</button>
        }
      </form>
    } @else {
      <p class="small">
        For “{{ item().programme?.name }}”.
        <button type="button" matButton class="plain" (click)="edit()">Change the programme</button>
      </p>
    }
  `,
})
export class CodeProgramme {
  readonly item = input.required<Basket['items'][number]>();
  private readonly store = inject(AcquireStore);
  protected readonly editing = linkedSignal({
    // The number by itself: an item read anew for another reason must not close what is being written.
    source: computed(() => this.item().e164),
    computation: () => untracked(this.item).programme === null,
  });
  protected readonly form = new CheckedForm(
    { name: text(), what: text(), agreement: text(), sample: text(), help: text() },
    setProgramme.body,
  );

  protected edit(): void {
    this.form.group.reset(this.item().programme ?? {});
    this.editing.set(true);
  }
  protected async save(): Promise<void> {
    if (await this.form.send((body) => this.store.leaseFor(this.item().e164, body).then(() => true)))
      this.editing.set(false);
  }
}
