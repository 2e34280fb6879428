import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { FormRecord, ReactiveFormsModule, type FormControl } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import type { PortView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { ApiProblem } from '../../../api/api';
import { Findings, type NumberedFinding } from '../../../parts/findings';
import { Autosave, type Kept } from '../../../parts/form/autosave';
import { autosaved } from '../../../parts/form/autosaved';
import { ChoiceField, type Choice } from '../../../parts/form/choice-field';
import { text } from '../../../parts/form/controls';
import { Conflicts, Saved } from '../../../parts/form/saving';
import { TextField } from '../../../parts/form/text-field';
import { PhonePipe } from '../../../parts/format';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { PortStore } from './port.store';

type Numbered = PortView['numbers'][number];
/** What is prepared for the day a number lands, each part of each number under a key of its own. */
type Prepared = Record<string, string>;
const PARTS = { label: 'Label of', campaignId: 'Campaign of', forwardTo: 'Calls go to, of' } as const;
type Part = keyof typeof PARTS;
const keyOf = (e164: string, part: Part): string => `${e164} ${part}`;

/** The numbers of a request: which they are, and what is prepared for the day each of them lands. */
@Component({
  selector: 'lg-port-numbers',
  imports: [
    Cell,
    ChoiceField,
    Conflicts,
    Findings,
    MatButtonModule,
    MatInputModule,
    PhonePipe,
    ReactiveFormsModule,
    RouterLink,
    Saved,
    Table,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-conflicts [of]="saving" [names]="names()" />
    <lg-table class="tight" label="Numbers of the request" [rows]="port().numbers" [columns]="columns" [key]="key">
      <ng-template lgCell="label" [of]="port().numbers" let-n>
        @if (control(n, 'label'); as c) {
          <lg-text-field
            inCell
            [control]="c"
            [label]="'Label of ' + (n.e164 | phone)"
            [name]="'label-' + n.e164"
            [most]="60"
          />
        } @else {
          {{ n.label || '–' }}
        }
      </ng-template>
      <ng-template lgCell="campaign" [of]="port().numbers" let-n>
        @if (control(n, 'campaignId'); as c) {
          <lg-choice-field
            inCell
            [control]="c"
            [label]="'Campaign of ' + (n.e164 | phone)"
            [name]="'campaign-' + n.e164"
            [choices]="campaigns()"
            none="none yet"
          />
        } @else if (n.numberId) {
          <a [routerLink]="['/b', store.session.businessId(), 'numbers']" [queryParams]="{ open: n.numberId }"
            >in the inventory</a
          >
        }
      </ng-template>
      <ng-template lgCell="calls" [of]="port().numbers" let-n>
        @if (control(n, 'forwardTo'); as c) {
          <lg-text-field
            inCell
            mono
            [control]="c"
            [label]="'Calls to ' + (n.e164 | phone) + ' go to'"
            [name]="'calls-' + n.e164"
            placeholder="nowhere yet"
            inputmode="tel"
            [most]="20"
          />
        } @else {
          {{ n.forwardTo ? (n.forwardTo | phone) : '–' }}
        }
      </ng-template>
      <ng-template lgCell="end" [of]="port().numbers" let-n>
        @if (editable() && port().numbers.length > 1) {
          <button type="button" matButton class="plain" (click)="remove(n.e164)">take out</button>
        }
      </ng-template>
    </lg-table>
    <p class="said"><lg-saved [of]="saving" /></p>
    <div>
      <lg-findings [findings]="findings()" field="numbers" sayer="The losing carrier" [answers]="port().reasons" />
      @for (n of port().numbers; track n.e164) {
        <lg-findings [findings]="findings()" [field]="'numbers.' + n.e164" />
      }
    </div>
    @if (editable()) {
      <form class="add" (submit)="add($event)">
        <mat-form-field
          ><input
            matInput
            class="mono"
            placeholder="another number on the same account"
            aria-label="Another number"
            [formControl]="adding" /></mat-form-field
        ><button type="submit" matButton="outlined">Add</button>
      </form>
    }
  `,
  styles: `
    .said {
      min-height: 18px;
    }
    .add {
      display: flex;
      gap: 8px;
      max-width: 420px;
      margin-top: 8px;
    }
  `,
})
export class PortNumbers {
  readonly port = input.required<PortView>();
  readonly editable = input.required<boolean>();
  readonly findings = input.required<readonly NumberedFinding[]>();
  /** Saves what else stands on the page. @returns whether it is saved. */
  readonly before = input.required<() => Promise<boolean>>();
  protected readonly store = inject(PortStore);
  protected readonly key = (n: Numbered): string => n.e164;
  protected readonly columns: readonly Column<Numbered>[] = [
    { id: 'number', head: 'Number', width: 144, face: 'mono', text: (n) => formatPhone(n.e164) },
    {
      id: 'line',
      head: 'Line',
      width: 76,
      text: (n) => (n.portable === false ? n.whyNot : (n.kind ?? '')),
      face: (n) => (n.portable === false ? 'stop' : ''),
    },
    { id: 'label', head: 'Label here' },
    { id: 'campaign', head: 'Campaign for the day it lands' },
    { id: 'calls', head: 'Calls go to' },
    { id: 'end', head: 'What can be done', quiet: true, width: 76, right: true },
  ];
  protected readonly adding = text();
  protected readonly campaigns = computed(() =>
    this.store
      .campaigns()
      .map((c): Choice => ({ value: c.id, label: `${c.name}${c.state === 'registered' ? '' : ` (${c.state})`}` })),
  );
  protected readonly names = computed(() =>
    Object.fromEntries(
      this.port().numbers.flatMap((n) =>
        Object.entries(PARTS).map(([part, words]) => [keyOf(n.e164, part as Part), `${words} ${formatPhone(n.e164)}`]),
      ),
    ),
  );
  private readonly form = new FormRecord<FormControl<string>>({});
  readonly saving = new Autosave<Prepared>({
    save: (value, version) => this.save(value, version),
    read: async () => {
      const now = await this.store.read();
      this.store.take(now);
      return this.kept(now);
    },
    lastChange: () => this.store.lastChange(),
  });

  constructor() {
    effect(() => {
      const p = this.port();
      untracked(() => {
        const kept = this.kept(p);
        for (const k of Object.keys(this.form.controls)) if (!(k in kept.value)) this.form.removeControl(k);
        for (const k of Object.keys(kept.value)) if (!this.form.contains(k)) this.form.addControl(k, text());
        this.saving.take(`port ${p.id} numbers`, kept);
      });
    });
    autosaved<Prepared, Record<string, FormControl<string>>>(this.form, this.saving);
  }

  /** The control of one part of what is prepared; null where it cannot be changed any more. */
  protected control(n: Numbered, part: Part): FormControl<string> | null {
    return this.form.controls[keyOf(n.e164, part)] ?? null;
  }

  private preparing(p: PortView, n: Numbered): boolean {
    return this.store.session.isAdministrator() && !n.numberId && !['cancelled', 'returned'].includes(p.state);
  }

  private kept(p: PortView): Kept<Prepared> {
    const of = (n: Numbered): Record<Part, string> => ({
      label: n.label,
      campaignId: n.campaignId ?? '',
      forwardTo: n.forwardTo ? formatPhone(n.forwardTo) : '',
    });
    return {
      value: Object.fromEntries(
        p.numbers
          .filter((n) => this.preparing(p, n))
          .flatMap((n) => Object.entries(of(n)).map(([part, value]) => [keyOf(n.e164, part as Part), value])),
      ),
      version: p.version,
    };
  }

  /** Each number that is prepared otherwise than the server has it, one after the other. */
  private async save(value: Prepared, version: number): Promise<Kept<Prepared>> {
    // What the page shows may be older than what was read just now.
    let now = this.store.port() ?? this.port();
    for (const n of now.numbers) {
      const had = this.kept(now).value;
      const parts = (Object.keys(PARTS) as Part[]).filter((part) => keyOf(n.e164, part) in had);
      if (parts.every((part) => value[keyOf(n.e164, part)] === had[keyOf(n.e164, part)])) continue;
      const as = (part: Part): string => value[keyOf(n.e164, part)] ?? '';
      try {
        now = await this.store.prepare(
          { e164: n.e164, label: as('label'), campaignId: as('campaignId') || null, forwardTo: as('forwardTo') },
          version,
        );
        version = now.version;
      } catch (error) {
        if (!(error instanceof ApiProblem)) throw error;
        const fields = error.fields.map((f) => ({ ...f, field: keyOf(n.e164, f.field as Part) }));
        throw new ApiProblem(error.status, error.code, error.message, fields);
      }
    }
    return this.kept(now);
  }

  private async saved(): Promise<boolean> {
    return (await this.before()()) && (await this.saving.flush());
  }

  protected async add(event: Event): Promise<void> {
    event.preventDefault();
    const add = this.adding.value;
    if (add.trim() === '' || !(await this.saved())) return;
    if (await this.store.changeNumbers({ add, remove: [] }, this.port().version)) this.adding.reset();
  }

  protected async remove(e164: string): Promise<void> {
    if (await this.saved()) await this.store.changeNumbers({ add: '', remove: [e164] }, this.port().version);
  }
}
