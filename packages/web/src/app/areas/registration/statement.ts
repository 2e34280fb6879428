import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { appealBrand } from '@long-gate/contracts';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';

/** A few sentences to the registrar: an objection, an answer to a suspension. */
@Component({
  selector: 'lg-statement',
  imports: [Form, MatButtonModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form [lgForm]="form" (sent)="send()">
      <lg-text-field
        [control]="form.controls.text"
        [label]="label()"
        [hint]="hint()"
        [name]="name()"
        [lines]="4"
        [most]="2048"
      />
      <button type="submit" matButton="outlined" [disabled]="busy()">{{ act() }}</button>
    </form>
  `,
})
export class Statement {
  readonly label = input.required<string>();
  readonly hint = input('40 to 2,048 characters');
  readonly act = input.required<string>();
  readonly name = input('statement');
  readonly busy = input(false);
  readonly said = output<string>();
  /** Every statement has the bounds of an objection. */
  protected readonly form = new CheckedForm({ text: text() }, appealBrand.body);

  protected send(): void {
    const body = this.form.body();
    if (body) this.said.emit(body.text);
  }
}
