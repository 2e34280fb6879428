import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { DossierRow, Started } from '@long-gate/contracts';
import { STEPS, type StepName } from '@long-gate/core';
import { FileButton } from '../../parts/file-button';
import { Facet } from '../../parts/facet';
import { MomentPipe } from '../../parts/format';
import { Say } from '../../parts/say';
import { Weight } from '../../parts/weight';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { DossiersStore } from './dossiers.store';

/** Where each step is worked on. */
const PLACES: Record<StepName, string> = {
  account: 'settings/business',
  identity: 'registration/brand',
  brand: 'registration/brand',
  vetting: 'registration/vetting',
  campaigns: 'registration',
  numbers: 'numbers',
  'toll-free': 'registration',
  'sender IDs': 'numbers/senders',
};
const HEADS: Record<StepName, string> = {
  account: 'Account',
  identity: 'Identity',
  brand: 'Brand',
  vetting: 'Vetting',
  campaigns: 'Campaigns',
  numbers: 'Numbers tied',
  'toll-free': 'Toll-free',
  'sender IDs': 'Sender IDs',
};
/** The worst first. */
const WORST = ['stop', 'hold', 'note', 'none', 'pass'];

/** Every business one works for, in a row: how far each step is, since when, and on whom it waits. */
@Component({
  selector: 'lg-dossiers',
  imports: [Cell, FileButton, MatButtonModule, Facet, Table, PageTitle, Weight, RouterLink, MomentPipe],
  providers: [DossiersStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="dossiers" />
          @if (store.session.isAdministrator()) {
            <lg-file-button accept="text/csv,.csv,.txt" [disabled]="busy()" (chosen)="look($event)"
              >Begin from a CSV…</lg-file-button
            >
          }
        </div>
        @if (lines(); as all) {
          <section class="plaque" aria-label="What becomes of each line">
            <lg-table label="Lines" [rows]="all" [columns]="lineColumns" [key]="lineKey">
              <ng-container none>There is no line below the heading.</ng-container>
            </lg-table>
            <p class="soft small">
              Each becomes a business of its own with its brand in draft; nothing is filed or paid. Columns that are
              read: {{ heads }}.
            </p>
            <button type="button" matButton="filled" [disabled]="fresh() === 0 || busy()" (click)="begin()">
              Begin {{ fresh() }}
            </button>
            <button type="button" matButton="outlined" (click)="lines.set(null)">Not now</button>
          </section>
        }
        @if (store.asked.error(); as e) {
          <div class="problem" role="alert">{{ e.message }}</div>
        }
        <lg-facet label="Waits on" [values]="waits()" (picked)="narrow($event)" />
        <lg-table label="Businesses" [rows]="store.shown()" [columns]="columns" [key]="key">
          <ng-template lgCell="business" [of]="store.shown()" let-d>
            <a class="strong" [routerLink]="['/b', d.businessId, 'registration']">{{ d.legalName }}</a>
            <div class="soft small">{{ d.form }}{{ d.relation === 'client' ? ', a client’s' : '' }}</div>
            <div class="soft small">{{ d.people.join(', ') }}</div>
          </ng-template>
          @for (name of steps; track name) {
            <ng-template [lgCell]="name" [of]="store.shown()" let-d>
              @if (stepOf(d, name); as s) {
                @if (s.weight === 'none') {
                  <span class="soft small">{{ s.words }}</span>
                } @else {
                  <a class="stands" [routerLink]="link(d, name)"><lg-weight [weight]="s.weight" /> {{ s.words }}</a>
                  @if (s.waitsOn) {
                    <div class="soft small">
                      waits on {{ s.waitsOn }}
                      @if (s.since) {
                        since {{ s.since | moment: 'day' }}
                      }
                    </div>
                  }
                }
              }
            </ng-template>
          }
          <ng-container none>{{ store.asked.isLoading() ? 'Reading…' : 'Nothing waits like that.' }}</ng-container>
        </lg-table>
      </div>
    </div>
  `,
  styles: `
    .stands {
      display: inline-flex;
      gap: 6px;
      align-items: center;
    }
  `,
})
export class DossiersPage {
  protected readonly store = inject(DossiersStore);
  protected readonly steps = STEPS;
  protected readonly key = (d: DossierRow): string => d.businessId;
  protected readonly columns: readonly Column<DossierRow>[] = [
    { id: 'business', head: 'Business', by: (d) => d.legalName, least: 170, share: 1.4 },
    ...STEPS.map((name) => ({
      id: name,
      head: HEADS[name],
      least: 104,
      by: (d: DossierRow) => WORST.indexOf(this.stepOf(d, name)?.weight ?? 'none'),
    })),
  ];
  protected readonly waits = computed(() => {
    const of = new Map<string, number>();
    for (const d of this.store.all())
      for (const who of new Set(d.steps.map((s) => s.waitsOn))) if (who) of.set(who, (of.get(who) ?? 0) + 1);
    return [...of].map(([value, n]) => ({ value, label: value, n, on: this.store.address().waits === value }));
  });

  private readonly say = inject(Say);
  protected readonly busy = signal(false);
  /** What a list would begin, line by line, until it is begun or left. */
  protected readonly lines = signal<readonly Started[] | null>(null);
  private csv = '';
  protected readonly fresh = computed(() => (this.lines() ?? []).filter((l) => l.result === 'new').length);
  protected readonly lineKey = (l: Started): string => String(l.line);
  protected readonly heads =
    'legal name, legal form (both needed), name line, tax number, trading name, relation, industry, street, city, state, ZIP, website, e-mail, mobile, contact, title, telephone, status e-mail';
  protected readonly lineColumns: readonly Column<Started>[] = [
    { id: 'line', head: 'Line', width: 60, right: true, text: (l) => String(l.line) },
    { id: 'name', head: 'Business', least: 200, text: (l) => l.legalName },
    { id: 'form', head: 'Form', least: 120, text: (l) => l.form },
    {
      id: 'words',
      head: 'What becomes of it',
      least: 280,
      text: (l) => l.words,
      face: (l) => (l.result === 'wrong' ? 'stop' : l.result === 'there' ? 'soft' : ''),
    },
  ];

  protected async look(file: File): Promise<void> {
    this.csv = await file.text();
    await this.take(false);
  }
  protected async begin(): Promise<void> {
    const many = this.fresh();
    if (!(await this.take(true))) return;
    this.lines.set(null);
    this.say.done(`${many} ${many === 1 ? 'dossier is' : 'dossiers are'} begun.`);
  }
  private async take(sure: boolean): Promise<boolean> {
    this.busy.set(true);
    try {
      this.lines.set(await this.store.start(this.csv, sure));
      return true;
    } catch (error) {
      this.say.problem(error);
      return false;
    } finally {
      this.busy.set(false);
    }
  }

  /** Pressed once more, all are shown again. */
  protected narrow(waits: string): void {
    this.store.set({ waits: this.store.address().waits === waits ? null : waits });
  }
  protected stepOf(d: DossierRow, name: StepName) {
    return d.steps.find((s) => s.step === name);
  }
  protected link(d: DossierRow, name: StepName): string[] {
    return ['/b', d.businessId, ...PLACES[name].split('/')];
  }
}
