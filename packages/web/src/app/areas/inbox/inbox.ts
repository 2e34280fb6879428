import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  ElementRef,
  viewChild,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { answerThread, getThread, listThreads, markRead, type Thread, numberCard } from '@long-gate/contracts';
import { segmentText } from '@long-gate/core';
import { Api } from '../../api/api';
import { Facet } from '../../parts/facet';
import { DocketKeys } from '../../parts/docket-keys';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { History } from '../../parts/history';
import { onTopics } from '../../parts/on-topics';
import { PagedRows } from '../../parts/paged-rows';
import { PageTitle } from '../../parts/page-title';
import { Say } from '../../parts/say';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

/** Conversations: replies as they come; an answer goes through the same gate. */
@Component({
  selector: 'lg-inbox',
  imports: [
    Facet,
    MatInputModule,
    MatButtonModule,
    PageTitle,
    RouterLink,
    DocketKeys,
    GateStrip,
    History,
    MomentPipe,
    PhonePipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page" [lgDocketKeys]="ids()" [open]="open()" (chosen)="set({ open: $event })">
      <div class="work">
        <div class="head"><lg-page-title what="inbox" /></div>
        <div class="facets tight" role="group" aria-label="Filter">
          <lg-facet
            name="Conversations"
            [values]="[
              { value: 'all', on: !unread() },
              { value: 'unread', n: unreadCount(), on: unread() === 'yes' },
            ]"
            (picked)="set({ unread: $event === 'unread' ? 'yes' : null })"
          />
        </div>
        @if (rows.total() === 0) {
          <div class="empty">
            <h2>{{ unread() ? 'Nothing unread' : 'No conversations yet' }}</h2>
            <p>
              When somebody texts one of your numbers, it stands here. You may answer within 24 hours of their last
              word.
            </p>
          </div>
        }
        <table class="ledger">
          <tbody>
            @for (t of rows.rows(); track t.e164) {
              <tr class="go" [class.chosen]="t.e164 === open()" (click)="set({ open: t.e164 })">
                <td class="name">
                  <button type="button" matButton class="plain" [class.strong]="t.unread > 0">
                    {{ t.name || (t.e164 | phone) }}
                  </button>
                </td>
                <td class="cut last" [class.strong]="t.unread > 0">{{ t.lastText }}</td>
                <td class="soft right when">{{ t.lastAt | moment: 'short' }}</td>
                <td class="right n">
                  @if (t.unread > 0) {
                    <span class="note">{{ t.unread }} new</span>
                  }
                </td>
              </tr>
            }
          </tbody>
        </table>
        @if (!rows.ended() && rows.total()) {
          <p><button type="button" matButton="outlined" (click)="rows.more()">Show more</button></p>
        }
      </div>
      @if (open()) {
        <aside class="docket wide">
          <div class="kind">
            <span>Conversation</span
            ><span>
              @if (session.mayEdit() && thread.value()) {
                <button type="button" matButton class="plain" (click)="unmark()">Mark unread</button>
              }
              <button type="button" matButton class="plain" (click)="set({ open: null })">Close</button></span
            >
          </div>
          @if (thread.error(); as e) {
            <p class="stop" role="alert">{{ e.message }}</p>
          }
          @if (shown(); as t) {
            <h2>
              {{ t.thread.name || 'no name' }} <span class="mono soft">{{ t.thread.e164 | phone }}</span>
            </h2>
            @if (t.thread.contactId) {
              <p>
                <a [routerLink]="['/b', session.businessId(), 'contacts']" [queryParams]="{ open: t.thread.contactId }"
                  >To the contact</a
                >
              </p>
            }
            <ol #talk tabindex="0" aria-label="The conversation">
              @for (m of t.messages; track m.id) {
                <li [class]="m.direction">
                  <div class="small soft">
                    {{ m.direction === 'in' ? 'they' : m.kind === 'answer' ? 'we' : 'we, ' + m.kind }},
                    {{ m.at | moment: 'short' }}{{ m.direction === 'out' ? ', ' + m.state : ''
                    }}{{ m.why ? ': ' + m.why : '' }}{{ m.failure ? ': ' + m.failure : '' }}
                  </div>
                  <div class="words">{{ m.text }}</div>
                </li>
              }
            </ol>
            <div class="gate">
              <lg-gate-strip [answers]="t.gate.answers" />
              <span class="small" [class]="t.gate.result">{{
                t.gate.result === 'pass'
                  ? 'An answer passes until ' + (t.gate.answerUntil | moment: 'zone') + '.'
                  : 'An answer is ' +
                    (t.gate.result === 'hold' ? 'held' : 'stopped') +
                    ': ' +
                    t.gate.why +
                    '. What lifts it: ' +
                    t.gate.lift +
                    '.'
              }}</span>
            </div>
            @if (session.mayEdit()) {
              <form (submit)="answer(); $event.preventDefault()">
                <div class="field">
                  <label for="answer"
                    >Answer <span>{{ segments() }}</span></label
                  ><mat-form-field>
                    <textarea
                      matInput
                      id="answer"
                      rows="3"
                      maxlength="1600"
                      [disabled]="t.gate.result !== 'pass'"
                      [value]="text()"
                      (input)="text.set($any($event.target).value)"
                    ></textarea>
                  </mat-form-field>
                </div>
                <button
                  type="submit"
                  matButton="filled"
                  [disabled]="t.gate.result !== 'pass' || text().trim() === '' || busy()"
                >
                  Send answer
                </button>
                @if (t.gate.result === 'pass') {
                  <button type="button" matButton class="plain" (click)="putCard(t.thread.numberId)">
                    Put our contact card in
                  </button>
                }
              </form>
            }
            <lg-history kind="thread" [object]="t.thread.e164" />
          } @else if (!thread.error()) {
            <p class="soft">Reading…</p>
          }
        </aside>
      }
    </div>
  `,
  styles: `
    table {
      table-layout: fixed;
    }
    td.name {
      width: 168px;
    }
    td.name button {
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
      max-width: 100%;
    }

    td.when {
      width: 110px;
      white-space: nowrap;
    }
    td.n {
      width: 60px;
      white-space: nowrap;
    }
    ol {
      max-height: 50vh;
      overflow: auto;
      padding-right: 4px;
      display: flex;
      flex-direction: column;
      gap: 8px;
      margin: 14px 0;
    }
    li {
      max-width: 82%;
      padding: 7px 10px;
      border: 1px solid var(--hairline);
      border-radius: 2px;
      overflow-wrap: anywhere;
    }
    .words {
      white-space: pre-wrap;
    }
    li.out {
      align-self: flex-end;
      background: var(--primary-wash);
    }
    .gate {
      display: flex;
      gap: 12px;
      align-items: center;
      margin: 10px 0;
    }
    .kind .plain {
      margin-left: 14px;
    }
  `,
})
export class InboxPage {
  readonly open = input<string>();
  readonly unread = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly unreadCount = signal(0);
  private readonly params = computed(
    () =>
      this.session.businessId()
        ? { businessId: this.session.businessId(), unread: this.unread() === 'yes' ? ('yes' as const) : undefined }
        : undefined,
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
  protected readonly rows = new PagedRows<{ businessId: string; unread?: 'yes' }, Thread>(
    this.params,
    async ({ businessId, unread }, cursor, limit) => {
      const page = await this.api.call(listThreads, { params: { businessId }, query: { unread, cursor, limit } });
      this.unreadCount.set(page.unread);
      return page;
    },
  );
  protected readonly ids = computed(() => this.rows.rows().map((t) => t.e164));
  protected readonly thread = liveResource(
    ['inbox', 'consent', 'contacts', 'settings'],
    () => (this.open() ? { businessId: this.session.businessId(), e164: this.open() as string } : undefined),
    (params) => this.api.call(getThread, { params }),
  );
  protected readonly shown = computed(() => (this.thread.hasValue() ? this.thread.value() : undefined));
  /** What is typed belongs to one conversation; going to another begins anew. */
  /** The address of the number's card, by which people keep who we are. */
  protected putCard(id: string): void {
    const card = location.origin + this.api.address(numberCard, { params: { id } });
    this.text.update((t) => (t.includes(card) ? t : `${t} ${card}`.trim()));
  }
  protected readonly text = linkedSignal({ source: () => this.open(), computation: () => '' });
  private readonly talk = viewChild<ElementRef<HTMLOListElement>>('talk');
  protected readonly busy = signal(false);
  private key = crypto.randomUUID();
  private kept: string | undefined;
  protected readonly segments = computed(() => {
    const s = segmentText(this.text());
    return s.parts.length === 0 ? '' : `${s.parts.length} segment${s.parts.length === 1 ? '' : 's'}, ${s.encoding}`;
  });

  constructor() {
    onTopics(['inbox'], () => this.rows.refresh());
    // The newest words are the ones to read.
    afterRenderEffect(() => {
      this.shown();
      const talk = this.talk()?.nativeElement;
      if (talk) talk.scrollTop = talk.scrollHeight;
    });
    // Opening a conversation reads it; it stays unread for who marks it so.
    effect(() => {
      const t = this.shown()?.thread;
      if (!t || t.unread === 0 || !untracked(this.session.mayEdit) || this.kept === t.e164) return;
      void this.api
        .call(markRead, {
          params: { businessId: untracked(this.session.businessId), e164: t.e164 },
          body: { read: true },
        })
        .catch(() => undefined);
    });
  }

  protected async unmark(): Promise<void> {
    const e164 = this.open();
    if (!e164) return;
    this.kept = e164;
    await this.api
      .call(markRead, { params: { businessId: this.session.businessId(), e164 }, body: { read: false } })
      .catch((e: unknown) => this.say.problem(e));
    this.set({ open: null });
    setTimeout(() => (this.kept = undefined), 2000);
  }

  protected async answer(): Promise<void> {
    this.busy.set(true);
    try {
      await this.api.call(answerThread, {
        params: { businessId: this.session.businessId(), e164: this.open() ?? '' },
        body: { text: this.text() },
        key: this.key,
      });
      this.key = crypto.randomUUID();
      this.text.set('');
      this.thread.reload();
    } catch (error) {
      this.say.problem(error);
    } finally {
      this.busy.set(false);
    }
  }

  protected set(queryParams: Record<string, string | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: true });
  }
}
