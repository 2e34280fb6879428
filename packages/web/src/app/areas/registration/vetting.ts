import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { appealUntil, DEFAULT_PRICES, formatAmount, throughputOf } from '@long-gate/core';
import { Acting } from '../../parts/acting';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { Table } from '../../parts/table/table';
import type { Column } from '../../parts/table/column';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';
import { obstacleTo } from './obstacle';
import { Statement } from './statement';

interface Band {
  score: number | null;
  words: string;
}
const BANDS: readonly Band[] = [
  { score: null, words: 'not vetted' },
  { score: 10, words: '1 to 24' },
  { score: 30, words: '25 to 49' },
  { score: 60, words: '50 to 74' },
  { score: 90, words: '75 to 100' },
];
const bandOf = (score: number | null): string =>
  score === null ? 'not vetted' : (BANDS[score >= 75 ? 4 : score >= 50 ? 3 : score >= 25 ? 2 : 1]?.words ?? '');

/** The vetting score: what it lets the brand send, what another would, and how it came about. */
@Component({
  selector: 'lg-vetting',
  imports: [MatButtonModule, MomentPipe, Statement, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (brand(); as b) {
      <div class="part">
        <div>
          <lg-table
            label="What a score gives"
            [rows]="bands"
            [columns]="columns"
            [key]="key"
            [face]="face"
            class="bands"
          />
          <p class="soft small">
            Segments, for any use but the low-volume one. What the networks take is their own business; these are the
            terms the registrar publishes.
          </p>
          @if (b.vettings.length > 0) {
            <h3>So far</h3>
            <ul>
              @for (v of b.vettings; track v.id) {
                <li>
                  {{ v.objection ? 'Objected' : 'Ordered' }} {{ v.orderedAt | moment: 'day' }}:
                  @if (v.decidedAt === null) {
                    <span class="hold">on its way</span>
                  } @else if (v.score === null) {
                    <span class="stop">{{ v.failure }}</span>
                  } @else {
                    <span class="strong">score {{ v.score }}</span
                    >, {{ v.decidedAt | moment: 'day' }}
                  }
                </li>
              }
            </ul>
          }
        </div>
        <aside class="docket">
          <div class="kind"><span>Vetting</span></div>
          <h3 class="state">{{ b.score === null ? 'not vetted' : 'score ' + b.score }}</h3>
          <div class="step" [class.hold]="waiting()" [class.pass]="b.score !== null">
            @if (waiting()) {
              <span class="strong">Wait for the score.</span> It usually comes in one to two days.
            } @else if (b.score === null) {
              <span class="strong">Have the brand vetted.</span> A vetted brand may send more; an unvetted one stays at
              the lowest pace.
            } @else {
              <span class="strong">Nothing to do.</span> Vet again when the business is better known than it was.
            }
          </div>
          @if (session.isAdministrator() && b.state === 'registered' && !waiting()) {
            <p>
              <button
                type="button"
                [matButton]="b.score === null ? 'filled' : 'outlined'"
                [disabled]="obstacle() !== '' || busy()"
                (click)="order()"
              >
                {{ obstacle() ? 'Vet: ' + obstacle() : b.score === null ? 'Have it vetted…' : 'Vet again…' }}
              </button>
            </p>
            @if (objectUntil(); as until) {
              <lg-statement
                label="Object to the score"
                [hint]="'once, until ' + (until | moment: 'day') + ', for nothing'"
                act="Object"
                name="objection"
                [busy]="busy()"
                (said)="object($event)"
              />
            }
          }
          <dl class="facts">
            <dt>Costs</dt>
            <dd>{{ fee }} each time, also when the score stays</dd>
            <dt>Takes</dt>
            <dd>one to two days</dd>
          </dl>
        </aside>
      </div>
    }
  `,
  styles: `
    .bands {
      display: block;
      max-width: 640px;
    }
    h3 {
      margin: 12px 0 4px;
    }
    ul {
      margin: 0;
      padding-left: 18px;
    }
  `,
})
export class VettingPart {
  private readonly store = inject(DossierStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(SessionFacade);
  protected readonly brand = computed(() => this.store.dossier.value()?.brand ?? null);
  protected readonly waiting = computed(() => this.brand()?.vettings.some((v) => v.decidedAt === null) ?? false);
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly fee = formatAmount(DEFAULT_PRICES.vetting);
  protected readonly obstacle = computed(() =>
    obstacleTo({ business: this.session.business(), cost: DEFAULT_PRICES.vetting, blocking: 0 }),
  );
  /** Until when the last score can be objected to; null where it cannot. */
  protected readonly objectUntil = computed(() => {
    const last = this.brand()?.vettings.at(-1);
    if (!last || last.score === null || last.decidedAt === null || last.objection !== '') return null;
    const until = appealUntil(last.decidedAt);
    return until > this.session.now() ? until : null;
  });
  protected readonly bands = BANDS;
  protected readonly key = (b: Band): string => b.words;
  protected readonly face = (b: Band): string => (b.words === bandOf(this.brand()?.score ?? null) ? 'strong' : '');
  private readonly given = (b: Band) => throughputOf('private company', b.score, 'marketing');
  protected readonly columns: readonly Column<Band>[] = [
    {
      id: 'score',
      head: 'Score',
      least: 110,
      text: (b) => `${b.words}${b.words === bandOf(this.brand()?.score ?? null) ? ', now' : ''}`,
    },
    {
      id: 'a',
      head: 'Kind A, a second',
      width: 130,
      right: true,
      text: (b) => String(this.given(b).campaignPerSecond),
    },
    {
      id: 'b',
      head: 'Kind B, a day',
      width: 130,
      right: true,
      text: (b) => this.given(b).brandPerDay.toLocaleString('en-US'),
    },
    {
      id: 'c',
      head: 'Kind C, a second and number',
      width: 190,
      right: true,
      text: (b) => String(this.given(b).numberPerSecond),
    },
  ];

  protected async order(): Promise<void> {
    const yes = await this.confirm.ask({
      title: 'Have the brand vetted?',
      line: `${this.fee} now, nothing monthly. The score comes in one to two days and takes the place of the one there is. Not refunded, whatever it is.`,
      yes: `Vet for ${this.fee}`,
    });
    if (yes) await this.ask('');
  }
  protected object(text: string): Promise<void> {
    return this.ask(text);
  }
  private async ask(objection: string): Promise<void> {
    await this.acting.did(() => this.store.orderVetting(objection));
  }
}
