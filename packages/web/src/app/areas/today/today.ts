import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Router } from '@angular/router';
import type { Matter } from '@long-gate/contracts';
import { Store } from '@ngrx/store';
import { AREAS } from '../../frame/areas';
import { CountPipe, MomentPipe } from '../../parts/format';
import { Weight } from '../../parts/gate-strip';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { courseFeature } from '../../state/course.feature';
import { SessionFacade } from '../../state/session.facade';

/** What is open, due or wrong; each line leads to its place. */
@Component({
  selector: 'lg-today',
  imports: [Cell, Table, PageTitle, Weight, CountPipe, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="today" /></div>
        @if (matters() === null) {
          <p class="soft">Gathering what is open…</p>
        } @else {
          @for (group of groups(); track group.weight) {
            <h2 [class]="group.weight">{{ group.title }}</h2>
            <lg-table
              [label]="group.title"
              headless
              [rows]="group.matters"
              [columns]="columns"
              [key]="key"
              opening
              (opened)="go($event)"
            >
              <ng-template lgCell="weight" [of]="group.matters" let-m><lg-weight [weight]="m.weight" /></ng-template>
              <ng-template lgCell="matter" [of]="group.matters" let-m>
                <a
                  class="strong"
                  [href]="'/b/' + session.businessId() + '/' + m.link"
                  (click)="$event.preventDefault()"
                  >{{ m.title }}</a
                >
              </ng-template>
              <ng-template lgCell="why" [of]="group.matters" let-m>
                {{ m.detail }}
                @if (m.at) {
                  <span>Since {{ m.at | moment: 'day' }}.</span>
                }
              </ng-template>
            </lg-table>
          } @empty {
            <div class="empty">
              <h2>Nothing is open</h2>
              <p>Numbers are cleared, registrations stand, nobody waits for an answer.</p>
            </div>
          }
          <p class="soft small foot">
            {{ matters()!.length | count }} matters at {{ session.now() | moment: 'zone' }}.
          </p>
        }
      </div>
    </div>
  `,
  styles: `
    h2 {
      margin: 18px 0 4px;
    }
    .foot {
      margin-top: 16px;
    }
  `,
})
export class TodayPage {
  protected readonly session = inject(SessionFacade);
  private readonly router = inject(Router);
  protected readonly matters = inject(Store).selectSignal(courseFeature.selectMatters);
  protected readonly groups = computed(() =>
    (
      [
        ['stop', 'To decide'],
        ['hold', 'Waiting'],
        ['note', 'At hand'],
      ] as const
    )
      .map(([weight, title]) => ({ weight, title, matters: (this.matters() ?? []).filter((m) => m.weight === weight) }))
      .filter((g) => g.matters.length > 0),
  );

  protected readonly key = (m: Matter): string => `${m.link}\n${m.title}`;
  protected readonly columns: readonly Column<Matter>[] = [
    { id: 'weight', head: 'Weight', width: 22 },
    {
      id: 'area',
      head: 'Area',
      width: 104,
      text: (m) => AREAS.find((a) => a.path === m.area)?.label ?? m.area,
      face: 'soft',
    },
    { id: 'matter', head: 'Matter', share: 1 },
    { id: 'why', head: 'Why', share: 1.1, face: 'soft' },
  ];

  protected go(key: string): void {
    const [link] = key.split('\n');
    void this.router.navigateByUrl(`/b/${this.session.businessId()}/${link}`);
  }
}
