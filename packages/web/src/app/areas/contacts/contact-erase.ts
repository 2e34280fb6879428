import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { eraseContact } from '@long-gate/contracts';
import { Confirm } from '../../parts/confirm';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { ContactStore } from './contact.store';
import { nameOf } from './contact-words';

/** Erasing a person on their request: an administrator's matter, with what goes and what stays said before and after. */
@Component({
  selector: 'lg-contact-erase',
  imports: [Faults, Form, MatButtonModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.session.isAdministrator()) {
      @if (asking()) {
        <form [lgForm]="form" (sent)="erase()">
          <lg-text-field
            [control]="form.controls.request"
            label="Who asked for it, when and how?"
            hint="stays on the audit trail"
            name="request"
            [lines]="2"
            takesFocus
          />
          <lg-faults [form]="form" />
          <p class="ends">
            <button type="submit" matButton="filled" class="danger">Erase this person…</button>
            <button type="button" matButton="outlined" (click)="asking.set(false)">Cancel</button>
          </p>
        </form>
      } @else {
        <p>
          <button type="button" matButton class="plain stop" (click)="asking.set(true)">
            They asked to be erased…
          </button>
        </p>
      }
    }
  `,
  styles: `
    form,
    p {
      margin-top: 6px;
    }
    .ends {
      display: flex;
      gap: 8px;
    }
  `,
})
export class ContactErase {
  readonly erased = output();
  protected readonly store = inject(ContactStore);
  private readonly confirm = inject(Confirm);
  private readonly id = computed(() => this.store.known()?.id);
  protected readonly asking = linkedSignal({ source: this.id, computation: () => false });
  protected readonly form = new CheckedForm({ request: text() }, eraseContact.body);

  protected async erase(): Promise<void> {
    const c = this.store.known();
    if (!c || !this.form.fits()) return;
    const name = nameOf(c);
    const yes = await this.confirm.ask({
      title: `Erase ${name}?`,
      line: 'No cost. At once, and it cannot be undone.',
      facts: [
        {
          name: 'Goes',
          value: 'Name, e-mail, address, own fields, numbers, lists, and the words of all texts to and from them',
        },
        {
          name: 'Stays',
          value:
            'The ledger as proof of what they agreed to and refused, do-not-call lists, the audit trail with what was entered, and counts that name nobody',
        },
      ],
      written: { label: `Write “${name}” to go on`, is: name },
      yes: 'Erase this person',
    });
    if (!yes) return;
    const done = await this.form.send((body) => this.store.erase(body.request));
    if (!done) return;
    this.store.acting.done(`Erased. What stays as proof: ${done.kept.join('; ')}.`);
    this.erased.emit();
  }
}
