import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import { FormControl } from '@angular/forms';
import { Title } from '@angular/platform-browser';
import { MatButtonModule } from '@angular/material/button';
import { optIn } from '@long-gate/contracts';
import { CheckedForm } from '../../../parts/form/checked-form';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { PublicPage } from '../../../parts/public-page';
import { JoinStore } from './join.store';
import { PurposesField, type Purpose } from './purposes-field';
import { WrittenPhone } from './written-phone';

const Joining = optIn.body.extend({ phone: WrittenPhone });

/** The page a contact opens on a phone: number, words, and each kind of text chosen separately. */
@Component({
  selector: 'lg-join',
  imports: [PublicPage, PurposesField, MatButtonModule, Faults, Form, TextField],
  providers: [JoinStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-public-page>
      @if (store.missing(); as why) {
        <h1>This page is not here</h1>
        <p>{{ why }}</p>
      } @else if (store.page(); as p) {
        <p class="business">{{ p.business }}</p>
        @if (store.joined(); as s) {
          <h1>Look at your phone</h1>
          <p>
            If this number can get texts, one is on its way to <strong>{{ s.shown }}</strong> from {{ s.from }}, once a
            day at most. Reply <strong>YES</strong> to it within 72 hours to join. Without your YES nothing changes.
          </p>
        } @else if (store.left(); as s) {
          <h1>Done</h1>
          <p>
            {{ p.business }} sends no more texts to <strong>{{ s.shown }}</strong>. If you change your mind, text START
            to the number you know.
          </p>
        } @else {
          <h1>{{ p.title }}</h1>
          <p>{{ p.intro }}</p>
          <form [lgForm]="form" (sent)="send()">
            <lg-text-field
              [control]="form.controls.phone"
              label="Your mobile number"
              name="phone"
              type="tel"
              inputmode="tel"
              autocomplete="tel"
            />
            <lg-text-field
              [control]="form.controls.firstName"
              label="First name"
              hint="if you like"
              name="first"
              autocomplete="given-name"
            />
            <lg-purposes-field [control]="form.controls.purposes" [purposes]="p.purposes" />
            <lg-faults [form]="form" />
            <button type="submit" matButton="filled" [disabled]="form.busy()">
              {{ form.busy() ? 'Sending…' : 'Send me the confirming text' }}
            </button>
            <button type="button" matButton class="plain leave" [disabled]="form.busy()" (click)="leave()">
              Or: no more texts to this number
            </button>
          </form>
          <p class="pages small">
            <a [href]="p.privacyUrl" target="_blank" rel="noopener">Privacy</a>
            <a [href]="p.termsUrl" target="_blank" rel="noopener">Terms</a>
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
      margin-top: 18px;
    }
    .leave {
      display: block;
      width: 100%;
      min-height: 44px;
      margin-top: 8px;
    }
    .pages {
      display: flex;
      gap: 16px;
      margin-top: 18px;
    }
  `,
})
export class Join {
  readonly slug = input.required<string>();
  protected readonly store = inject(JoinStore);
  protected readonly form = new CheckedForm(
    { phone: text(), firstName: text(), purposes: new FormControl<Purpose[]>([], { nonNullable: true }) },
    Joining,
    // The words before the person's eyes are what they agree to.
    { body: (value) => ({ ...value, words: this.store.page()?.words ?? '' }) },
  );
  constructor() {
    const title = inject(Title);
    effect(() => void this.store.load(this.slug()));
    effect(() => {
      const p = this.store.page();
      if (p) title.setTitle(`${p.title} · ${p.business}`);
    });
  }

  protected async send(): Promise<void> {
    await this.form.send(async (body) => {
      try {
        await this.store.join(body);
      } finally {
        // Changed words are chosen anew, having been read.
        if (this.store.page()?.words !== body.words) this.form.controls.purposes.setValue([]);
      }
    });
  }

  /** Leaving takes the number alone. */
  protected async leave(): Promise<void> {
    await this.form.sendPart(['phone'], ({ phone }) => this.store.leave(phone));
  }
}
