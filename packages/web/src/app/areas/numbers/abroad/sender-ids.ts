import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import {
  addSenderId,
  dropSenderId,
  listSenderIds,
  saveSenderId,
  useSenderIdIn,
  type SenderIdView,
} from '@long-gate/contracts';
import { formatAmount, reviewSenderId, reviewSignature, segmentText, SENDER_ID_LENGTH } from '@long-gate/core';
import { Api, type ApiProblem } from '../../../api/api';
import { Acting } from '../../../parts/acting';
import { Confirm } from '../../../parts/confirm';
import { DocketKeys } from '../../../parts/docket-keys';
import { Findings, numbered } from '../../../parts/findings';
import { CountPipe, MoneyPipe } from '../../../parts/format';
import { History } from '../../../parts/history';
import { PageTitle } from '../../../parts/page-title';
import { liveResource } from '../../../state/live-resource';
import { SessionFacade } from '../../../state/session.facade';
import { NumbersTabs } from '../numbers-tabs';

type Use = SenderIdView['countries'][number];
const TONE: Record<Use['state'], string> = {
  'not asked': 'soft',
  free: 'pass',
  'in review': 'hold',
  registered: 'pass',
  refused: 'stop',
  'not allowed': 'soft',
};

/** Alphanumeric sender IDs: made with a live check, used country by country. */
@Component({
  selector: 'lg-sender-ids',
  imports: [
    MatInputModule,
    MatButtonModule,
    PageTitle,
    NumbersTabs,
    RouterLink,
    DocketKeys,
    Findings,
    History,
    CountPipe,
    MoneyPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page" [lgDocketKeys]="ids()" [open]="open()" (chosen)="choose($event)">
      <div class="work">
        <div class="head"><lg-page-title what="sender IDs" /></div>
        <lg-numbers-tabs />
        @if (session.isAdministrator()) {
          <form class="pair" (submit)="add(); $event.preventDefault()">
            <div>
              <div class="field" [class.wrong]="typed() && ofNew('text')">
                <label for="text"
                  >New sender ID <span>{{ text().length }} of {{ limit }}</span></label
                ><mat-form-field
                  ><input
                    matInput
                    id="text"
                    class="mono"
                    autocomplete="off"
                    [value]="text()"
                    (input)="text.set($any($event.target).value); typed.set(true)"
                /></mat-form-field>
              </div>
              <div class="field" [class.wrong]="typed() && ofNew('signature')">
                <label for="signature"
                  >Signature <span>{{ segments(signature()) }}</span></label
                ><mat-form-field
                  ><input
                    matInput
                    id="signature"
                    maxlength="120"
                    autocomplete="off"
                    [value]="signature()"
                    (input)="signature.set($any($event.target).value); typed.set(true)"
                /></mat-form-field>
              </div>
              <p class="soft small">
                One-way: nobody can reply to it, so each text ends with the signature, which names another way to reply
                and to stop. It is counted in the length.
              </p>
              @if (wrong()) {
                <p class="error" role="alert">{{ wrong() }}</p>
              }
              <button type="submit" matButton="filled" [disabled]="busy() || newFindings().length > 0">
                Make the sender ID
              </button>
            </div>
            <div>
              @if (typed()) {
                <lg-findings [findings]="newFindings()" field="text" />
                <lg-findings [findings]="newFindings()" field="signature" />
              }
            </div>
          </form>
        }
        @if (senders.error()) {
          <div class="problem" role="alert">
            {{ senders.error()?.message }}
            <button type="button" matButton class="plain" (click)="senders.reload()">Try again</button>
          </div>
        } @else if (senders.hasValue() && all().length === 0) {
          <div class="empty">
            <h2>No sender ID yet</h2>
            <p>
              Abroad, texts may come from a name instead of a number: free in some countries, after registration in
              others, in some (the United States and Canada among them) not at all.
            </p>
          </div>
        } @else {
          <table class="ledger">
            <thead>
              <tr>
                <th>Sender ID</th>
                <th>Label</th>
                <th>Used in</th>
                <th>Signature</th>
              </tr>
            </thead>
            <tbody>
              @for (s of all(); track s.id) {
                <tr class="go" [class.chosen]="s.id === open()" (click)="choose(s.id)">
                  <td>
                    <button type="button" matButton class="plain mono" (click)="choose(s.id); $event.stopPropagation()">
                      {{ s.text }}
                    </button>
                  </td>
                  <td>{{ s.label || '–' }}</td>
                  <td>{{ usedIn(s) }}</td>
                  <td class="soft">{{ s.signature }}</td>
                </tr>
              } @empty {
                <tr>
                  <td colspan="4" class="soft">Reading…</td>
                </tr>
              }
            </tbody>
          </table>
        }
      </div>
      @if (chosen(); as s) {
        <aside class="docket">
          <div class="kind">
            <span>Sender ID</span><button type="button" matButton class="plain" (click)="choose(null)">Close</button>
          </div>
          <h2 class="mono">{{ s.text }}</h2>
          <p>One-way: replies cannot arrive.</p>
          <div class="step" [class.pass]="usable(s) > 0" [class.hold]="usable(s) === 0">
            @if (usable(s) > 0) {
              <span class="strong">Nothing to do.</span> It may be used in {{ usable(s) | count }}
              {{ usable(s) === 1 ? 'country' : 'countries' }}.
            } @else {
              <span class="strong">Choose where it is used.</span> A sender ID can be used nowhere until then.
            }
          </div>
          @if (session.isAdministrator()) {
            <form (submit)="save(s); $event.preventDefault()">
              <div class="field">
                <label for="s-label">Label</label
                ><mat-form-field
                  ><input matInput id="s-label" [value]="label()" (input)="label.set($any($event.target).value)"
                /></mat-form-field>
              </div>
              <div class="field">
                <label for="s-signature">Signature</label
                ><mat-form-field
                  ><input matInput id="s-signature" [value]="edited()" (input)="edited.set($any($event.target).value)"
                /></mat-form-field>
              </div>
              <button type="submit" matButton="outlined" [disabled]="busy()">Save</button>
            </form>
          }
          <h3>Countries</h3>
          @for (c of s.countries; track c.code) {
            <div class="country">
              <span>{{ c.name }}</span>
              <span class="small" [class]="tone[c.state]"
                >{{ c.state === 'not asked' ? c.rule : c.state }}{{ c.note ? ': ' + c.note : '' }}</span
              >
              <span class="end">
                @if ((c.state === 'not asked' || c.state === 'refused') && session.isAdministrator()) {
                  <button type="button" matButton class="plain" [disabled]="busy()" (click)="use(s, c)">
                    {{ c.rule === 'free' ? 'use here' : 'register, ' + (c.cost | money) }}
                  </button>
                } @else if ((c.state === 'free' || c.state === 'registered') && !c.open) {
                  <a
                    [routerLink]="['/b', session.businessId(), 'numbers', 'countries']"
                    [queryParams]="{ open: c.code }"
                    >open the country</a
                  >
                }
              </span>
            </div>
          }
          @if (session.isAdministrator()) {
            <p class="end-row">
              <button type="button" matButton="outlined" class="danger" [disabled]="busy()" (click)="drop(s)">
                Give it up…
              </button>
            </p>
          }
          <lg-history kind="number" [object]="s.id" />
        </aside>
      }
    </div>
  `,
  styles: `
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 460px) 260px;
      gap: 22px;
      margin-bottom: 18px;
    }
    h3 {
      margin: 14px 0 6px;
    }
    .country {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 96px 92px;
      gap: 8px;
      padding: 4px 0;
      border-bottom: 1px solid var(--hairline);
    }
    .end-row {
      margin-top: 12px;
    }
    button[type='submit'] {
      margin-top: 6px;
    }
  `,
})
export class SenderIdsPage {
  readonly open = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(SessionFacade);
  protected readonly tone = TONE;
  protected readonly limit = SENDER_ID_LENGTH;
  private readonly acting = new Acting();
  protected readonly busy = this.acting.busy;
  protected readonly text = signal('');
  protected readonly signature = signal('');
  protected readonly typed = signal(false);
  protected readonly wrong = signal('');
  protected readonly senders = liveResource(
    ['numbers'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listSenderIds, { params: { businessId } }),
  );
  protected readonly all = computed(() => (this.senders.hasValue() ? (this.senders.value()?.items ?? []) : []));
  protected readonly ids = computed(() => this.all().map((s) => s.id));
  protected readonly chosen = computed(() => this.all().find((s) => s.id === this.open()) ?? null);
  protected readonly label = linkedSignal(() => this.chosen()?.label ?? '');
  protected readonly edited = linkedSignal(() => this.chosen()?.signature ?? '');
  protected readonly newFindings = computed(() =>
    numbered([...reviewSenderId(this.text()), ...reviewSignature(this.signature())], ['text', 'signature']),
  );

  protected ofNew(field: string): boolean {
    return this.newFindings().some((f) => f.field === field);
  }
  protected segments(text: string): string {
    const s = segmentText(text);
    return s.units === 0 ? '' : `takes ${s.units} of ${s.encoding === 'GSM-7' ? 160 : 70}`;
  }
  protected usable(s: SenderIdView): number {
    return s.countries.filter((c) => c.state === 'free' || c.state === 'registered').length;
  }
  protected usedIn(s: SenderIdView): string {
    const names = s.countries.filter((c) => ['free', 'registered', 'in review'].includes(c.state));
    return names.map((c) => (c.state === 'in review' ? `${c.name} (in review)` : c.name)).join(', ') || 'nowhere yet';
  }
  protected choose(id: string | null): void {
    void this.router.navigate([], { queryParams: { open: id }, queryParamsHandling: 'merge' });
  }

  protected async add(): Promise<void> {
    this.wrong.set('');
    this.busy.set(true);
    try {
      const made = await this.api.call(addSenderId, {
        params: { businessId: this.session.businessId() },
        body: { text: this.text(), signature: this.signature() },
      });
      this.text.set('');
      this.signature.set('');
      this.typed.set(false);
      this.senders.reload();
      this.choose(made.id);
    } catch (error) {
      this.wrong.set((error as ApiProblem).message);
    } finally {
      this.busy.set(false);
    }
  }

  protected async save(s: SenderIdView): Promise<void> {
    await this.act(
      () =>
        this.api.call(saveSenderId, {
          params: this.path(s),
          version: s.version,
          body: { label: this.label(), signature: this.edited() },
        }),
      'Saved.',
    );
  }
  protected async use(s: SenderIdView, c: Use): Promise<void> {
    if (
      c.cost > 0 &&
      !(await this.confirm.ask({
        title: `Register ${s.text} in ${c.name}?`,
        line: `${formatAmount(c.cost)} now, nothing monthly. The registry answers in two to six days. Not refunded when refused.`,
        yes: `Register for ${formatAmount(c.cost)}`,
      }))
    )
      return;
    await this.act(
      () => this.api.call(useSenderIdIn, { params: { ...this.path(s), code: c.code } }),
      c.rule === 'free' ? `${s.text} may be used in ${c.name}.` : `${c.name} is asked.`,
    );
  }
  protected async drop(s: SenderIdView): Promise<void> {
    if (
      !(await this.confirm.ask({
        title: `Give ${s.text} up?`,
        line: 'At once nothing is sent from it any more, and somebody else may take it. Registrations are lost and not refunded.',
        yes: 'Give it up',
        no: 'Keep it',
      }))
    )
      return;
    await this.act(() => this.api.call(dropSenderId, { params: this.path(s) }), 'Given up.');
    this.choose(null);
  }

  private path(s: SenderIdView): { businessId: string; id: string } {
    return { businessId: this.session.businessId(), id: s.id };
  }
  private async act(work: () => Promise<unknown>, done: string): Promise<void> {
    await this.acting.run(work, done);
    this.senders.reload();
  }
}
