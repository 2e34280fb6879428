import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { DateTime } from 'luxon';
import { Facet } from '../../parts/facet';
import { CountPipe } from '../../parts/format';
import { PageTitle } from '../../parts/page-title';
import { DispatchCalendarStore } from './dispatch-calendar.store';

/** What goes out and went out, by month or by week, in the business's zone. */
@Component({
  selector: 'lg-dispatch-calendar',
  imports: [Facet, MatButtonModule, PageTitle, RouterLink, CountPipe],
  providers: [DispatchCalendarStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="dispatches:" of="what goes out" />
          <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'dispatch']">As a list</a>
          <a matButton="outlined" [href]="store.file()" download>Calendar file</a>
        </div>
        <div class="facets" role="group" aria-label="What is shown">
          <button type="button" matButton="outlined" (click)="store.go(-1)">Earlier</button>
          <h2 aria-live="polite">{{ title() }}</h2>
          <button type="button" matButton="outlined" (click)="store.go(1)">Later</button>
          <button type="button" matButton class="plain" (click)="store.go(0)">Today</button>
          <lg-facet name="Span" [values]="spans()" (picked)="store.set({ span: $event === 'week' ? 'week' : null })" />
        </div>
        @if (store.found.error(); as e) {
          <div class="problem" role="alert">{{ e.message }}</div>
        }
        <ol class="days" [class.week]="store.span() === 'week'">
          @for (d of store.days(); track d.iso) {
            <li [class.outside]="d.outside" [class.today]="d.today" [attr.aria-current]="d.today ? 'date' : null">
              <span class="name small">{{ d.weekday }} {{ d.name }}</span>
              @for (i of d.items; track i.id) {
                <a
                  class="item small"
                  [class]="i.held ? 'stop' : i.state === 'scheduled' ? 'hold' : ''"
                  [routerLink]="['/b', store.session.businessId(), 'dispatch', i.id]"
                  ><span class="soft">{{ clock(i.at) }}</span> {{ i.title }}
                  <span class="soft">{{ i.held ? 'held' : i.state }}, {{ i.people | count }}</span></a
                >
              }
            </li>
          }
        </ol>
      </div>
    </div>
  `,
  styles: `
    .facets h2 {
      margin: 0;
      min-width: 150px;
      text-align: center;
    }
    .days {
      display: grid;
      grid-template-columns: repeat(7, minmax(0, 1fr));
      border-left: 1px solid var(--hairline);
      border-top: 1px solid var(--hairline);
      margin-top: 10px;
    }
    .days li {
      min-height: 92px;
      padding: 4px 6px;
      border-right: 1px solid var(--hairline);
      border-bottom: 1px solid var(--hairline);
    }
    .days.week li {
      min-height: 300px;
    }
    .name {
      color: var(--ink-soft);
    }
    .outside {
      background: var(--canvas);
    }
    .today .name {
      color: var(--ink);
      font-weight: 600;
      border-bottom: 2px solid var(--primary);
    }
    .item {
      display: block;
      overflow-wrap: anywhere;
      padding: 2px 0;
    }
    @media (max-width: 700px) {
      .days {
        grid-template-columns: minmax(0, 1fr);
      }
      .days li:not(:has(.item)) {
        display: none;
      }
    }
  `,
})
export class DispatchCalendarPage {
  protected readonly store = inject(DispatchCalendarStore);
  protected readonly title = (): string =>
    this.store.span() === 'week'
      ? `${this.store.from().toFormat('d LLL', { locale: 'en-US' })} to ${this.store.to().toFormat('d LLL yyyy', { locale: 'en-US' })}`
      : this.store.day().toFormat('LLLL yyyy', { locale: 'en-US' });
  protected readonly spans = () =>
    (['month', 'week'] as const).map((value) => ({ value, on: this.store.span() === value }));
  protected clock(ms: number): string {
    return DateTime.fromMillis(ms, { zone: this.store.zone() }).toFormat('HH:mm');
  }
}
