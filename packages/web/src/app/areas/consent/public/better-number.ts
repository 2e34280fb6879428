import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import { FormControl } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { answerNumberRequest } from '@long-gate/contracts';
import { CheckedForm } from '../../../parts/form/checked-form';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { PublicPage } from '../../../parts/public-page';
import { BetterNumberStore } from './better-number.store';
import { PurposesField, type Purpose } from './purposes-field';
import { WrittenPhone } from './written-phone';

const Giving = answerNumberRequest.body.extend({ phone: WrittenPhone });

/** The page behind the personal link: a person gives a number that texts reach, and says what may be texted to it. */
@Component({
  selector: 'lg-better-number',
  imports: [Faults, Form, MatButtonModule, PublicPage, PurposesField, TextField],
  providers: [BetterNumberStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-public-page>
      @if (store.missing(); as why) {
        <h1>This page is not here</h1>
        <p>{{ why }}</p>
      } @else if (store.request(); as r) {
        <p class="business">{{ r.page.business }}</p>
        @if (store.given(); as g) {
          <h1>Look at your phone</h1>
          <p>
            A text is on its way to <strong>{{ g.shown }}</strong> from {{ g.from }}. Reply <strong>YES</strong> to it
            within 72 hours; then our texts go there. Without your YES nothing changes.
          </p>
        } @else {
          <h1>{{ r.firstName ? r.firstName + ', your' : 'Your' }} mobile number</h1>
          @if (r.state === 'confirmed') {
            <p>You gave us a number already, and it is confirmed. If it has changed, give us the new one.</p>
          } @else {
            <p>Our texts do not reach the number {{ r.old }}. Which mobile number shall they go to?</p>
          }
          <form [lgForm]="form" (sent)="send()">
            <lg-text-field
              [control]="form.controls.phone"
              label="Your mobile number"
              name="phone"
              type="tel"
              inputmode="tel"
              autocomplete="tel"
            />
            <lg-purposes-field [control]="form.controls.purposes" [purposes]="r.page.purposes" />
            <lg-faults [form]="form" />
            <button type="submit" matButton="filled" [disabled]="form.busy()">
              {{ form.busy() ? 'Looking it up…' : 'Send me the confirming text' }}
            </button>
          </form>
          <p class="small">If you want no texts, do nothing.</p>
          <p class="pages small">
            <a [href]="r.page.privacyUrl" target="_blank" rel="noopener">Privacy</a>
            <a [href]="r.page.termsUrl" target="_blank" rel="noopener">Terms</a>
          </p>
        }
      } @else {
        <p>…</p>
      }
    </lg-public-page>
  `,
  styles: `
    h1 {
      margin: 4px 0 10px;
      font-weight: 700;
    }
    .business {
      color: var(--ink-soft);
    }
    form {
      margin: 18px 0 12px;
    }
    .pages {
      display: flex;
      gap: 16px;
      margin-top: 12px;
    }
  `,
})
export class BetterNumber {
  readonly token = input.required<string>();
  protected readonly store = inject(BetterNumberStore);
  protected readonly form = new CheckedForm(
    { phone: text(), purposes: new FormControl<Purpose[]>([], { nonNullable: true }) },
    Giving,
    // The words before the person's eyes are what they agree to.
    { body: (value) => ({ ...value, words: this.store.request()?.page.words ?? '' }) },
  );

  constructor() {
    effect(() => void this.store.load(this.token()));
  }

  protected async send(): Promise<void> {
    await this.form.send(async (body) => {
      try {
        await this.store.give(this.token(), body);
      } finally {
        // Changed words are chosen anew, having been read.
        if (this.store.request()?.page.words !== body.words) this.form.controls.purposes.setValue([]);
      }
    });
  }
}
