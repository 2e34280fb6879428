import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { addContactNumber, type ContactDetail } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Confirm } from '../../parts/confirm';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { PhonePipe } from '../../parts/format';
import { ContactStore } from './contact.store';

type OwnNumber = ContactDetail['numbers'][number];

/** The numbers of a contact: which one texts go to, which one is looked at, and adding another. */
@Component({
  selector: 'lg-contact-numbers',
  imports: [Faults, Form, MatButtonModule, PhonePipe, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.known(); as c) {
      <ul aria-label="Numbers">
        @for (n of c.numbers; track n.e164) {
          <li [class.here]="n.e164 === store.number()?.e164">
            <button
              type="button"
              matButton
              class="plain mono"
              [attr.aria-pressed]="n.e164 === store.number()?.e164"
              (click)="store.show(n.e164)"
            >
              {{ n.e164 | phone }}
            </button>
            <span class="soft small">{{ said(n) }}</span>
            @if (store.session.mayEdit() && !n.preferred) {
              <span class="acts">
                <button
                  type="button"
                  matButton
                  class="plain small"
                  [disabled]="store.acting.busy()"
                  (click)="prefer(n)"
                >
                  Text this one
                </button>
                <button
                  type="button"
                  matButton
                  class="plain small stop"
                  [disabled]="store.acting.busy()"
                  (click)="drop(n)"
                >
                  Take off
                </button>
              </span>
            }
          </li>
        }
      </ul>
      @if (store.session.mayEdit()) {
        @if (adding()) {
          <form [lgForm]="form" (sent)="add()">
            <div class="row-fields">
              <lg-text-field [control]="form.controls.number" label="Number" name="further" mono takesFocus />
              <lg-text-field [control]="form.controls.label" label="What it is" hint="such as work" name="label" />
            </div>
            <lg-faults [form]="form" />
            <button type="submit" matButton="filled" [disabled]="form.busy()">Add the number</button>
            <button type="button" matButton="outlined" (click)="adding.set(false)">Cancel</button>
          </form>
        } @else {
          <button type="button" matButton class="plain small" (click)="adding.set(true)">Add a number…</button>
        }
      }
    }
  `,
  styles: `
    ul {
      list-style: none;
      margin: 0 0 4px;
      padding: 0;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 0 10px;
      align-items: baseline;
      padding: 2px 0 2px 8px;
      border-left: 2px solid transparent;
    }
    li.here {
      border-left-color: var(--primary);
    }
    .acts {
      display: flex;
      gap: 10px;
      margin-left: auto;
    }
    form {
      margin: 8px 0;
    }
  `,
})
export class ContactNumbers {
  protected readonly store = inject(ContactStore);
  private readonly confirm = inject(Confirm);
  private readonly id = computed(() => this.store.known()?.id);
  protected readonly adding = linkedSignal({ source: this.id, computation: () => false });
  protected readonly form = new CheckedForm({ number: text(), label: text() }, addContactNumber.body);

  protected said(n: OwnNumber): string {
    const line = n.lookedUpAt === null ? 'never looked up' : n.lineType;
    return [n.label, n.preferred && (this.store.known()?.numbers.length ?? 0) > 1 ? 'texts go here' : '', line]
      .filter(Boolean)
      .join(', ');
  }
  protected async add(): Promise<void> {
    const now = await this.form.send((body) => this.store.addNumber(body));
    if (!now) return;
    this.store.took(now);
    this.store.acting.done('Added. Look it up before texts can go to it.');
    this.form.group.reset();
    this.adding.set(false);
  }
  protected async prefer(n: OwnNumber): Promise<void> {
    const bad = n.verdicts.informational.result !== 'pass' && n.verdicts.promotional.result !== 'pass';
    const yes =
      !bad ||
      (await this.confirm.ask({
        title: `Have texts go to ${formatPhone(n.e164)}?`,
        line: `No cost. No text would pass to it now: ${n.verdicts.informational.why}. Other numbers of the contact get nothing meanwhile.`,
        yes: 'Text this one',
      }));
    if (yes) await this.store.prefer(n.e164);
  }
  protected async drop(n: OwnNumber): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Take ${formatPhone(n.e164)} off this contact?`,
      line: 'No cost. What was agreed and refused by it stays in the ledger, and stands again where the number comes again.',
      yes: 'Take it off',
    });
    if (yes) await this.store.drop(n.e164);
  }
}
