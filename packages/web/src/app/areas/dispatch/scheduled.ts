import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { DispatchView } from '@long-gate/contracts';
import { formatCents } from '@long-gate/core';
import { Confirm } from '../../parts/confirm';
import { CountPipe, MomentPipe, MoneyPipe } from '../../parts/format';
import { History } from '../../parts/history';
import { PageTitle } from '../../parts/page-title';
import { AskedFirst } from './asked-first';
import { DispatchStore } from './dispatch.store';
import { DraftStore, draftOf } from './draft.store';
import { GateDrawing } from './gate-drawing';
import { ResultsStore } from './results.store';
import type { Chosen } from './when-field';

/** A dispatch that waits for its time: what it would come to as of now, and the ways to change it until it begins. */
@Component({
  selector: 'lg-scheduled',
  imports: [AskedFirst, MatButtonModule, PageTitle, GateDrawing, History, CountPipe, MomentPipe, MoneyPipe],
  providers: [DraftStore, ResultsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="dispatch:" [of]="dispatch().title" />
          <span [class]="schedule()?.held ? 'stop' : 'hold'" role="status">{{
            schedule()?.held ? 'held' : 'scheduled'
          }}</span>
          @if (session.mayEdit()) {
            <button type="button" matButton="outlined" [disabled]="busy()" (click)="callOff()">
              Call it off and change it…
            </button>
            @if (schedule()?.held) {
              <button type="button" matButton="filled" [disabled]="busy() || !store.shown()" (click)="leaveNow()">
                Send to {{ store.shown()?.reach | count }} now…
              </button>
            }
          }
        </div>
        @if (schedule(); as s) {
          @if (s.held) {
            <div class="problem" role="alert">
              <span class="strong">It did not leave at its time.</span> {{ s.held }}
            </div>
          }
          <p class="sentence">
            {{ s.held ? 'It was to leave' : 'It leaves' }} <span class="strong">{{ s.at | moment: 'zone' }}</span>{{
              s.zone === 'own' ? ', at ' + s.local.slice(11) + ' where each of them is' : ''
            }}. Confirmed by {{ s.by }}: to {{ s.reach | count }}, for at most {{ s.cost | money }}.
          </p>
          @if (store.shown(); as p) {
            <p>
              As of now it would reach <span class="strong">{{ p.reach | count }}</span> for at most
              <span class="strong">{{ p.costAtMost | money }}</span>. Its audience is resolved anew when it leaves; more
              than 2% and 20 people above what was confirmed asks again.
            </p>
            <lg-asked-first [of]="p.askedFirst" />
            <lg-gate-drawing [counts]="p.counts" [repeats]="p.repeats" [chosen]="null" />
          } @else {
            <p class="soft">Asking the gate…</p>
          }
        }
      </div>
      <aside class="docket">
        <div class="kind"><span>Dispatch</span></div>
        <h2>{{ dispatch().title }}</h2>
        <p class="text">{{ store.shown()?.example ?? dispatch().text }}</p>
        <dl class="facts">
          <dt>To</dt>
          <dd>everyone in {{ named(dispatch().audience.include) }}</dd>
          @if (dispatch().audience.exclude.length > 0) {
            <dt>Not to</dt>
            <dd>anybody in {{ named(dispatch().audience.exclude) }}</dd>
          }
          <dt>Purpose</dt>
          <dd>{{ dispatch().purpose }}</dd>
          <dt>From</dt>
          <dd>{{ results.numberName(dispatch().numberId) }}</dd>
          <dt>Written by</dt>
          <dd>{{ dispatch().createdBy }}</dd>
        </dl>
        <lg-history kind="dispatch" [object]="dispatch().id" />
      </aside>
    </div>
  `,
  styles: `
    .text {
      margin: 12px 0;
      padding: 8px 10px;
      background: var(--canvas);
      border: 1px solid var(--hairline);
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
    p {
      margin: 8px 0;
    }
  `,
})
export class Scheduled {
  readonly dispatch = input.required<DispatchView>();
  readonly changed = output();
  /** It is a draft again, with the time it had. */
  readonly calledOff = output<Chosen>();
  protected readonly store = inject(DraftStore);
  protected readonly results = inject(ResultsStore);
  private readonly dispatches = inject(DispatchStore);
  private readonly confirm = inject(Confirm);
  protected readonly session = this.store.session;
  protected readonly busy = this.dispatches.acting.busy;
  protected readonly schedule = computed(() => this.dispatch().schedule);

  constructor() {
    const id = computed(() => this.dispatch().id);
    this.store.about(id);
    this.results.about(id);
    effect(() => {
      const d = this.dispatch();
      const s = d.schedule;
      // One that was held is looked at as it would go now.
      this.store.asked.set({ ...draftOf(d), when: s && s.held === '' ? { local: s.local, zone: s.zone } : null });
    });
  }

  protected named(ids: readonly string[]): string {
    return ids.map((id) => this.results.listName(id)).join(' or ');
  }

  protected async callOff(): Promise<void> {
    const yes = await this.confirm.ask({
      title: 'Call it off?',
      line: 'It does not leave at its time and is a draft again, to be changed and scheduled or sent anew.',
      yes: 'Call it off',
      no: 'Leave it scheduled',
    });
    const s = this.schedule();
    if (!s || !yes || !(await this.dispatches.callOff())) return;
    const [day = '', time = ''] = s.local.split('T');
    this.calledOff.emit({ zone: s.zone, day, time });
  }

  protected async leaveNow(): Promise<void> {
    const p = this.store.shown();
    if (!p) return;
    const { version, audience } = this.dispatch();
    const yes = await this.confirm.ask({
      title: `Send to ${p.reach.toLocaleString('en-US')} now?`,
      line: `At most ${formatCents(p.costAtMost)}. It was confirmed for ${this.schedule()?.reach.toLocaleString('en-US') ?? 0}. Each is judged again as their text leaves. What has left cannot be called back.`,
      facts: [
        { name: 'Text', value: p.example },
        { name: 'To', value: `everyone in ${this.named(audience.include)}` },
        { name: 'From', value: this.results.numberName(this.dispatch().numberId) },
      ],
      yes: `Send to ${p.reach.toLocaleString('en-US')}`,
    });
    if (yes && (await this.store.send(version))) this.changed.emit();
  }
}
