import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { AREAS } from '../../frame/areas';
import { CountPipe, MomentPipe } from '../../parts/format';
import { Weight } from '../../parts/gate-strip';
import { PageTitle } from '../../parts/page-title';
import { courseFeature } from '../../state/course.feature';
import { SessionFacade } from '../../state/session.facade';

/** What is open, due or wrong; each line leads to its place. */
@Component({
  selector: 'lg-today',
  imports: [PageTitle, Weight, CountPipe, MomentPipe],
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
            <table class="ledger">
              <thead class="visually-hidden">
                <tr>
                  <th>Weight</th>
                  <th>Area</th>
                  <th>Matter</th>
                  <th>Why</th>
                </tr>
              </thead>
              <tbody>
                @for (m of group.matters; track m.link + m.title) {
                  <tr class="go" (click)="go(m.link)">
                    <td class="shape"><lg-weight [weight]="m.weight" /></td>
                    <td class="soft area">{{ label(m.area) }}</td>
                    <td class="what">
                      <a
                        class="strong"
                        [href]="'/b/' + session.businessId() + '/' + m.link"
                        (click)="$event.preventDefault()"
                        >{{ m.title }}</a
                      >
                    </td>
                    <td class="soft">
                      {{ m.detail }}
                      @if (m.at) {
                        <span>Since {{ m.at | moment: 'day' }}.</span>
                      }
                    </td>
                  </tr>
                }
              </tbody>
            </table>
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
    td.shape {
      width: 22px;
    }
    td.area {
      width: 104px;
    }
    td.what {
      width: 42%;
    }
    td {
      padding-block: 7px;
      height: auto;
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

  protected label(area: string): string {
    return AREAS.find((a) => a.path === area)?.label ?? area;
  }

  protected go(link: string): void {
    void this.router.navigateByUrl(`/b/${this.session.businessId()}/${link}`);
  }
}
