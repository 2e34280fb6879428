import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { NumberRequest } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { MomentPipe } from '../../parts/format';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { SessionFacade } from '../../state/session.facade';
import { NumberRequestsStore } from './ask-number.store';

const STATES: Record<NumberRequest['state'], string> = {
  sent: 'asked by e-mail',
  'held back': 'not sent',
  'came back': 'the e-mail came back',
  complained: 'complained of it',
  answered: 'gave a number; its YES is awaited',
  confirmed: 'confirmed: texts go to it',
  lapsed: 'did not answer in 30 days',
};

const FACES: Partial<Record<NumberRequest['state'], string>> = {
  confirmed: 'pass',
  lapsed: 'soft',
  'held back': 'hold',
  'came back': 'stop',
  complained: 'stop',
};

/** Who was asked for a better number, and what came of it. */
@Component({
  selector: 'lg-number-requests',
  imports: [Cell, MomentPipe, RouterLink, Table],
  providers: [NumberRequestsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.rows().length > 0) {
      <h2>Asked for a better number</h2>
      <lg-table
        name="number-requests"
        label="Asked for a better number"
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        (near)="store.more()"
      >
        <ng-template lgCell="name" [of]="store.rows()" let-q>
          <a
            class="strong"
            [routerLink]="['/b', session.businessId(), 'contacts']"
            [queryParams]="{ open: q.contactId }"
            >{{ q.name || q.email }}</a
          >
        </ng-template>
        <ng-template lgCell="asked" [of]="store.rows()" let-q
          >{{ q.askedAt | moment: 'short' }}, {{ q.askedBy }}</ng-template
        >
      </lg-table>
    }
  `,
  styles: `
    h2 {
      margin: 20px 0 4px;
    }
  `,
})
export class NumberRequests {
  protected readonly store = inject(NumberRequestsStore);
  protected readonly session = inject(SessionFacade);
  protected readonly id = (q: NumberRequest): string => q.id;
  protected readonly columns: readonly Column<NumberRequest>[] = [
    { id: 'name', head: 'Contact', least: 110 },
    { id: 'old', head: 'Not reached at', width: 140, text: (q) => formatPhone(q.oldE164), face: 'mono' },
    { id: 'asked', head: 'Asked', least: 150 },
    {
      id: 'state',
      head: 'What came of it',
      least: 190,
      share: 1.4,
      text: (q) =>
        `${STATES[q.state]}${q.why ? `: ${q.why}` : ''}${q.state === 'sent' && q.refused ? `; gave ${q.refused}` : ''}`,
      face: (q) => FACES[q.state] ?? '',
    },
    { id: 'new', head: 'New number', width: 140, text: (q) => (q.newE164 ? formatPhone(q.newE164) : ''), face: 'mono' },
  ];
}
