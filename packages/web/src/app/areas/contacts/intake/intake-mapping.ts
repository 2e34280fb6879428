import { ChangeDetectionStrategy, Component, computed, effect, input, output, signal, untracked } from '@angular/core';
import { FormControl } from '@angular/forms';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { ContactField, KnownRule } from '@long-gate/contracts';
import type { DateOrder } from '@long-gate/core';
import { ChoiceField } from '../../../parts/form/choice-field';
import { text } from '../../../parts/form/controls';
import { usesOf, type ColumnUse } from './columns';
import type { FromWorker, Mapping } from './intake.worker';
import { DELIMITERS, ENCODINGS, type SourceChoices } from './sources';

export type Opened = Extract<FromWorker, { kind: 'opened' }>;
const REGIONS = [
  { value: 'US', label: 'United States' },
  { value: 'CA', label: 'Canada' },
  { value: 'GB', label: 'United Kingdom' },
  { value: 'AU', label: 'Australia' },
  { value: 'DE', label: 'Germany' },
  { value: 'FR', label: 'France' },
  { value: 'MX', label: 'Mexico' },
  { value: 'SE', label: 'Sweden' },
];
const RULES: { value: KnownRule; label: string }[] = [
  { value: 'fill', label: 'fill blanks' },
  { value: 'overwrite', label: 'overwrite' },
  { value: 'leave', label: 'leave' },
];
/** Columns that are drawn in one breath. */
const AT_ONCE = 3;
/** Which rule a column falls under, and what it is called. */
const RULED: Partial<Record<ColumnUse, string>> = {
  fullName: 'name',
  firstName: 'name',
  lastName: 'name',
  email: 'email',
  street: 'address',
  city: 'address',
  stateCode: 'address',
  postalCode: 'address',
  language: 'language',
  further: 'further',
};
const RULE_WORDS: Record<string, string> = {
  name: 'Names',
  email: 'E-mails',
  address: 'Addresses',
  language: 'Languages',
  further: 'Further numbers',
};
/** A further number takes the place of none. */
const FURTHER_RULES: typeof RULES = [
  { value: 'fill', label: 'add' },
  { value: 'leave', label: 'leave out' },
];

/** What each column of a file is taken for, and how the file is to be read where it leaves that open. */
@Component({
  selector: 'lg-intake-mapping',
  imports: [ChoiceField, MatCheckboxModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="how">
      @if (opened().sheets; as sheets) {
        @if (sheets.length > 1) {
          <lg-choice-field [control]="sheet" label="Sheet" [choices]="named(sheets)" name="sheet" />
        }
      }
      @if (opened().delimiter !== undefined) {
        <lg-choice-field [control]="delimiter" label="Between cells" [choices]="delimiters" name="delimiter" />
        <lg-choice-field [control]="encoding" label="Encoding" [choices]="encodings" name="encoding" />
      }
      <lg-choice-field [control]="region" label="Numbers are written as in" [choices]="regions" name="region" />
      @if (hasDates()) {
        <lg-choice-field
          [control]="dateOrder"
          label="Days such as 3/4/2027"
          none="not said"
          [choices]="orders"
          name="date-order"
        />
      }
      @if (!opened().headed) {
        <mat-checkbox [checked]="header()" (change)="header.set($event.checked)">First row is the heading</mat-checkbox>
      }
    </div>
    <div class="map" role="group" aria-label="Columns">
      @for (c of drawn(); track $index; let i = $index) {
        <div>
          <lg-choice-field [control]="controls()[i]!" [label]="c" [choices]="uses()" [name]="'use' + i" />
          @for (s of opened().sample; track $index) {
            <div class="eg">{{ s[i] || '–' }}</div>
          }
        </div>
      }
    </div>
    @if (ruled().length > 0 && drawn().length === opened().columns.length) {
      <div class="how" role="group" aria-label="Those who are known already">
        <span class="soft">Of those who are here already:</span>
        @for (r of ruled(); track r.rule) {
          <lg-choice-field
            [control]="ruleOf(r.rule)"
            [label]="r.label"
            [choices]="rulesOf(r.rule)"
            [name]="'rule-' + r.rule"
          />
        }
      </div>
    }
  `,
  styles: `
    .how {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 16px;
      align-items: end;
    }
    .how lg-choice-field {
      width: 150px;
    }
    .how > span,
    mat-checkbox {
      margin-bottom: 22px;
    }
    .map {
      display: flex;
      gap: 12px;
      overflow-x: auto;
      padding: 6px 0 12px;
    }
    .map > div {
      flex: 0 0 158px;
      min-width: 0;
    }
    .eg {
      font-family: var(--mono);
      font-size: 12px;
      color: var(--ink-soft);
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  `,
})
export class IntakeMapping {
  readonly opened = input.required<Opened>();
  readonly fields = input.required<readonly ContactField[]>();
  /** How its columns were taken the last time; null for a shape never seen. */
  readonly remembered = input.required<ColumnUse[] | null>();
  /** Nothing is to be changed any more. */
  readonly locked = input(false);
  readonly mapped = output<Mapping>();
  /** The file is to be read as something else. */
  readonly reopened = output<SourceChoices>();
  readonly ruling = output<Record<string, KnownRule>>();

  protected readonly delimiters = DELIMITERS;
  protected readonly encodings = ENCODINGS.map((e) => ({ value: e, label: e }));
  protected readonly regions = REGIONS;
  protected readonly rulesOf = (rule: string): typeof RULES => (rule === 'further' ? FURTHER_RULES : RULES);
  protected readonly orders = [
    { value: 'month first', label: 'month first: March 4' },
    { value: 'day first', label: 'day first: 3 April' },
  ];
  protected readonly uses = computed(() => usesOf(this.fields()));
  protected readonly controls = signal<FormControl<string>[]>([]);
  /** Columns come a few at a time, so that a wide file never holds the page up. */
  private readonly columns = signal(0);
  protected readonly drawn = computed(() => this.opened().columns.slice(0, this.columns()));
  protected readonly header = signal(true);
  protected readonly sheet = text();
  protected readonly delimiter = text();
  protected readonly encoding = text();
  protected readonly region = text('US');
  protected readonly dateOrder = text();
  private readonly taken = signal<ColumnUse[]>([]);
  private readonly rulesNow = new Map<string, FormControl<string>>();
  private quiet = false;
  protected readonly hasDates = computed(() => {
    const dates = new Set(this.fields().flatMap((f) => (f.kind === 'date' ? [`own:${f.id}`] : [])));
    return this.taken().some((u) => u === 'consentDate' || dates.has(u));
  });
  protected readonly ruled = computed(() => {
    const own = new Map(this.fields().map((f) => [`own:${f.id}`, f]));
    const found = new Map<string, string>();
    for (const u of this.taken()) {
      const rule = RULED[u];
      const field = own.get(u);
      if (rule) found.set(rule, RULE_WORDS[rule] ?? rule);
      if (field) found.set(field.id, field.name);
    }
    return [...found].map(([rule, label]) => ({ rule, label }));
  });

  constructor() {
    effect(() => {
      const o = this.opened();
      untracked(() => this.begin(o));
    });
    effect((done) => {
      if (this.columns() >= this.opened().columns.length) return;
      const next = setTimeout(() => this.columns.update((n) => n + AT_ONCE));
      done(() => clearTimeout(next));
    });
    effect(() => {
      this.header();
      untracked(() => this.tell());
    });
    effect(() => {
      const locked = this.locked();
      for (const c of [...this.controls(), this.sheet, this.delimiter, this.encoding, this.region, this.dateOrder])
        if (locked) c.disable({ emitEvent: false });
        else c.enable({ emitEvent: false });
    });
    for (const [control, choice] of [
      [this.sheet, 'sheet'],
      [this.delimiter, 'delimiter'],
      [this.encoding, 'encoding'],
    ] as const)
      control.valueChanges.subscribe((value) => {
        if (!this.quiet) this.reopened.emit({ ...this.choices(), [choice]: value });
      });
    for (const control of [this.region, this.dateOrder]) control.valueChanges.subscribe(() => this.tell());
  }

  protected named(sheets: readonly string[]): { value: string; label: string }[] {
    return sheets.map((s) => ({ value: s, label: s }));
  }
  protected ruleOf(rule: string): FormControl<string> {
    let control = this.rulesNow.get(rule);
    if (!control) {
      control = text('fill');
      control.valueChanges.subscribe(() =>
        this.ruling.emit(Object.fromEntries([...this.rulesNow].map(([k, c]) => [k, c.value as KnownRule]))),
      );
      this.rulesNow.set(rule, control);
    }
    return control;
  }

  private choices(): SourceChoices {
    return {
      ...(this.sheet.value ? { sheet: this.sheet.value } : {}),
      ...(this.delimiter.value ? { delimiter: this.delimiter.value } : {}),
      ...(this.encoding.value ? { encoding: this.encoding.value } : {}),
    };
  }
  private begin(o: Opened): void {
    this.quiet = true;
    this.sheet.setValue(o.sheet ?? '');
    this.delimiter.setValue(o.delimiter ?? '');
    this.encoding.setValue(o.delimiter === undefined ? '' : o.encoding);
    this.dateOrder.setValue(o.dateOrder ?? '', { emitEvent: false });
    this.quiet = false;
    const uses = this.remembered() ?? o.uses;
    const controls = uses.map((u) => text(u));
    for (const [i, control] of controls.entries())
      control.valueChanges.subscribe((use) => {
        // A use is given once: whoever had it is left out.
        for (const [k, other] of controls.entries())
          if (k !== i && use !== 'ignore' && other.value === use) other.setValue('ignore', { emitEvent: false });
        this.tell();
      });
    this.columns.set(0);
    this.controls.set(controls);
    this.header.set(o.header);
    this.tell();
  }
  private tell(): void {
    const uses = this.controls().map((c) => c.value as ColumnUse);
    if (uses.length === 0) return;
    this.taken.set(uses);
    this.mapped.emit({
      uses,
      header: this.header(),
      region: this.region.value,
      dateOrder: (this.dateOrder.value || null) as DateOrder | null,
    });
  }
}
