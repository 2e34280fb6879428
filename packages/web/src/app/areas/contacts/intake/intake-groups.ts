import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormGroup, type FormControl } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { CountPipe, PhonePipe } from '../../../parts/format';
import { text } from '../../../parts/form/controls';
import { TextField } from '../../../parts/form/text-field';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import type { ColumnUse } from './columns';
import type { Group, Outcome, ReadRow } from './reading';

/** A group of rows alike, or one row of the group that is opened. */
interface Line {
  key: string;
  group: Group;
  row: ReadRow | null;
}
const WORDS: Record<Outcome, string> = {
  ok: 'ok',
  look: 'to look at',
  known: 'known already',
  repeat: 'repeat',
  refused: 'refused',
};
const keyOf = (g: Pick<Group, 'outcome' | 'reason'>): string => `${g.outcome}|${g.reason}`;
const EDITED = ['phone', 'firstName', 'lastName', 'email'] as const;

/** The rows of a file by what they are and why, to be opened, mended in place, kept or dropped. */
@Component({
  selector: 'lg-intake-groups',
  imports: [Cell, CountPipe, MatButtonModule, MatCheckboxModule, PhonePipe, Table, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-table label="Rows by what they are" [rows]="lines()" [columns]="columns" [key]="lineKey" [face]="lineFace">
      <ng-template lgCell="keep" [of]="lines()" let-l>
        @if (l.row; as m) {
          <mat-checkbox
            [aria-label]="'Keep row ' + m.row"
            [checked]="m.keep"
            [disabled]="l.group.outcome === 'refused' || !l.group.keep || locked()"
            (change)="keepRow(m, $event.checked)"
          />
        } @else {
          <mat-checkbox
            [aria-label]="'Keep: ' + words[l.group.outcome] + ' ' + l.group.reason"
            [checked]="l.group.keep"
            [disabled]="l.group.outcome === 'refused' || locked()"
            (change)="keep(l.group, $event.checked)"
          />
        }
      </ng-template>
      <ng-template lgCell="rows" [of]="lines()" let-l>
        @if (l.row; as m) {
          <span class="soft">row {{ m.row }}</span>
        } @else {
          <button
            type="button"
            matButton
            class="plain"
            [attr.aria-expanded]="opener() === l.key"
            (click)="open(l.group)"
          >
            {{ l.group.count | count }}
          </button>
        }
      </ng-template>
      <ng-template lgCell="why" [of]="lines()" let-l>
        @if (l.row; as m) {
          @if (editing() === m.row) {
            <form class="mend" (submit)="mend(m); $event.preventDefault()">
              @for (f of editable(); track f.use) {
                <lg-text-field
                  [control]="form.controls[f.use]!"
                  [label]="f.label"
                  [name]="'row-' + f.use"
                  [mono]="f.use === 'phone'"
                />
              }
              <button type="submit" matButton="filled">Take it so</button>
              <button type="button" matButton="outlined" (click)="editing.set(0)">Cancel</button>
            </form>
          } @else {
            {{ m.firstName }} {{ m.lastName }} <span class="soft">{{ m.email }}</span>
            @if (!locked()) {
              <button type="button" matButton class="plain small" (click)="begin(m)">Mend…</button>
            }
          }
        } @else {
          {{ l.group.reason || 'well-formed' }}
        }
      </ng-template>
      <ng-template lgCell="examples" [of]="lines()" let-l>
        @if (l.row; as m) {
          {{ m.phone || '(empty)' }}{{ m.e164 ? ' → ' + (m.e164 | phone) : '' }}
        } @else {
          @for (e of l.group.examples; track e.row) {
            <span class="soft">row {{ e.row }}</span> {{ e.phone || '(empty)'
            }}{{ e.e164 && e.e164 !== e.phone ? ' → ' + (e.e164 | phone) : '' }}{{ $last ? '' : '; ' }}
          }
        }
      </ng-template>
    </lg-table>
    @if (members()?.more) {
      <p class="soft small">The first 500 of the opened ones are shown.</p>
    }
  `,
  styles: `
    .mend {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 10px;
      align-items: end;
      white-space: normal;
      padding: 6px 0;
    }
    .mend lg-text-field {
      width: 150px;
    }
    .mend button {
      margin-bottom: 14px;
    }
  `,
})
export class IntakeGroups {
  readonly groups = input.required<readonly Group[]>();
  /** Rows of the group that is opened; null while they are being read. */
  readonly members = input.required<{ rows: ReadRow[]; more: boolean } | null>();
  /** What the columns of the file are taken for: only what stands in it can be mended. */
  readonly uses = input.required<readonly ColumnUse[]>();
  readonly locked = input(false);
  readonly opened = output<Group | null>();
  readonly kept = output<{ group: Group; keep: boolean }>();
  readonly keptRow = output<{ row: number; keep: boolean }>();
  readonly mended = output<{ row: number; values: Partial<Record<ColumnUse, string>> }>();

  protected readonly words = WORDS;
  protected readonly opener = signal('');
  protected readonly editing = signal(0);
  protected readonly form = new FormGroup<Record<string, FormControl<string>>>(
    Object.fromEntries(EDITED.map((f) => [f, text()])),
  );
  protected readonly editable = computed(() =>
    (
      [
        ['phone', 'Number'],
        ['firstName', 'First name'],
        ['lastName', 'Last name'],
        ['email', 'E-mail'],
      ] as const
    )
      .filter(([use]) => this.uses().includes(use))
      .map(([use, label]) => ({ use, label })),
  );
  protected readonly lineKey = (l: Line): string => l.key;
  protected readonly lineFace = (l: Line): string => (l.row ? 'member' : '');
  /** The groups, with the rows of the opened one below it. */
  protected readonly lines = computed((): Line[] =>
    this.groups().flatMap((group): Line[] => {
      const key = keyOf(group);
      const rows = this.opener() === key ? (this.members()?.rows ?? []) : [];
      return [{ key, group, row: null }, ...rows.map((row) => ({ key: `${key}|${row.row}`, group, row }))];
    }),
  );
  protected readonly columns: readonly Column<Line>[] = [
    { id: 'keep', head: 'Keep' },
    { id: 'rows', head: 'Rows', right: true },
    {
      id: 'outcome',
      head: 'Outcome',
      text: (l) => (l.row ? '' : WORDS[l.group.outcome]),
      face: (l) => `nowrap ${l.group.outcome === 'refused' ? 'stop' : l.group.outcome === 'look' ? 'hold' : ''}`,
    },
    { id: 'why', head: 'Why' },
    { id: 'examples', head: 'Examples', face: 'mono small' },
  ];

  protected open(g: Group): void {
    const key = keyOf(g);
    const now = this.opener() === key ? '' : key;
    this.opener.set(now);
    this.editing.set(0);
    this.opened.emit(now === '' ? null : g);
  }
  protected keep(group: Group, keep: boolean): void {
    this.opener.set('');
    this.kept.emit({ group, keep });
  }
  protected keepRow(r: ReadRow, keep: boolean): void {
    this.keptRow.emit({ row: r.row, keep });
  }
  protected begin(m: ReadRow): void {
    for (const f of EDITED) this.form.controls[f]?.setValue(m[f]);
    this.editing.set(m.row);
  }
  protected mend(m: ReadRow): void {
    const values = Object.fromEntries(this.editable().map(({ use }) => [use, this.form.controls[use]?.value ?? '']));
    this.editing.set(0);
    this.opener.set('');
    this.mended.emit({ row: m.row, values });
  }
}
