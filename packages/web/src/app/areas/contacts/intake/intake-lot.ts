import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormControl } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { beginIntake } from '@long-gate/contracts';
import type * as z from 'zod';
import { base64Of } from '../../../parts/base64-of';
import { FileButton } from '../../../parts/file-button';
import { CountPipe } from '../../../parts/format';
import { CheckedForm } from '../../../parts/form/checked-form';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import type { ColumnUse } from './columns';

type Purpose = 'informational' | 'promotional';
/** What is said of a lot as a whole. */
export type Lot = Pick<
  z.input<typeof beginIntake.body>,
  'listName' | 'tags' | 'consentClaim' | 'attestation' | 'proof'
>;
const LotShape = beginIntake.body.pick({
  listName: true,
  tags: true,
  consentClaim: true,
  attestation: true,
  proof: true,
});

/** What is said of a lot as a whole before it is stored: its list and tags, where it came from, and what proves consent. */
@Component({
  selector: 'lg-intake-lot',
  imports: [CountPipe, Faults, FileButton, Form, MatButtonModule, MatCheckboxModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form [lgForm]="form" (sent)="send()">
      @if (!begun()) {
        <div class="row-fields">
          <lg-text-field
            [control]="form.controls.listName"
            label="Put them on the list"
            hint="may stay empty"
            name="list"
            [most]="60"
            [suggestions]="lists()"
          />
          <lg-text-field
            [control]="form.controls.tags"
            label="Tags for all of them"
            hint="with commas between, may stay empty"
            name="lot-tags"
            [most]="400"
          />
        </div>
        <lg-text-field
          [control]="form.controls.attestation"
          label="Where does this list come from, and who says so?"
          hint="stays on the audit trail"
          name="attestation"
          [most]="500"
          placeholder="for instance: booking desk, everybody who crossed in May; Cora Lindqvist"
        />
        @if (administrator()) {
          @if (hasConsent()) {
            <fieldset>
              <legend>What proves the consent the columns speak of?</legend>
              <p class="soft small">
                Filed as consent is what has a date, a source and the words shown, with a document kept that proves
                them. Everything else stays a claim: shown, and opening no gate. A no counts at once, without any proof.
              </p>
              <lg-file-button accept=".pdf,.png,.jpg,.jpeg" (chosen)="take($event)">{{
                proof() ? 'Another document…' : 'Choose the document…'
              }}</lg-file-button>
              @if (proof(); as p) {
                {{ p.name }}
                <button type="button" matButton class="plain" (click)="proof.set(null)">without it</button>
                <p>
                  @for (k of kinds; track k) {
                    <mat-checkbox
                      [checked]="form.controls.purposes.value.includes(k)"
                      (change)="toggle(k, $event.checked)"
                      >they agreed to {{ k }} texts</mat-checkbox
                    >
                  }
                </p>
              }
            </fieldset>
          }
          <lg-text-field
            [control]="form.controls.consentClaim"
            label="Its claim of consent"
            hint="for those of whom no column says anything; filed as unproven"
            name="claim"
            [most]="300"
            placeholder="for instance: counter list, no forms kept"
          />
        } @else if (hasConsent()) {
          <p class="soft small">
            What the columns say of consent is filed as claims, which open no gate; a no counts at once. An
            administrator can file the document that proves them.
          </p>
        }
        <lg-faults [form]="form" />
      }
      <button type="submit" matButton="filled" [disabled]="kept() === 0 || busy()">
        {{ begun() ? 'Go on storing' : 'Store' }} {{ kept() | count }} contacts
      </button>
      <button type="button" matButton="outlined" (click)="cancelled.emit()">
        {{ busy() ? 'Cancel' : 'Start over' }}
      </button>
    </form>
  `,
  styles: `
    form {
      max-width: 760px;
    }
    fieldset {
      border: 1px solid var(--hairline);
      padding: 8px 12px;
      margin: 0 0 14px;
    }
    legend {
      font-weight: 600;
    }
    button {
      margin-right: 8px;
    }
    mat-checkbox {
      margin-right: 16px;
    }
  `,
})
export class IntakeLot {
  readonly lists = input.required<readonly string[]>();
  readonly uses = input.required<readonly ColumnUse[]>();
  readonly administrator = input(false);
  /** How many contacts will be stored. */
  readonly kept = input.required<number>();
  /** It was begun before: what was said of it stands. */
  readonly begun = input(false);
  readonly busy = input(false);
  readonly stored = output<Lot>();
  readonly cancelled = output();
  protected readonly kinds: readonly Purpose[] = ['informational', 'promotional'];
  protected readonly proof = signal<{ name: string; base64: string } | null>(null);
  protected readonly hasConsent = computed(() => this.uses().some((u) => u.startsWith('consent')));
  protected readonly form = new CheckedForm(
    {
      listName: text(),
      tags: text(),
      consentClaim: text(),
      attestation: text(),
      purposes: new FormControl<Purpose[]>([], { nonNullable: true }),
    },
    LotShape,
    {
      body: ({ purposes, tags, ...v }) => ({
        ...v,
        tags: tags
          .split(',')
          .map((t) => t.trim())
          .filter(Boolean),
        proof: this.proof() && this.hasConsent() ? { ...this.proof(), purposes } : null,
      }),
      at: (path) => (path.startsWith('proof') ? 'purposes' : path),
    },
  );

  protected async take(file: File): Promise<void> {
    this.proof.set({ name: file.name, base64: await base64Of(file) });
    this.form.group.updateValueAndValidity();
  }
  protected toggle(purpose: Purpose, on: boolean): void {
    const { purposes } = this.form.controls;
    const others = purposes.value.filter((p) => p !== purpose);
    purposes.setValue(on ? [...others, purpose] : others);
  }
  protected send(): void {
    const body = this.form.body();
    if (this.begun()) this.stored.emit({ listName: '', consentClaim: '', attestation: '-----' });
    else if (body) this.stored.emit(body);
  }
}
