import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { confirmOwnMobile } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import type { ApiProblem } from '../api/api';
import { CheckedForm } from './form/checked-form';
import { Faults } from './form/faults';
import { Form } from './form/form';
import { TextField } from './form/text-field';
import { OwnMobileStore } from './own-mobile.store';
import { text } from './form/controls';

/** Confirms the signed-in person's own mobile by the code that was sent to it. */
@Component({
  selector: 'lg-own-mobile',
  imports: [Faults, Form, TextField, MatButtonModule, RouterLink],
  providers: [OwnMobileStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.pending(); as mobile) {
      <form [lgForm]="form" (sent)="confirm()">
        <lg-text-field
          [control]="form.controls.code"
          [label]="'Code sent to ' + shown(mobile)"
          name="own-code"
          inputmode="numeric"
          autocomplete="one-time-code"
          [most]="7"
          mono
        />
        <lg-faults [form]="form" />
        <p class="small">
          <button type="submit" matButton="outlined" [disabled]="form.busy()">Confirm</button>&ngsp;
          <button type="button" matButton class="plain" (click)="again()">Send a new code</button>
          @if (store.handset(); as url) {
            · <a [href]="url" target="handset" rel="noopener">open the handset</a>
          }
        </p>
      </form>
    } @else {
      <a [routerLink]="['/b', store.session.businessId(), 'settings', 'you']">Give your own mobile</a>
    }
  `,
  styles: `
    form {
      margin-top: 6px;
    }
  `,
})
export class OwnMobile {
  readonly confirmed = output();
  protected readonly store = inject(OwnMobileStore);
  protected readonly shown = formatPhone;
  protected readonly form = new CheckedForm({ code: text() }, confirmOwnMobile.body);

  protected async confirm(): Promise<void> {
    if (!(await this.form.send((body) => this.store.confirm(body.code)))) return;
    this.form.group.reset();
    this.confirmed.emit();
  }
  protected async again(): Promise<void> {
    try {
      await this.store.again();
      this.form.group.reset();
    } catch (error) {
      this.form.refuse(error as ApiProblem);
    }
  }
}
