import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { chooseKind, COUNTRY_RULES, type KindQuestion, type NumberKind } from '@long-gate/core';
import { Chips } from '../../../parts/chips';
import { ChoiceWord } from '../../../parts/chooser/choice-word';
import { MoneyPipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { SessionFacade } from '../../../state/session.facade';
import { NumbersTabs } from '../numbers-tabs';

type KindAnswer = ReturnType<typeof chooseKind>[number];
const AMOUNTS = [50, 500, 5000, 50_000, 500_000];

/** For those who do not know the kinds of number: by need, laid side by side. */
@Component({
  selector: 'lg-kind-chooser',
  imports: [Cell, Chips, Table, ChoiceWord, MatButtonModule, PageTitle, NumbersTabs, RouterLink, MoneyPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="numbers:" of="which kind" /></div>
        <lg-numbers-tabs />
        <p class="sentence">
          People
          <lg-choice-word
            label="Replies"
            [choices]="replies"
            [chosen]="reply() === 'no' ? 'no' : 'yes'"
            (picked)="set({ reply: $event })"
          />; we send
          <lg-choice-word
            label="Texts a day"
            [choices]="amounts"
            [chosen]="day() ?? '500'"
            (picked)="set({ day: $event })"
          />
          texts a day, to
          <lg-chips label="Countries" takeOut="Not" [chips]="countries()" (removed)="drop($event)" />
          <lg-choice-word
            label="Add a country"
            acts
            none="add a country…"
            [choices]="others()"
            (picked)="add($event)"
          />, and it has to work within
          <lg-choice-word
            label="Within"
            [choices]="terms"
            [chosen]="within() ?? 'weeks'"
            (picked)="set({ within: $event })"
          />.
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
  protected readonly replies = [
    { value: 'yes', label: 'shall be able to reply' },
    { value: 'no', label: 'need not reply' },
  ];
  protected readonly amounts = AMOUNTS.map((n) => ({ value: `${n}`, label: `up to ${n.toLocaleString('en-US')}` }));
  protected readonly terms = ['days', 'weeks', 'months'].map((value) => ({ value, label: value }));
  protected readonly chosen = computed(() => (this.to() ?? 'US').split(',').filter((c) => c !== ''));
  protected readonly countries = computed(() =>
    this.chosen().map((id) => ({ id, name: COUNTRY_RULES.find((c) => c.code === id)?.name ?? id })),
  );
  protected readonly others = computed(() =>
    COUNTRY_RULES.filter((c) => !this.chosen().includes(c.code)).map((c) => ({ value: c.code, label: c.name })),
  );
  protected readonly kinds = computed(() =>
    chooseKind({
      twoWay: this.reply() !== 'no',
      textsADay: Number(this.day() ?? '500'),
      countries: this.chosen(),
      within: (this.within() ?? 'weeks') as KindQuestion['within'],
    }),
  );
  protected readonly anyFits = computed(() => this.kinds().some((k) => k.fits));

  protected set(query: Record<string, string | null>): void {
    void this.router.navigate([], { queryParams: query, queryParamsHandling: 'merge' });
  }
  protected add(country: string | null): void {
    if (country) this.set({ to: [...this.chosen(), country].join(',') });
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
