import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { FormControl } from '@angular/forms';
import { Title } from '@angular/platform-browser';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { optIn } from '@long-gate/contracts';
import { parsePhone, PHONE_REFUSALS } from '@long-gate/core';
import * as z from 'zod';
import { CheckedForm, faultOf } from '../../../parts/form/checked-form';
import { readOf } from '../../../parts/form/control-state';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { PublicPage } from '../../../parts/public-page';
import { JoinStore } from './join.store';

type Purpose = z.output<typeof optIn.body>['purposes'][number];
const Joining = optIn.body.extend({
  phone: z.string().superRefine((typed, ctx) => {
    const read = parsePhone(typed, { defaultRegion: 'US', allowFictional: true });
    if (!read.ok) ctx.addIssue({ code: 'custom', message: PHONE_REFUSALS[read.reason] });
  }),
});

/** The page a contact opens on a phone: number, words, and each kind of text chosen separately. */
@Component({
  selector: 'lg-join',
  imports: [PublicPage, MatCheckboxModule, MatButtonModule, Faults, Form, TextField],
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
            <fieldset>
              <legend>What may we text you?</legend>
              @for (x of p.purposes; track x.purpose) {
                <mat-checkbox
                  class="check"
                  [name]="x.purpose"
                  [checked]="form.controls.purposes.value.includes(x.purpose)"
                  (change)="toggle(x.purpose, $event.checked)"
                >
                  @for (part of parts(x.disclosure); track $index) {
                    @if (part.link) {
                      <a [href]="part.text" target="_blank" rel="noopener">{{ part.text }}</a>
                    } @else {
                      {{ part.text }}
                    }
                  }
                </mat-checkbox>
              }
            </fieldset>
            @if (unchosen(); as wrong) {
              <p class="error" role="alert">{{ wrong }}</p>
            }
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
    fieldset {
      border: 0;
      margin: 0 0 16px;
      display: grid;
      gap: 14px;
    }
    legend {
      font-weight: 600;
      padding: 0;
      margin-bottom: 8px;
    }
    .check span {
      font-size: 15px;
    }
    .check a {
      overflow-wrap: anywhere;
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
  protected readonly unchosen = readOf(
    computed(() => this.form.controls.purposes),
    faultOf,
  );

  constructor() {
    const title = inject(Title);
    effect(() => void this.store.load(this.slug()));
    effect(() => {
      const p = this.store.page();
      if (p) title.setTitle(`${p.title} · ${p.business}`);
    });
  }

  /** The disclosure to the letter, with its pages as links. */
  protected parts(disclosure: string): { text: string; link: boolean }[] {
    return disclosure
      .split(/(https?:\/\/\S+)/)
      .filter((text) => text !== '')
      .map((text) => ({ text, link: /^https?:/.test(text) }));
  }

  protected toggle(purpose: Purpose, on: boolean): void {
    const { purposes } = this.form.controls;
    const others = purposes.value.filter((x) => x !== purpose);
    purposes.setValue(on ? [...others, purpose] : others);
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
