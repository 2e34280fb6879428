import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { PortView } from '@long-gate/contracts';
import type { Finding, Span } from '@long-gate/core';
import { MomentPipe } from '../../../parts/format';
import { MarkedText } from '../../../parts/marked-text';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { FACT_LABELS } from './port-words';

/** The request laid beside the old carrier's record, field by field, with the differing characters marked. */
@Component({
  selector: 'lg-port-record',
  imports: [Cell, Table, MatButtonModule, MarkedText, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Beside the old carrier’s record</h2>
    @switch (port().record.state) {
      @case ('not asked') {
        <p class="soft">
          Some carriers hand out their record of the account (customer service record). What differs from it is what
          they would reject.
        </p>
      }
      @case ('none') {
        <p class="soft">
          {{ port().losingCarrier }} hands out no record (asked {{ port().record.askedAt | moment }}). Go by the bill,
          letter by letter.
        </p>
      }
      @case ('answered') {
        @if (rows().length === 0) {
          <p class="soft">Answered {{ port().record.askedAt | moment }}. Administrators see it.</p>
        } @else {
          <lg-table label="The request beside the record" [rows]="rows()" [columns]="columns" [key]="key">
            <ng-template lgCell="here" [of]="rows()" let-r
              ><lg-marked-text [text]="r.ours || '(empty)'" [findings]="r.oursMarks"
            /></ng-template>
            <ng-template lgCell="there" [of]="rows()" let-r
              ><lg-marked-text [text]="r.theirs || '(empty)'" [findings]="r.theirsMarks"
            /></ng-template>
            <ng-template lgCell="reviewer" [of]="rows()" let-r>
              <span
                class="strong"
                [class]="r.likeness === 'same' ? 'pass' : r.likeness === 'doubtful' ? 'hold' : 'stop'"
                >{{ r.likeness === 'same' && r.ours !== r.theirs ? 'same, spelled otherwise' : r.likeness }}</span
              >
              @if (r.likeness !== 'same') {
                <span class="soft"> {{ r.why }}</span>
              }
            </ng-template>
            <ng-template lgCell="take" [of]="rows()" let-r>
              @if (mayAsk() && r.ours !== r.theirs) {
                <button
                  type="button"
                  matButton
                  class="plain"
                  [attr.aria-label]="'Take the record’s words for ' + label(r.field)"
                  (click)="taken.emit({ field: r.field, value: r.theirs })"
                >
                  take the record’s
                </button>
              }
            </ng-template>
          </lg-table>
          <p class="soft small">Asked {{ port().record.askedAt | moment }}.</p>
        }
      }
    }
    @if (mayAsk()) {
      <p>
        <button type="button" matButton="outlined" (click)="asked.emit()">
          {{ port().record.state === 'not asked' ? 'Ask for the record' : 'Ask again' }}
        </button>
      </p>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    h2 {
      margin: 18px 0 8px;
    }
    p {
      margin: 6px 0;
    }
  `,
})
export class PortRecord {
  readonly port = input.required<PortView>();
  readonly mayAsk = input(false);
  readonly asked = output();
  /** The record's words are wanted in a field. */
  readonly taken = output<{ field: PortView['record']['fields'][number]['field']; value: string }>();
  protected readonly label = (field: string): string => FACT_LABELS[field] ?? field;
  protected readonly rows = computed(() =>
    this.port().record.fields.map((f) => {
      const marks = (spans: readonly Span[]): (Finding & { no: number })[] =>
        spans.map((span) => ({
          code: 'port-record-differs',
          severity: f.likeness === 'doubtful' ? 'risk' : 'block',
          field: f.field,
          span,
          message: f.why,
          fix: '',
          no: 0,
        }));
      return { ...f, oursMarks: marks(f.oursDiffer), theirsMarks: marks(f.theirsDiffer) };
    }),
  );
  protected readonly key = (r: { field: string }): string => r.field;
  protected readonly columns: readonly Column<{ field: string }>[] = [
    { id: 'field', head: 'Field', text: (r) => FACT_LABELS[r.field] ?? r.field, face: 'soft' },
    { id: 'here', head: 'Here', face: 'anywhere' },
    { id: 'there', head: 'In the record', face: 'anywhere' },
    { id: 'reviewer', head: 'A reviewer there', face: 'anywhere' },
    { id: 'take', head: 'What can be done', quiet: true, right: true },
  ];
}
