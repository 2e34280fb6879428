import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { askConfirmation, confirmBrandEmail, type BrandView } from '@long-gate/contracts';
import { Acting } from '../../parts/acting';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { MomentPipe } from '../../parts/format';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';
import { Statement } from './statement';

/** What can be done while the registrar has the brand, or after it declined it: have the owner asked again, object. */
@Component({
  selector: 'lg-brand-standing',
  imports: [Faults, Form, MatButtonModule, MomentPipe, Statement, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (brand().confirmation; as c) {
      <div class="step" [class.stop]="c.lapsed" [class.hold]="!c.lapsed">
        @if (c.lapsed) {
          <span class="strong">The owner did not answer in time.</span> The 24 hours ended {{ c.until | moment }}. Have
          the registrar ask again.
        } @else {
          <span class="strong">The owner answers YES.</span> The registrar has texted the mobile below; it waits until
          {{ c.until | moment }}.
        }
      </div>
      @if (session.isAdministrator()) {
        <form [lgForm]="ask" (sent)="askAgain()">
          <lg-text-field [control]="ask.controls.mobile" label="Ask on" name="ask-mobile" mono />
          <lg-faults [form]="ask" />
          <button type="submit" [matButton]="c.lapsed ? 'filled' : 'outlined'" [disabled]="ask.busy()">
            Ask again
          </button>
          <p class="soft small">Costs nothing. One mobile confirms three brands at most.</p>
        </form>
      }
    }
    @if (brand().emailMissing) {
      <div class="step stop">
        <span class="strong">Confirm {{ brand().body.email }}.</span> A listed company confirms its business e-mail
        before its campaigns.
      </div>
      @if (session.isAdministrator()) {
        <p>
          <button type="button" matButton="outlined" [disabled]="busy()" (click)="mailCode()">
            {{ brand().emailCodeMailed ? 'Mail another code' : 'Mail a code' }}
          </button>
        </p>
        @if (brand().emailCodeMailed) {
          <form [lgForm]="code" (sent)="giveBack()">
            <lg-text-field [control]="code.controls.code" label="The code of the last mail" name="brand-code" mono />
            <lg-faults [form]="code" />
            <button type="submit" matButton="filled" [disabled]="code.busy()">Confirm</button>
          </form>
        }
      }
    }
    @if (brand().state === 'declined' && brand().appealUntil; as until) {
      @if (session.isAdministrator() && until > session.now()) {
        <lg-statement
          label="Object to the decline"
          [hint]="'once, until ' + (until | moment: 'day') + ', for nothing; name what proves it'"
          act="Object"
          name="appeal"
          [busy]="busy()"
          (said)="object($event)"
        />
      }
    }
    @if (brand().appeal; as a) {
      <p class="small"><span class="strong">Objected</span> {{ a.at | moment: 'day' }}: {{ a.text }}</p>
    }
  `,
})
export class BrandStanding {
  readonly brand = input.required<BrandView>();
  private readonly store = inject(DossierStore);
  protected readonly session = inject(SessionFacade);
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly ask = new CheckedForm({ mobile: text() }, askConfirmation.body);

  protected readonly code = new CheckedForm({ code: text() }, confirmBrandEmail.body);

  constructor() {
    effect(() => {
      const { mobile } = this.brand().body;
      if (this.ask.controls.mobile.pristine) this.ask.controls.mobile.setValue(mobile);
    });
  }

  protected async askAgain(): Promise<void> {
    await this.ask.send(async ({ mobile }) => {
      await this.store.askConfirmation(mobile);
      this.ask.controls.mobile.markAsPristine();
    });
  }

  protected async giveBack(): Promise<void> {
    await this.code.send(({ code }) => this.store.confirmBrandEmail(code));
  }
  protected mailCode(): Promise<boolean> {
    return this.acting.did(() => this.store.mailBrandCode());
  }
  protected object(words: string): Promise<boolean> {
    return this.acting.did(() => this.store.appealBrand(words));
  }
}
