import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { DispatchView } from '@long-gate/contracts';
import { CountPipe, MomentPipe } from '../../parts/format';
import { Facet } from '../../parts/facet';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { DispatchListStore } from './dispatch-list.store';

const sum = (d: DispatchView, ...states: string[]): number => states.reduce((n, s) => n + (d.counts[s] ?? 0), 0);
const counted = (id: string, head: string, leaves: number | undefined, ...states: string[]): Column<DispatchView> => ({
  id,
  head,
  width: 92,
  right: true,
  ...(leaves === undefined ? {} : { leaves }),
  text: (d) => sum(d, ...states).toLocaleString('en-US'),
  face: (d) => (id === 'held' && sum(d, ...states) > 0 ? 'hold' : ''),
});

/** All dispatches, and how far each has come. */
@Component({
  selector: 'lg-dispatch-list',
  imports: [Cell, Facet, List, Table, MatButtonModule, MatTooltipModule, RouterLink, MomentPipe, CountPipe],
  providers: [DispatchListStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="dispatches" [store]="store">
      <ng-container actions>
        <a matButton="outlined" routerLink="calendar">Calendar</a>
        @if (store.session.mayEdit()) {
          <a matButton="filled" routerLink="new">Write a dispatch</a>
        }
      </ng-container>
      <ng-container nothing>
        <h2>No dispatches yet</h2>
        <p>
          One message to one audience. Before anything leaves, the gate preview shows who passes, who is held and until
          when, and who is stopped and by what.
        </p>
        @if (store.session.mayEdit()) {
          <a matButton="filled" routerLink="new">Write a dispatch</a>
        }
      </ng-container>
      <ng-container facets>
        <lg-facet label="Show" [values]="store.shows()" (picked)="pick('show', $event)" />
        @if (store.categories().length > 0) {
          <lg-facet label="Category" [values]="store.categories()" (picked)="pick('category', $event)" />
        }
        @if (store.efforts().length > 0) {
          <lg-facet label="Part of" [values]="store.efforts()" (picked)="pick('effort', $event)" />
        }
      </ng-container>
      <lg-table
        name="dispatches"
        label="Dispatches"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        opening
        (opened)="go($event)"
        [order]="store.order()"
        (ordered)="store.sort($event)"
        (near)="store.more()"
      >
        <ng-template lgCell="title" [of]="store.rows()" let-d>
          <a class="strong" [routerLink]="[d.id]" (click)="$event.stopPropagation()">{{ d.title }}</a>
        </ng-template>
        <ng-template lgCell="sent" [of]="store.rows()" let-d>
          @if (d.schedule) {
            <span [class]="d.schedule.held ? 'stop' : 'hold'"
              >{{ d.schedule.held ? 'held, was for' : 'leaves' }} {{ d.schedule.at | moment: 'short' }}</span
            >
          } @else {
            {{ d.sentAt | moment }}
          }
        </ng-template>
        <ng-template lgCell="how" [of]="store.rows()" let-d>
          <span class="bar" role="img" [attr.aria-label]="inWords(d)" [matTooltip]="inWords(d)">
            @for (p of parts(d); track p.tone) {
              <i [class]="p.tone" [style.flex-grow]="p.n"></i>
            }
          </span>
        </ng-template>
        <ng-container none>{{ store.loading() ? 'Reading…' : 'None here.' }}</ng-container>
        <ng-container foot>{{ store.total() === null ? '' : (store.total() | count) + ' dispatches' }}</ng-container>
      </lg-table>
    </lg-list>
  `,
  styles: `
    .bar {
      display: flex;
      gap: 1px;
      height: 8px;
    }
    .bar i {
      background: currentcolor;
      min-width: 2px;
    }
    .bar .note {
      opacity: 0.5;
    }
    .bar .soft {
      opacity: 0.4;
    }
  `,
})
export class DispatchListPage {
  protected readonly store = inject(DispatchListStore);
  private readonly router = inject(Router);
  protected readonly id = (d: DispatchView): string => d.id;
  protected readonly columns: readonly Column<DispatchView>[] = [
    { id: 'title', head: 'Title', sorts: true, least: 160, share: 2 },
    {
      id: 'state',
      head: 'State',
      sorts: true,
      width: 90,
      text: (d) => (d.schedule?.held ? 'held' : d.state),
      face: (d) => (d.schedule?.held ? 'stop' : ['sending', 'scheduled'].includes(d.state) ? 'hold' : ''),
    },
    { id: 'sent', head: 'Sent', sorts: true, width: 150, leaves: 4, face: 'soft' },
    { id: 'purpose', head: 'Purpose', sorts: true, width: 116, leaves: 3, text: (d) => d.purpose ?? 'not named' },
    { id: 'how', head: 'How it went', width: 132, leaves: 5 },
    counted('delivered', 'Delivered', undefined, 'delivered'),
    counted('way', 'On its way', 2, 'sent', 'leaving', 'unsure', 'waiting', 'judging'),
    counted('failed', 'Failed', undefined, 'failed'),
    counted('held', 'Held', undefined, 'held'),
    counted('stopped', 'Stopped', 1, 'stopped'),
  ];

  /** What became of its texts, as parts of a bar; one that has sent nothing has none. */
  protected parts(d: DispatchView): { tone: string; n: number; what: string }[] {
    return [
      { tone: 'pass', n: sum(d, 'delivered'), what: 'delivered' },
      { tone: 'note', n: sum(d, 'sent', 'leaving', 'unsure', 'waiting', 'judging'), what: 'on its way' },
      { tone: 'hold', n: sum(d, 'held'), what: 'held' },
      { tone: 'stop', n: sum(d, 'failed'), what: 'failed' },
      { tone: 'soft', n: sum(d, 'stopped'), what: 'stopped by the gate' },
    ].filter((p) => p.n > 0);
  }
  protected inWords(d: DispatchView): string {
    return (
      this.parts(d)
        .map((p) => `${p.n.toLocaleString('en-US')} ${p.what}`)
        .join(', ') || 'nothing has left'
    );
  }
  /** One of a kind at a time; once more takes it away. */
  protected pick(key: 'show' | 'category' | 'effort', value: string): void {
    this.store.set({ [key]: this.store.address()[key] === value ? null : value });
  }
  protected go(id: string): void {
    void this.router.navigate(['/b', this.store.session.businessId(), 'dispatch', id]);
  }
}
