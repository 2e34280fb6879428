import { ChangeDetectionStrategy, Component, inject, linkedSignal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CountryView } from '@long-gate/contracts';
import { Confirm } from '../../../parts/confirm';
import { Docket } from '../../../parts/docket/docket';
import { Facet } from '../../../parts/facet';
import { CountPipe, MomentPipe } from '../../../parts/format';
import { List } from '../../../parts/list/list';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { NumbersTabs } from '../numbers-tabs';
import { CountriesStore } from './countries.store';

const TONE: Record<CountryView['state'], string> = {
  open: 'pass',
  'in review': 'hold',
  refused: 'stop',
  'registration needed': 'note',
  closed: 'soft',
};

/** Countries, opened one by one after their rules were read. */
@Component({
  selector: 'lg-countries',
  imports: [Cell, Docket, Facet, List, Table, MatCheckboxModule, MatButtonModule, NumbersTabs, CountPipe, MomentPipe],
  providers: [CountriesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="countries" [store]="store">
      <lg-numbers-tabs tabs />
      @if (store.heldBack(); as n) {
        <p above class="hold held">
          {{ n | count }} contact {{ n === 1 ? 'number lives' : 'numbers live' }} in a country that is not open; texts
          to them stop at post 2.
        </p>
      }
      <lg-facet
        facets
        label="Countries"
        [values]="store.shows()"
        (picked)="store.set({ show: $event === 'any' ? null : $event })"
      />
      <lg-table
        name="countries"
        label="Countries"
        [rows]="store.shown()"
        [columns]="columns"
        [key]="code"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-template lgCell="name" [of]="store.shown()" let-c>
          <button type="button" matButton class="plain strong" (click)="store.choose(c.code); $event.stopPropagation()">
            {{ c.name }}
          </button>
        </ng-template>
        <ng-container none>{{ store.read() ? 'None here.' : 'Reading…' }}</ng-container>
      </lg-table>
      @if (store.chosen(); as c) {
        <lg-docket
          docket
          kind="Country"
          [name]="c.name"
          [next]="next(c)"
          history="country"
          [object]="c.code"
          (closed)="store.choose(null)"
        >
          <p name [class]="tone[c.state]">{{ c.state }}{{ c.note ? ': ' + c.note : '' }}</p>
          @if (c.contacts > 0 && c.state !== 'open') {
            <div step>{{ c.contacts | count }} of your contact numbers are held back at post 2 until then.</div>
          }
          <h3>Its rules</h3>
          <dl class="facts">
            <dt>Works from</dt>
            <dd>{{ c.kinds.join(', ') }}</dd>
            <dt>Admission</dt>
            <dd>{{ c.registration ? 'the business has to register' : 'none needed' }}</dd>
            <dt>Sender IDs</dt>
            <dd>{{ c.senderId }}</dd>
            <dt>Replies</dt>
            <dd>{{ c.twoWay ? 'arrive' : 'cannot arrive: one-way' }}</dd>
            <dt>Hours</dt>
            <dd>{{ c.hours }}, local time</dd>
            <dt>Opting out</dt>
            <dd>{{ c.optOut }}</dd>
            <dt>Source</dt>
            <dd>{{ c.source }}, checked {{ c.checked }}</dd>
          </dl>
          <p class="soft small">The product’s knowledge, not legal advice.</p>
          @if (store.session.isAdministrator()) {
            @if (c.state === 'open') {
              <button
                type="button"
                matButton="outlined"
                class="danger"
                [disabled]="store.acting.busy()"
                (click)="close(c)"
              >
                Close it…
              </button>
            } @else if (c.state !== 'in review') {
              <mat-checkbox class="check" [checked]="read()" (change)="read.set($event.checked)"
                >I have read the rules of {{ c.name }}</mat-checkbox
              >
              <button
                type="button"
                matButton="filled"
                [disabled]="store.acting.busy() || !read()"
                (click)="store.openCountry(c)"
              >
                {{ c.registration ? 'Ask for admission' : 'Open ' + c.name }}
              </button>
              <p class="soft small">No cost now or monthly; it can be closed at any time.</p>
            }
          }
          @if (c.changedAt) {
            <p class="soft small">Changed {{ c.changedAt | moment }}.</p>
          }
        </lg-docket>
      }
    </lg-list>
  `,
  styles: `
    .held {
      margin-bottom: 10px;
    }
    .check {
      display: block;
      margin: 12px 0;
    }
    h3 {
      margin: 12px 0 6px;
    }
  `,
})
export class CountriesPage {
  protected readonly store = inject(CountriesStore);
  private readonly confirm = inject(Confirm);
  protected readonly tone = TONE;
  protected readonly read = linkedSignal({ source: () => this.store.open(), computation: () => false });
  protected readonly code = (c: CountryView): string => c.code;
  protected readonly columns: readonly Column<CountryView>[] = [
    { id: 'name', head: 'Country', width: 170, by: (c) => c.name },
    {
      id: 'state',
      head: 'State',
      width: 160,
      by: (c) => c.state,
      text: (c) => c.state,
      face: (c) => TONE[c.state],
    },
    {
      id: 'contacts',
      head: 'Contacts there',
      width: 130,
      right: true,
      by: (c) => c.contacts,
      text: (c) => c.contacts.toLocaleString('en-US'),
    },
    { id: 'kinds', head: 'What can text there', least: 130, leaves: 1, text: (c) => c.kinds.join(', '), face: 'soft' },
    { id: 'senders', head: 'Sender IDs', least: 130, leaves: 3, by: (c) => c.senderId, text: (c) => c.senderId },
    { id: 'replies', head: 'Replies', width: 120, leaves: 2, text: (c) => (c.twoWay ? 'arrive' : 'cannot arrive') },
  ];

  protected next(c: CountryView): { title: string; why: string; tone: 'pass' | 'hold' | 'stop' } {
    switch (c.state) {
      case 'open':
        return { title: 'Open.', why: 'Texts may go there from what can text there.', tone: 'pass' };
      case 'in review':
        return { title: 'Wait for the registry.', why: 'Admission takes some days.', tone: 'hold' };
      case 'refused':
        return { title: 'Mend and ask again.', why: c.note, tone: 'stop' };
      default:
        return {
          title: 'Read the rules, then open it.',
          why: c.registration
            ? 'The business itself has to be admitted first; that takes some days.'
            : 'It is open at once.',
          tone: 'hold',
        };
    }
  }
  protected async close(c: CountryView): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Close ${c.name}?`,
      line: `At once nothing is sent there any more: ${c.contacts.toLocaleString('en-US')} contact numbers live there. No cost; it can be opened again.`,
      yes: `Close ${c.name}`,
    });
    if (yes) await this.store.closeCountry(c);
  }
}
