import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { OptInPage } from '@long-gate/contracts';
import { Chart, type Series } from '../../../parts/chart/chart';
import { List } from '../../../parts/list/list';
import { Spark } from '../../../parts/spark';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { PageDocket } from './page-docket';
import { NEW, PagesStore } from './pages.store';

const sum = (values: readonly number[]): number => values.reduce((all, n) => all + n, 0);
const seen = (p: OptInPage): number => sum(p.weeks.map((w) => w.seen));

/** Public opt-in pages: what they say, which number confirms, and their address. */
@Component({
  selector: 'lg-pages',
  imports: [Cell, Chart, List, Spark, Table, MatButtonModule, ConsentTabs, PageDocket, RouterLink],
  providers: [PagesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="opt-in pages" [store]="store" [filters]="false">
      <ng-container actions>
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="write" [queryParams]="{ open: making }">Make a page</a>
        }
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No opt-in page yet</h2>
        <p>
          A page of your own where people enter their number and choose, unticked, what they want. Every opt-in is kept
          with the exact words they saw.
        </p>
      </ng-container>
      <lg-table
        name="pages"
        label="Opt-in pages"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-template lgCell="title" [of]="store.all()" let-p>
          <button type="button" matButton class="plain strong" (click)="store.choose(p.id); $event.stopPropagation()">
            {{ p.title }}
          </button>
        </ng-template>
        <ng-template lgCell="address" [of]="store.all()" let-p>
          <a [href]="'/join/' + p.slug" target="_blank" rel="noopener" (click)="$event.stopPropagation()"
            >/join/{{ p.slug }}</a
          >
        </ng-template>
        <ng-template lgCell="weeks" [of]="store.all()" let-p>
          <lg-spark [values]="agreed(p)" [of]="confirmed(p)" [label]="inWords(p)" />
        </ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (anything()) {
        <section class="weeks">
          <h2>Agreed to and confirmed, by week</h2>
          <p class="soft small">
            Kinds of text agreed to on {{ store.all().length === 1 ? 'this page' : 'these pages' }} in a week that
            begins on Monday (UTC), and how many of them were confirmed by YES or needed none.
          </p>
          <lg-chart
            label="Agreed to and confirmed by week"
            stepName="Week from"
            [steps]="steps()"
            [series]="series()"
          />
        </section>
      }
      @if (store.chosen(); as p) {
        <lg-page-docket docket [page]="p" />
      }
    </lg-list>
  `,
})
export class PagesPage {
  protected readonly store = inject(PagesStore);
  protected readonly making = NEW;
  protected readonly id = (p: OptInPage): string => p.id;
  protected readonly agreed = (p: OptInPage): number[] => p.weeks.map((w) => w.agreed);
  protected readonly confirmed = (p: OptInPage): number[] => p.weeks.map((w) => w.confirmed);
  protected inWords(p: OptInPage): string {
    return `${sum(this.agreed(p))} agreed to in 26 weeks, ${sum(this.confirmed(p))} confirmed`;
  }
  protected readonly anything = computed(() => this.store.all().some((p) => sum(this.agreed(p)) > 0));
  protected readonly steps = computed(() => this.store.all()[0]?.weeks.map((w) => w.from) ?? []);
  protected readonly series = computed((): Series[] => {
    const byWeek = (of: (p: OptInPage) => number[]): number[] =>
      this.steps().map((_, i) => sum(this.store.all().map((p) => of(p)[i] ?? 0)));
    const confirmed = byWeek(this.confirmed);
    return [
      { name: 'confirmed', kind: 'bar', tone: 'pass', values: confirmed },
      {
        name: 'agreed to, not confirmed',
        kind: 'bar',
        tone: 'hold',
        values: byWeek(this.agreed).map((n, i) => Math.max(0, n - (confirmed[i] ?? 0))),
      },
    ];
  });
  protected readonly columns: readonly Column<OptInPage>[] = [
    { id: 'title', head: 'Page', least: 140, share: 1.4, by: (p) => p.title },
    { id: 'address', head: 'Address', least: 120, by: (p) => p.slug },
    {
      id: 'kinds',
      head: 'Kinds of text',
      least: 150,
      leaves: 1,
      text: (p) => p.purposes.map((x) => x.purpose).join(', '),
    },
    {
      id: 'seen',
      head: 'Seen',
      width: 80,
      right: true,
      leaves: 3,
      by: (p) => seen(p),
      text: (p) => seen(p).toLocaleString('en-US'),
    },
    {
      id: 'optIns',
      head: 'Opt-ins',
      width: 90,
      right: true,
      by: (p) => p.optIns,
      text: (p) => p.optIns.toLocaleString('en-US'),
    },
    { id: 'weeks', head: '26 weeks', width: 96, leaves: 2 },
    { id: 'version', head: 'Version', width: 90, right: true, asked: true, text: (p) => String(p.pageVersion) },
    {
      id: 'state',
      head: 'State',
      width: 120,
      by: (p) => String(p.published),
      text: (p) => (!p.published ? 'paused' : this.store.outOfService(p.numberId) ? 'out of service' : 'live'),
      face: (p) => (!p.published ? 'hold' : this.store.outOfService(p.numberId) ? 'stop' : ''),
    },
  ];
}
