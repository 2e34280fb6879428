import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { chooseKind, COUNTRY_RULES, type KindQuestion, type NumberKind } from '@long-gate/core';
import { Chips } from '../../../parts/chips';
import { CountPipe, MoneyPipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { SessionFacade } from '../../../state/session.facade';
import { NumbersTabs } from '../numbers-tabs';

type KindAnswer = ReturnType<typeof chooseKind>[number];
const AMOUNTS = ['50', '500', '5000', '50000', '500000'];

/** For those who do not know the kinds of number: by need, laid side by side. */
@Component({
  selector: 'lg-kind-chooser',
  imports: [
    Cell,
    Chips,
    Table,
    MatInputModule,
    MatButtonModule,
    PageTitle,
    NumbersTabs,
    RouterLink,
    CountPipe,
    MoneyPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="numbers:" of="which kind" /></div>
        <lg-numbers-tabs />
        <p class="sentence">
          People
          <mat-form-field
            ><select matNativeControl aria-label="Replies" (change)="set({ reply: $any($event.target).value })">
              <option value="yes" [selected]="reply() !== 'no'">shall be able to reply</option>
              <option value="no" [selected]="reply() === 'no'">need not reply</option>
            </select></mat-form-field
          >; we send
          <mat-form-field
            ><select matNativeControl aria-label="Texts a day" (change)="set({ day: $any($event.target).value })">
              @for (a of amounts; track a) {
                <option [value]="a" [selected]="(day() ?? '500') === a">up to {{ +a | count }}</option>
              }
            </select></mat-form-field
          >
          texts a day, to
          <lg-chips label="Countries" takeOut="Not" [chips]="countries()" (removed)="drop($event)" />
          <mat-form-field
            ><select matNativeControl aria-label="Add a country" (change)="add($event)">
              <option value="">add a country…</option>
              @for (c of others(); track c.code) {
                <option [value]="c.code">{{ c.name }}</option>
              }
            </select></mat-form-field
          >, and it has to work within
          <mat-form-field
            ><select matNativeControl aria-label="Within" (change)="set({ within: $any($event.target).value })">
              @for (w of ['days', 'weeks', 'months']; track w) {
                <option [value]="w" [selected]="(within() ?? 'weeks') === w">{{ w }}</option>
              }
            </select></mat-form-field
          >.
        </p>
        <lg-table label="Kinds of number" [rows]="kinds()" [columns]="columns" [key]="key" [face]="face">
          <ng-template lgCell="once" [of]="kinds()" let-k>{{ k.once | money }}</ng-template>
          <ng-template lgCell="monthly" [of]="kinds()" let-k>{{ k.monthly | money }}</ng-template>
          <ng-template lgCell="choose" [of]="kinds()" let-k>
            @if (k.fits) {
              <a
                [matButton]="k === kinds()[0] ? 'filled' : 'outlined'"
                [routerLink]="way(k.kind).link"
                [queryParams]="way(k.kind).query"
                >Choose</a
              >
            }
          </ng-template>
        </lg-table>
        @if (!anyFits()) {
          <p class="hold">
            No single kind does all of this. Take one for each part: a number where people reply, a sender ID where
            numbers of ours do not work.
          </p>
        }
      </div>
    </div>
  `,
  styles: `
    .sentence {
      max-width: 980px;
      line-height: 2.3;
      margin-bottom: 10px;
    }
  `,
})
export class KindChooser {
  readonly reply = input<string>();
  readonly day = input<string>();
  readonly to = input<string>();
  readonly within = input<string>();
  private readonly router = inject(Router);
  private readonly session = inject(SessionFacade);
  protected readonly key = (k: KindAnswer): string => k.kind;
  /** The first that fits stands out; what does not fit stands back. */
  protected readonly face = (k: KindAnswer): string => (!k.fits ? 'soft' : k === this.kinds()[0] ? 'chosen' : '');
  protected readonly columns: readonly Column<KindAnswer>[] = [
    { id: 'kind', head: 'Kind', text: (k) => k.kind, face: 'strong' },
    { id: 'why', head: 'For this need', text: (k) => k.why, face: (k) => (k.fits ? 'pass' : 'stop') },
    { id: 'once', head: 'Once', right: true },
    { id: 'monthly', head: 'Monthly', right: true },
    { id: 'time', head: 'Time', text: (k) => k.time },
    { id: 'throughput', head: 'Throughput', text: (k) => k.throughput, face: 'soft' },
    { id: 'duties', head: 'Duties', text: (k) => k.duties, face: 'soft' },
    { id: 'choose', head: 'What can be done', quiet: true, right: true },
  ];
  protected readonly amounts = AMOUNTS;
  protected readonly chosen = computed(() => (this.to() ?? 'US').split(',').filter((c) => c !== ''));
  protected readonly countries = computed(() =>
    this.chosen().map((id) => ({ id, name: COUNTRY_RULES.find((c) => c.code === id)?.name ?? id })),
  );
  protected readonly others = computed(() => COUNTRY_RULES.filter((c) => !this.chosen().includes(c.code)));
  protected readonly kinds = computed(() =>
    chooseKind({
      twoWay: this.reply() !== 'no',
      textsADay: Number(this.day() ?? '500'),
      countries: this.chosen(),
      within: (this.within() ?? 'weeks') as KindQuestion['within'],
    }),
  );
  protected readonly anyFits = computed(() => this.kinds().some((k) => k.fits));

  protected set(query: Record<string, string>): void {
    void this.router.navigate([], { queryParams: query, queryParamsHandling: 'merge' });
  }
  protected add(event: Event): void {
    const select = event.target as HTMLSelectElement;
    if (select.value) this.set({ to: [...this.chosen(), select.value].join(',') });
    select.value = '';
  }
  protected drop(code: string): void {
    this.set({
      to:
        this.chosen()
          .filter((c) => c !== code)
          .join(',') || 'US',
    });
  }
  protected way(kind: NumberKind): { link: string[]; query: Record<string, string> } {
    const base = ['/b', this.session.businessId(), 'numbers'];
    switch (kind) {
      case 'sender ID':
        return { link: [...base, 'senders'], query: {} };
      case 'toll-free number':
        return { link: [...base, 'acquire'], query: { kind: 'toll-free' } };
      case 'short code':
        return { link: [...base, 'acquire'], query: { kind: 'short code' } };
      case 'local number':
        return { link: [...base, 'acquire'], query: {} };
    }
  }
}
