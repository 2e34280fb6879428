import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { Title } from '@angular/platform-browser';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { parsePhone, PHONE_REFUSALS } from '@long-gate/core';
import { PublicPage } from '../../../parts/public-page';
import { JoinStore } from './join.store';

/** The page a contact opens on a phone: number, words, and each kind of text chosen separately. */
@Component({
  selector: 'lg-join',
  imports: [PublicPage, MatCheckboxModule, MatInputModule, MatButtonModule],
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
          <form (submit)="send(); $event.preventDefault()" novalidate>
            <div class="field" [class.wrong]="store.errors()['phone']">
              <label for="phone">Your mobile number</label>
              <mat-form-field
                ><input
                  matInput
                  id="phone"
                  type="tel"
                  inputmode="tel"
                  autocomplete="tel"
                  [value]="phone()"
                  (input)="phone.set($any($event.target).value)"
                  [aria-describedby]="store.errors()['phone'] ? 'phone-wrong' : ''"
              /></mat-form-field>
              @if (store.errors()['phone']) {
                <p class="error" id="phone-wrong" role="alert">{{ store.errors()['phone'] }}</p>
              }
            </div>
            <div class="field">
              <label for="first">First name <span>if you like</span></label
              ><mat-form-field
                ><input
                  matInput
                  id="first"
                  autocomplete="given-name"
                  [value]="first()"
                  (input)="first.set($any($event.target).value)"
              /></mat-form-field>
            </div>
            <fieldset>
              <legend>What may we text you?</legend>
              @for (x of p.purposes; track x.purpose) {
                <mat-checkbox
                  class="check"
                  [name]="x.purpose"
                  [checked]="chosen().includes(x.purpose)"
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
            @if (store.errors()['purposes']) {
              <p class="error" role="alert">{{ store.errors()['purposes'] }}</p>
            }
            @if (store.errors()['']) {
              <p class="error" role="alert">{{ store.errors()[''] }}</p>
            }
            <button type="submit" matButton="filled" [disabled]="store.busy()">
              {{ store.busy() ? 'Sending…' : 'Send me the confirming text' }}
            </button>
            <button type="button" matButton class="plain leave" [disabled]="store.busy()" (click)="leave()">
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
  protected readonly phone = signal('');
  protected readonly first = signal('');
  protected readonly chosen = signal<('informational' | 'promotional')[]>([]);

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

  protected toggle(purpose: 'informational' | 'promotional', on: boolean): void {
    this.chosen.update((c) => (on ? [...c.filter((x) => x !== purpose), purpose] : c.filter((x) => x !== purpose)));
  }

  private wrongNumber(): Record<string, string> {
    const p = parsePhone(this.phone(), { defaultRegion: 'US', allowFictional: true });
    return p.ok ? {} : { phone: PHONE_REFUSALS[p.reason] };
  }

  protected async send(): Promise<void> {
    const wrong = this.wrongNumber();
    if (this.chosen().length === 0) wrong['purposes'] = 'Choose at least one kind of text.';
    if (Object.keys(wrong).length > 0) return this.store.wrong(wrong);
    await this.store.join({ phone: this.phone(), firstName: this.first(), purposes: this.chosen() });
    // Changed words are chosen anew, having been read.
    if (this.store.errors()['purposes']) this.chosen.set([]);
  }

  protected async leave(): Promise<void> {
    const wrong = this.wrongNumber();
    if (Object.keys(wrong).length > 0) return this.store.wrong(wrong);
    await this.store.leave(this.phone());
  }
}
