import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { IntakeView } from '@long-gate/contracts';
import { Confirm } from '../../../parts/confirm';
import { CountPipe, MomentPipe } from '../../../parts/format';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { IntakeStore } from './intake.store';

const STATES: Record<IntakeView['state'], string> = {
  reading: 'handing in',
  storing: 'being stored',
  stored: 'stored',
  undoing: 'being taken back',
  undone: 'taken back',
  cancelled: 'cancelled',
};
/** What became of the rows of an intake, so that they add up to the rows of its file. */
function resultOf({ result: r, total }: IntakeView): string {
  if (!r) return '';
  const n = (count: number): string => count.toLocaleString('en-US');
  const known = r.known + r.changed;
  const beside = [
    r.changed > 0 ? `${n(r.changed)} of those known filled in` : '',
    r.revoked > 0 ? `${n(r.revoked)} said no` : '',
    r.proven > 0 ? `${n(r.proven)} consents proven` : '',
  ].filter(Boolean);
  return `${n(r.stored)} stored + ${n(known)} known already + ${n(r.repeats)} repeats + ${n(r.refused)} refused + ${n(r.dropped)} dropped = ${n(total)} rows${beside.length > 0 ? `; ${beside.join(', ')}` : ''}`;
}

/** What was brought in before: what became of it, what was cut off, and taking one back. */
@Component({
  selector: 'lg-earlier-intakes',
  imports: [Cell, CountPipe, MatButtonModule, MomentPipe, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Earlier intakes</h2>
    <lg-table label="Earlier intakes" [rows]="intakes.earlier()" [columns]="columns" [key]="id">
      <ng-template lgCell="when" [of]="intakes.earlier()" let-i>{{ i.createdAt | moment }}</ng-template>
      <ng-template lgCell="outcome" [of]="intakes.earlier()" let-i>
        @if (i.state === 'reading') {
          <span class="hold">{{ i.received | count }} of {{ i.total | count }} rows have arrived.</span>
          @if (i.received < i.total) {
            Choose the same file again, and it goes on from there.
          }
          @if (intakes.session.mayEdit()) {
            @if (i.received === i.total) {
              <button type="button" matButton class="plain" [disabled]="intakes.acting.busy()" (click)="finish(i)">
                Store it
              </button>
            }
            <button type="button" matButton class="plain" [disabled]="intakes.acting.busy()" (click)="throwAway(i)">
              Throw it away
            </button>
          }
        } @else if (i.state === 'storing') {
          Nothing of it is shown before all of it is there.
          @if (intakes.session.mayEdit()) {
            <button type="button" matButton class="plain" [disabled]="intakes.acting.busy()" (click)="throwAway(i)">
              Cancel it
            </button>
          }
        } @else {
          {{ outcomeOf(i) }}
          @if (i.undo === '' && intakes.session.mayEdit()) {
            <button type="button" matButton class="plain" [disabled]="intakes.acting.busy()" (click)="undo(i)">
              Take it back
            </button>
          }
        }
      </ng-template>
    </lg-table>
  `,
  styles: `
    h2 {
      margin: 18px 0 6px;
    }
  `,
})
export class EarlierIntakes {
  protected readonly intakes = inject(IntakeStore);
  private readonly confirm = inject(Confirm);
  protected readonly id = (i: IntakeView): string => i.id;
  protected readonly outcomeOf = resultOf;
  protected readonly columns: readonly Column<IntakeView>[] = [
    { id: 'when', head: 'When', face: 'soft' },
    { id: 'from', head: 'From', text: (i) => i.fileName, face: 'strong', by: (i) => i.fileName },
    { id: 'said', head: 'Where it came from', text: (i) => i.attestation, face: 'soft' },
    { id: 'rows', head: 'Rows', right: true, text: (i) => i.total.toLocaleString('en-US'), by: (i) => i.total },
    { id: 'state', head: 'State', text: (i) => STATES[i.state], by: (i) => i.state },
    { id: 'outcome', head: 'Outcome' },
  ];

  /** Everything has arrived: it is stored as it was handed in. */
  protected async finish(i: IntakeView): Promise<void> {
    await this.intakes.acting.did(() => this.intakes.finish(i.id), 'Stored by a job; it goes on by itself.');
  }
  protected async throwAway(i: IntakeView): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Throw the intake of “${i.fileName}” away?`,
      line: `${i.received.toLocaleString('en-US')} of ${i.total.toLocaleString('en-US')} rows were handed in; none of them is shown, and none will be. What they revoked stays.`,
      yes: 'Throw it away',
      no: 'Keep it',
    });
    if (!yes) return;
    await this.intakes.acting.did(() => this.intakes.cancel(i.id), 'Thrown away; nothing was stored.');
    this.intakes.again();
  }
  protected async undo(i: IntakeView): Promise<void> {
    await this.intakes.acting.did(
      () => this.intakes.undo(i.id),
      'Being taken back. What it revoked stays: the ledger never forgets.',
    );
    this.intakes.again();
  }
}
