import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, untracked } from '@angular/core';
import { FormGroup, type FormControl } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { ContactDetail, ContactField } from '@long-gate/contracts';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { ChoiceField } from '../../parts/form/choice-field';
import { text } from '../../parts/form/controls';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { ContactStore } from './contact.store';

const FACTS = ['firstName', 'lastName', 'email', 'street', 'city', 'stateCode', 'postalCode', 'language'] as const;
const WORDS: Record<(typeof FACTS)[number], string> = {
  firstName: 'First name',
  lastName: 'Last name',
  email: 'E-mail',
  street: 'Street',
  city: 'City',
  stateCode: 'State of their address',
  postalCode: 'ZIP code',
  language: 'Language',
};
/** The control of an own field, as the server names it where it refuses what stands in it. */
const own = (id: string): string => `own:${id}`;
/** What staff may change about a contact: its facts and, by `own:` and the field's id, what stands in own fields. */
type Facts = Record<string, string>;
type Known = Pick<ContactDetail, (typeof FACTS)[number] | 'own' | 'version'>;

function formOf(c: Known, fields: readonly ContactField[]): Kept<Facts> {
  return {
    value: {
      ...Object.fromEntries(FACTS.map((f) => [f, c[f]])),
      ...Object.fromEntries(fields.map((f) => [own(f.id), c.own[f.id] ?? ''])),
    },
    version: c.version,
  };
}

/** Who a contact is: name, e-mail, address, language and the business's own fields, and the form to change them in. */
@Component({
  selector: 'lg-contact-facts',
  imports: [ChoiceField, Conflicts, MatButtonModule, Saved, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.known(); as c) {
      @if (!editing()) {
        <dl class="facts">
          @for (f of shown(); track f.name) {
            <dt>{{ f.name }}</dt>
            <dd>{{ f.value }}</dd>
          }
        </dl>
        @if (store.session.mayEdit()) {
          <p><button type="button" matButton class="plain" (click)="editing.set(true)">Edit</button></p>
        }
      } @else {
        <form (submit)="done(); $event.preventDefault()" class="edit">
          <lg-conflicts [of]="saving" [names]="names()" />
          <div class="row-fields">
            <lg-text-field [control]="at('firstName')" label="First name" name="first" [most]="80" />
            <lg-text-field [control]="at('lastName')" label="Last name" name="last" [most]="80" />
          </div>
          <lg-text-field [control]="at('email')" label="E-mail" name="mail" [most]="200" />
          <lg-text-field [control]="at('street')" label="Street" name="street" [most]="120" />
          <lg-text-field [control]="at('city')" label="City" name="city" [most]="80" />
          <div class="row-fields">
            <lg-text-field
              [control]="at('stateCode')"
              label="State of their address"
              hint="narrows the hours"
              name="st"
              [most]="2"
            />
            <lg-text-field [control]="at('postalCode')" label="ZIP code" name="zip" [most]="16" />
          </div>
          <lg-text-field
            [control]="at('language')"
            label="Language"
            hint="such as en or es"
            name="lang"
            [most]="12"
            [suggestions]="languages"
          />
          @for (f of fields(); track f.id) {
            @if (f.kind === 'choice') {
              <lg-choice-field
                [control]="at('own:' + f.id)"
                [label]="f.name"
                none="not said"
                [choices]="choicesOf(f)"
              />
            } @else {
              <lg-text-field [control]="at('own:' + f.id)" [label]="f.name" [hint]="hints[f.kind]" [most]="300" />
            }
          }
          <button type="submit" matButton="filled">Done</button>
          <lg-saved [of]="saving" />
        </form>
      }
    }
  `,
  styles: `
    .edit {
      margin-top: 12px;
    }
    p {
      margin-top: 6px;
    }
  `,
})
export class ContactFacts {
  protected readonly store = inject(ContactStore);
  protected readonly hints = { text: '', number: 'in figures', date: 'such as 12 Mar 2027', choice: '' };
  protected readonly languages = ['en', 'es', 'fr', 'pt', 'vi', 'zh'];
  protected readonly fields = computed(() => this.store.fields() ?? []);
  private readonly id = computed(() => this.store.known()?.id);
  protected readonly editing = linkedSignal({ source: this.id, computation: () => false });
  protected readonly names = computed((): Record<string, string> => ({
    ...WORDS,
    ...Object.fromEntries(this.fields().map((f) => [own(f.id), f.name])),
  }));
  /** What is known, each in its words; nothing is said of what is not. */
  protected readonly shown = computed(() => {
    const c = this.store.known();
    if (!c) return [];
    const place = [c.street, c.city, [c.stateCode, c.postalCode].filter(Boolean).join(' ')].filter(Boolean).join(', ');
    return [
      { name: 'E-mail', value: c.email },
      { name: 'Address', value: place },
      { name: 'Language', value: c.language },
      ...this.fields().map((f) => ({ name: f.name, value: c.own[f.id] ?? '' })),
    ].filter((f) => f.value !== '');
  });
  private readonly form = new FormGroup<Record<string, FormControl<string>>>(
    Object.fromEntries(FACTS.map((f) => [f, text()])),
  );
  protected readonly saving = new Autosave<Facts>({
    save: async (body, version) => {
      const fields = this.fields();
      const now = await this.store.save(
        {
          firstName: body['firstName'] ?? '',
          lastName: body['lastName'] ?? '',
          email: body['email'] ?? '',
          stateCode: body['stateCode'] ?? '',
          language: body['language'] ?? '',
          street: body['street'] ?? '',
          city: body['city'] ?? '',
          postalCode: body['postalCode'] ?? '',
          own: Object.fromEntries(fields.map((f) => [f.id, body[own(f.id)] ?? ''])),
        },
        version,
      );
      return formOf(now, fields);
    },
    read: async () => formOf(await this.store.read(), this.fields()),
    lastChange: () => this.store.lastChange(),
  });

  constructor() {
    autosaved(this.form, this.saving);
    effect(() => {
      const [c, fields] = [this.store.known(), this.store.fields()];
      if (!c || !fields) return;
      untracked(() => {
        for (const f of fields)
          if (!this.form.contains(own(f.id))) this.form.addControl(own(f.id), text(), { emitEvent: false });
        this.saving.take(`contact ${c.id}`, formOf(c, fields));
      });
    });
  }

  protected at(name: string): FormControl<string> {
    const control = this.form.controls[name];
    if (control) return control;
    const made = text();
    this.form.addControl(name, made, { emitEvent: false });
    return made;
  }
  protected choicesOf(f: ContactField): { value: string; label: string }[] {
    return f.choices.map((c) => ({ value: c, label: c }));
  }
  protected async done(): Promise<void> {
    if (await this.saving.flush()) this.editing.set(false);
  }
}
