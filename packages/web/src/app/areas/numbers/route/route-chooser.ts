import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { testForRoute } from '@long-gate/contracts';
import { chooseRoute, type Route, type RouteQuestion } from '@long-gate/core';
import { ChoiceWord } from '../../../parts/chooser/choice-word';
import { CheckedForm } from '../../../parts/form/checked-form';
import { text } from '../../../parts/form/controls';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { MoneyPipe, PhonePipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { NumbersTabs } from '../numbers-tabs';
import { RouteStore } from './route.store';

const KIND = { wireless: 'mobile', landline: 'landline', 'toll-free': 'toll-free number' } as const;

/** What to do with a number one has already: the ways side by side, the one to take first. */
@Component({
  selector: 'lg-route-chooser',
  imports: [
    Cell,
    ChoiceWord,
    Form,
    Table,
    TextField,
    MatButtonModule,
    PageTitle,
    NumbersTabs,
    RouterLink,
    MoneyPipe,
    PhonePipe,
  ],
  providers: [RouteStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="numbers:" of="a number you have" /></div>
        <lg-numbers-tabs />
        <form class="with-button" [lgForm]="form" (sent)="test()">
          <lg-text-field
            [control]="form.controls.number"
            label="The number"
            hint="it is looked up; nobody is told"
            name="number"
            inputmode="tel"
            mono
          />
          <button type="submit" matButton="filled">Look it up</button>
        </form>
        @if (store.found.isLoading()) {
          <p class="soft">Looking it up…</p>
        } @else if (store.found.error()) {
          <div class="problem" role="alert">{{ store.found.error()?.message }}</div>
        } @else if (store.found.value(); as f) {
          @if (f.ours; as ours) {
            <div class="step">
              <span class="mono strong">{{ f.e164 | phone }}</span> is yours: it is {{ ours.is }}.
              <a
                matButton="filled"
                [routerLink]="'/b/' + session.businessId() + '/' + ours.link.split('?')[0]"
                [queryParams]="queryOf(ours.link)"
                >To it</a
              >
            </div>
          } @else {
            <p class="sentence">
              <span class="mono strong">{{ f.e164 | phone }}</span> is a {{ kind[f.kind] }} with
              {{ f.carrier || 'a carrier we do not know' }}. Its calls
              <lg-choice-word
                label="Calls"
                [choices]="calls"
                [chosen]="stays() === 'stay' ? 'stay' : 'move'"
                (picked)="set({ stays: $event })"
              />, people
              <lg-choice-word
                label="Known"
                [choices]="knowing"
                [chosen]="known() === 'no' ? 'no' : 'yes'"
                (picked)="set({ known: $event })"
              />, and texts are needed within
              <lg-choice-word
                label="Needed within"
                [choices]="terms"
                [chosen]="within() ?? 'weeks'"
                (picked)="set({ within: $event })"
              />.
            </p>
            <lg-table label="Ways" [rows]="routes()" [columns]="columns" [key]="key" [face]="face">
              <ng-template lgCell="way" [of]="routes()" let-r>
                <span class="strong">{{ words[r.way] }}</span>
                @if (r === routes()[0]) {
                  <div class="pass small">the way to take</div>
                }
              </ng-template>
              <ng-template lgCell="once" [of]="routes()" let-r>{{ r.once | money }}</ng-template>
              <ng-template lgCell="monthly" [of]="routes()" let-r>{{ r.monthly | money }}</ng-template>
              <ng-template lgCell="start" [of]="routes()" let-r>
                @if (r.possible && session.isAdministrator()) {
                  <button type="button" [matButton]="r === routes()[0] ? 'filled' : 'outlined'" (click)="start(r)">
                    {{ starts[r.way] }}
                  </button>
                }
              </ng-template>
            </lg-table>
          }
        } @else {
          <p class="soft intro">
            People trust the number they know. It can come here, get texting where it is, or stay while a new one texts:
            the ways are laid side by side with time, cost, risk and what people will see.
          </p>
        }
      </div>
    </div>
  `,
  styles: `
    .sentence {
      max-width: 900px;
      line-height: 2.2;
      margin-bottom: 10px;
    }
    .intro {
      max-width: 640px;
    }
  `,
})
export class RouteChooser {
  protected readonly store = inject(RouteStore);
  private readonly router = inject(Router);
  protected readonly session = this.store.session;
  protected readonly calls = [
    { value: 'move', label: 'may move here' },
    { value: 'stay', label: 'must stay where they are' },
  ];
  protected readonly knowing = [
    { value: 'yes', label: 'know it and write to it' },
    { value: 'no', label: 'hardly know it' },
  ];
  protected readonly terms = ['days', 'weeks', 'months'].map((value) => ({ value, label: value }));
  protected readonly stays = (): string | undefined => this.store.address().stays;
  protected readonly known = (): string | undefined => this.store.address().known;
  protected readonly within = (): string | undefined => this.store.address().within;
  protected readonly kind = KIND;
  protected readonly words = {
    'port in': 'Port in',
    'text-enable': 'Text-enable where it is',
    'new number': 'Take a new number',
    'forward only': 'Forward only',
  } as const;
  protected readonly starts = {
    'port in': 'Begin the port',
    'text-enable': 'Begin the set-up',
    'new number': 'Choose a number',
    'forward only': 'Choose a number',
  } as const;
  protected readonly key = (r: Route): string => r.way;
  /** The way to take stands out; what is not possible stands back. */
  protected readonly face = (r: Route): string => (!r.possible ? 'soft' : r === this.routes()[0] ? 'chosen' : '');
  protected readonly columns: readonly Column<Route>[] = [
    { id: 'way', head: 'Way' },
    { id: 'why', head: 'What happens', text: (r) => r.why, face: (r) => (r.possible ? '' : 'stop') },
    { id: 'time', head: 'Time', text: (r) => (r.possible ? r.time : '–') },
    { id: 'once', head: 'Once', right: true },
    { id: 'monthly', head: 'Monthly', right: true },
    { id: 'risk', head: 'Risk', text: (r) => r.risk, face: 'soft' },
    { id: 'seen', head: 'People see', text: (r) => r.seen },
    { id: 'start', head: 'What can be done', quiet: true, right: true },
  ];
  protected readonly form = new CheckedForm({ number: text(this.store.address().number ?? '') }, testForRoute.query);
  protected readonly routes = computed((): Route[] => {
    const f = this.store.found.hasValue() ? this.store.found.value() : undefined;
    if (!f || f.ours) return [];
    return chooseRoute({
      ...f,
      voiceStays: this.stays() === 'stay',
      wellKnown: this.known() !== 'no',
      neededWithin: (this.within() ?? 'weeks') as RouteQuestion['neededWithin'],
    });
  });

  protected queryOf(link: string): Record<string, string> {
    return Object.fromEntries(new URLSearchParams(link.split('?')[1] ?? ''));
  }

  protected test(): void {
    const wish = this.form.body();
    if (wish) this.store.set({ number: wish.number });
  }
  /** What is asked stands in the address, so that the answer can be shared. */
  protected set(query: { stays?: string | null; known?: string | null; within?: string | null }): void {
    this.store.set(query);
  }

  protected start(r: Route): void {
    const e164 = this.store.found.value()?.e164 ?? '';
    const to = ['/b', this.session.businessId(), 'numbers'];
    if (r.way === 'port in') void this.router.navigate([...to, 'ports'], { queryParams: { bring: e164 } });
    else if (r.way === 'text-enable') void this.router.navigate([...to, 'hosted'], { queryParams: { e164 } });
    else
      void this.router.navigate([...to, 'acquire'], {
        queryParams: { where: e164.slice(2, 5), ...(r.way === 'forward only' ? { forward: e164 } : {}) },
      });
  }
}
