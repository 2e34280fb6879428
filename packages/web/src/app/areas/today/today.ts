import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { Store } from '@ngrx/store';
import { AREAS } from '../../frame/areas';
import { CountedPipe, MomentPipe } from '../../parts/format';
import { Weight } from '../../parts/weight';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { courseFeature } from '../../state/course.feature';
import { SessionFacade } from '../../state/session.facade';
import { linesOf, type Line } from './lines';

/** What is open, due or wrong; each line leads to its place. */
@Component({
  selector: 'lg-today',
  imports: [Cell, MatButtonModule, Table, PageTitle, Weight, CountedPipe, MomentPipe],
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
              [rows]="group.lines"
              [columns]="columns"
              [key]="key"
              opening
              (opened)="go($event)"
            >
              <ng-template lgCell="weight" [of]="group.lines" let-m>
                @if (!m.inner) {
                  <lg-weight [weight]="m.weight" />
                }
              </ng-template>
              <ng-template lgCell="matter" [of]="group.lines" let-m>
                @if (m.gathers > 0) {
                  <button
                    type="button"
                    matButton
                    class="plain strong"
                    [attr.aria-expanded]="opened().has(m.key)"
                    (click)="go(m.key); $event.stopPropagation()"
                  >
                    {{ m.title }}</button>&ngsp;<span class="soft small">{{
                    opened().has(m.key) ? 'gather' : 'open out'
                  }}</span>
                } @else {
                  <a
                    class="strong"
                    [class.inner]="m.inner"
                    [href]="'/b/' + session.businessId() + '/' + m.link"
                    (click)="$event.preventDefault()"
                    >{{ m.title }}</a
                  >
                }
              </ng-template>
              <ng-template lgCell="why" [of]="group.lines" let-m>
                @if (m.due) {
                  <span [class]="m.due < session.now() ? 'stop strong' : 'strong'"
                    >Due {{ m.due | moment: 'short' }}.</span
                  >
                } @else if (m.since) {
                  <span>Since {{ m.since | moment: 'day' }}.</span>
                }
                {{ m.detail }}
              </ng-template>
            </lg-table>
          } @empty {
            <div class="empty">
              <h2>Nothing is open</h2>
              <p>Numbers are cleared, registrations stand, nobody waits for an answer.</p>
            </div>
          }
          <p class="soft small foot">
            {{ matters()!.length | counted: 'matter' }} at {{ session.now() | moment: 'zone' }}.
          </p>
        }
      </div>
    </div>
  `,
  styles: `
    h2 {
      margin: 18px 0 4px;
    }
    .inner {
      margin-left: 14px;
      font-weight: 400;
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
  protected readonly opened = signal<ReadonlySet<string>>(new Set());
  protected readonly groups = computed(() =>
    (
      [
        ['stop', 'To decide'],
        ['hold', 'Waiting'],
        ['note', 'At hand'],
      ] as const
    )
      .map(([weight, title]) => {
        const matters = (this.matters() ?? []).filter((m) => m.weight === weight);
        return { weight, title, lines: linesOf(matters, this.opened()) };
      })
      .filter((g) => g.lines.length > 0),
  );

  protected readonly key = (m: Line): string => m.key;
  protected readonly columns: readonly Column<Line>[] = [
    { id: 'weight', head: 'Weight', width: 22 },
    {
      id: 'area',
      head: 'Area',
      width: 104,
      text: (m) => (m.inner ? '' : (AREAS.find((a) => a.path === m.area)?.label ?? m.area)),
      face: 'soft',
    },
    { id: 'matter', head: 'Matter', share: 1 },
    { id: 'why', head: 'Why', share: 1.1, face: 'soft' },
  ];

  /** Leads to the matter's place, or opens out what a line gathers. */
  protected go(key: string): void {
    const line = this.groups()
      .flatMap((g) => g.lines)
      .find((l) => l.key === key);
    if (!line) return;
    if (line.gathers === 0) void this.router.navigateByUrl(`/b/${this.session.businessId()}/${line.link}`);
    else
      this.opened.update((was) => {
        const now = new Set(was);
        if (!now.delete(key)) now.add(key);
        return now;
      });
  }
}
