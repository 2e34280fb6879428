import { ChangeDetectionStrategy, Component, effect, inject, input, resource, signal } from '@angular/core';
import { Title } from '@angular/platform-browser';
import { getPublicPage, optIn } from '@long-gate/contracts';
import { parsePhone, PHONE_REFUSALS } from '@long-gate/core';
import { Api, type ApiProblem } from '../../../api/api';

/** The page a contact opens on a phone: number, words, and each kind of text chosen separately. */
@Component({
  selector: 'lg-join',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      @if (page.error(); as e) {
        <h1>This page is not here</h1>
        <p>{{ e.message }}</p>
      } @else if (page.value(); as p) {
        <p class="business">{{ p.business }}</p>
        @if (sent(); as s) {
          <h1>Look at your phone</h1>
          <p>
            If this number can get texts, one is on its way to <strong>{{ s.shown }}</strong> from {{ s.from }}. Reply
            <strong>YES</strong> within 72 hours to join. Without your YES you get nothing more.
          </p>
        } @else {
          <h1>{{ p.title }}</h1>
          <p>{{ p.intro }}</p>
          <form (submit)="send(); $event.preventDefault()" novalidate>
            <div class="field" [class.wrong]="errors()['phone']">
              <label for="phone">Your mobile number</label>
              <input
                id="phone"
                class="text"
                type="tel"
                inputmode="tel"
                autocomplete="tel"
                [value]="phone()"
                (input)="phone.set($any($event.target).value)"
                [attr.aria-describedby]="errors()['phone'] ? 'phone-wrong' : null"
              />
              @if (errors()['phone']) {
                <p class="error" id="phone-wrong" role="alert">{{ errors()['phone'] }}</p>
              }
            </div>
            <div class="field">
              <label for="first">First name <span>if you like</span></label
              ><input
                id="first"
                class="text"
                autocomplete="given-name"
                [value]="first()"
                (input)="first.set($any($event.target).value)"
              />
            </div>
            <fieldset>
              <legend>What may we text you?</legend>
              @for (x of p.purposes; track x.purpose) {
                <label class="check"
                  ><input
                    type="checkbox"
                    [attr.name]="x.purpose"
                    [checked]="chosen().includes(x.purpose)"
                    (change)="toggle(x.purpose, $event)"
                  /><span>{{ x.disclosure }}</span></label
                >
              }
            </fieldset>
            @if (errors()['purposes']) {
              <p class="error" role="alert">{{ errors()['purposes'] }}</p>
            }
            @if (errors()['']) {
              <p class="error" role="alert">{{ errors()[''] }}</p>
            }
            <button type="submit" class="do main" [disabled]="busy()">
              {{ busy() ? 'Sending…' : 'Send me the confirming text' }}
            </button>
          </form>
        }
      } @else {
        <p>…</p>
      }
    </main>
  `,
  styles: `
    main {
      max-width: 460px;
      margin: 0 auto;
      min-height: 100vh;
      padding: 24px 20px;
      background: var(--surface);
      font-size: 16px;
    }
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
    input.text {
      font-size: 16px;
      padding: 10px;
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
    .check input {
      width: 20px;
      height: 20px;
      position: relative;
      top: 4px;
    }
    button.do {
      width: 100%;
      min-height: 44px;
      justify-content: center;
      font-size: 16px;
    }
  `,
})
export class Join {
  readonly slug = input.required<string>();
  private readonly api = inject(Api);
  protected readonly page = resource({
    params: () => this.slug(),
    loader: ({ params: slug }) => this.api.call(getPublicPage, { params: { slug } }),
  });
  protected readonly phone = signal('');
  protected readonly first = signal('');
  protected readonly chosen = signal<('informational' | 'promotional')[]>([]);
  protected readonly errors = signal<Record<string, string>>({});
  protected readonly busy = signal(false);
  protected readonly sent = signal<{ shown: string; from: string } | null>(null);

  constructor() {
    const title = inject(Title);
    effect(() => {
      const p = this.page.hasValue() ? this.page.value() : undefined;
      if (p) title.setTitle(`${p.title} · ${p.business}`);
    });
  }

  protected toggle(purpose: 'informational' | 'promotional', event: Event): void {
    const on = (event.target as HTMLInputElement).checked;
    this.chosen.update((c) => (on ? [...c.filter((x) => x !== purpose), purpose] : c.filter((x) => x !== purpose)));
  }

  protected async send(): Promise<void> {
    const p = parsePhone(this.phone(), { defaultRegion: 'US', allowFictional: true });
    const wrong: Record<string, string> = {};
    if (!p.ok) wrong['phone'] = PHONE_REFUSALS[p.reason];
    if (this.chosen().length === 0) wrong['purposes'] = 'Choose at least one kind of text.';
    this.errors.set(wrong);
    if (Object.keys(wrong).length > 0) return;
    this.busy.set(true);
    try {
      this.sent.set(
        await this.api.call(optIn, {
          params: { slug: this.slug() },
          body: { phone: this.phone(), firstName: this.first(), purposes: this.chosen() },
        }),
      );
    } catch (error) {
      const e = error as ApiProblem;
      this.errors.set(
        e.fields.length > 0 ? Object.fromEntries(e.fields.map((f) => [f.field, f.message])) : { '': e.message },
      );
    } finally {
      this.busy.set(false);
    }
  }
}
