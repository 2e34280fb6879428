import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import type { Thread } from '@long-gate/contracts';
import { formatPhone, segmentText, STANDINGS, type Standing } from '@long-gate/core';
import { ApiProblem } from '../../api/api';
import { Docket } from '../../parts/docket/docket';
import { Facet, type FacetValue } from '../../parts/facet';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { KeptDrafts } from '../../parts/form/kept-drafts';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { InboxStore } from './inbox.store';

const HURRY_MS = 4 * 3_600_000;
const LABELS: Record<Standing, string> = {
  waiting: 'waiting for an answer',
  'too late': 'too late to answer',
  answered: 'answered',
  'by itself': 'handled by itself',
};
const NOTHING: Record<Standing, string> = {
  waiting: 'Nothing waits for an answer.',
  'too late': 'Nothing was left unanswered beyond its time.',
  answered: 'Nothing was answered yet.',
  'by itself': 'No STOP, HELP, START or YES has come in.',
};

/** How long there is to answer, in the larger of hours and minutes. */
function timeLeft(ms: number): string {
  if (ms <= 0) return 'too late';
  return ms < 3_600_000 ? `${Math.ceil(ms / 60_000)} min left` : `${Math.floor(ms / 3_600_000)} h left`;
}

/** Conversations: replies as they come; an answer goes through the same gate. */
@Component({
  selector: 'lg-inbox',
  imports: [
    Cell,
    Docket,
    Facet,
    List,
    Table,
    MatInputModule,
    MatButtonModule,
    ReactiveFormsModule,
    RouterLink,
    GateStrip,
    MomentPipe,
    PhonePipe,
  ],
  providers: [InboxStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="inbox" [store]="store">
      <ng-container nothing>
        <h2>No conversations yet</h2>
        <p>
          When somebody texts one of your numbers, it stands here. You may answer within 24 hours of their last word.
        </p>
      </ng-container>
      <lg-facet
        facets
        name="Conversations"
        [values]="facet()"
        (picked)="store.set({ show: $event === 'waiting' ? null : $event })"
      />
      <lg-table
        label="Conversations"
        headless
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="key"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        (near)="store.more()"
      >
        <ng-template lgCell="name" [of]="store.rows()" let-t>
          <button
            type="button"
            matButton
            class="plain"
            [class.strong]="t.unread > 0"
            (click)="store.choose(t.e164); $event.stopPropagation()"
          >
            {{ t.name || (t.e164 | phone) }}
          </button>
        </ng-template>
        <ng-template lgCell="left" [of]="store.rows()" let-t>
          @if (t.waitsUntil !== null) {
            <span [class]="urgency(t)" [title]="'until ' + (t.waitsUntil | moment: 'zone')">{{ left(t) }}</span>
          } @else {
            <span class="soft">{{ t.handled }}</span>
          }
        </ng-template>
        <ng-template lgCell="when" [of]="store.rows()" let-t>{{ t.lastAt | moment: 'short' }}</ng-template>
        <ng-container none>{{ store.loading() ? 'Reading…' : nothing() }}</ng-container>
      </lg-table>
      @if (store.open(); as e164) {
        <lg-docket
          docket
          class="talk"
          kind="Conversation"
          [history]="store.shown() ? 'thread' : ''"
          [object]="e164"
          (closed)="store.choose(null)"
        >
          @if (store.thread.error(); as e) {
            @if (isNone(e)) {
              <h2 class="mono">{{ e164 | phone }}</h2>
              <p>Nothing was texted to this number yet, and nothing came from it.</p>
            } @else {
              <p class="stop" role="alert">{{ e.message }}</p>
            }
          }
          @if (store.shown(); as t) {
            <h2>
              {{ t.thread.name || 'no name' }} <span class="mono soft">{{ t.thread.e164 | phone }}</span>
            </h2>
            @if (t.thread.contactId) {
              <p>
                <a
                  [routerLink]="['/b', store.session.businessId(), 'contacts']"
                  [queryParams]="{ open: t.thread.contactId }"
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
            @if (store.session.mayEdit()) {
              <form (submit)="answer(); $event.preventDefault()">
                <div class="field">
                  <label for="answer"
                    >Answer <span>{{ segments() }}</span></label
                  ><mat-form-field>
                    <textarea matInput id="answer" rows="3" maxlength="1600" [formControl]="words"></textarea>
                  </mat-form-field>
                </div>
                <button
                  type="submit"
                  matButton="filled"
                  [disabled]="t.gate.result !== 'pass' || words.value.trim() === '' || store.acting.busy()"
                >
                  Send answer
                </button>
                @if (t.gate.result === 'pass') {
                  <button type="button" matButton class="plain" (click)="putCard(t.thread.numberId)">
                    Put our contact card in
                  </button>
                  @if (t.ownPage; as link) {
                    <button type="button" matButton class="plain" (click)="putIn(link)">
                      Put a link to their page in
                    </button>
                  }
                }
              </form>
            }
          } @else if (!store.thread.error()) {
            <p class="soft">Reading…</p>
          }
          @if (store.session.mayEdit() && store.shown()) {
            <p class="small after">
              @if (store.shown()?.thread; as t) {
                @if (t.waitsUntil !== null) {
                  <button
                    type="button"
                    matButton
                    class="plain"
                    [disabled]="store.acting.busy()"
                    (click)="store.setWaiting(t.e164, false)"
                  >
                    Needs no answer
                  </button>
                } @else if (store.shown()?.gate?.result === 'pass') {
                  <button
                    type="button"
                    matButton
                    class="plain"
                    [disabled]="store.acting.busy()"
                    (click)="store.setWaiting(t.e164, true)"
                  >
                    Waits for an answer after all
                  </button>
                }
              }
              <button type="button" matButton class="plain" (click)="unmark()">Mark unread</button>
            </p>
          }
        </lg-docket>
      }
    </lg-list>
  `,
  styles: `
    lg-docket.talk {
      width: min(640px, 55vw);
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
    .after {
      display: flex;
      gap: 16px;
      margin-top: 6px;
    }
    form button + button {
      margin-left: 14px;
    }
    .gate {
      display: flex;
      gap: 12px;
      align-items: center;
      margin: 10px 0;
    }
  `,
})
export class InboxPage {
  protected readonly store = inject(InboxStore);
  private readonly drafts = inject(KeptDrafts);
  protected readonly key = (t: Thread): string => t.e164;
  /** Nobody wrote yet: the number was opened from elsewhere. */
  protected readonly isNone = (e: Error): boolean => e instanceof ApiProblem && e.status === 404;
  protected readonly columns: readonly Column<Thread>[] = [
    { id: 'name', head: 'Who', width: 170, text: (t) => t.name || formatPhone(t.e164) },
    {
      id: 'last',
      head: 'Last words',
      least: 160,
      text: (t) => t.lastText,
      face: (t) => (t.unread > 0 ? 'strong' : ''),
    },
    { id: 'when', head: 'When', width: 116, right: true, face: 'soft' },
    { id: 'left', head: 'To answer', width: 96, right: true },
    {
      id: 'new',
      head: 'Unread',
      width: 66,
      right: true,
      text: (t) => (t.unread > 0 ? `${t.unread} new` : ''),
      face: 'note',
    },
  ];
  protected readonly facet = computed((): FacetValue[] => {
    const counts = this.store.counts();
    const now = this.store.standing();
    return [
      ...STANDINGS.map((s) => ({ value: s, label: LABELS[s], n: counts?.[s], on: s === now })),
      { value: 'all', on: now === undefined },
    ];
  });
  protected readonly nothing = computed(() => {
    const now = this.store.standing();
    return now ? NOTHING[now] : 'No conversation.';
  });
  protected left(t: Thread): string {
    return timeLeft((t.waitsUntil ?? 0) - this.store.session.now());
  }
  protected urgency(t: Thread): string {
    const ms = (t.waitsUntil ?? 0) - this.store.session.now();
    return ms <= 0 ? 'soft' : ms < HURRY_MS ? 'hold' : '';
  }
  /** What is typed belongs to one conversation, and waits there while another one is read. */
  protected readonly words = text();
  private readonly typed = readOf(
    () => this.words,
    (c) => c.value,
  );
  private readonly talk = viewChild<ElementRef<HTMLOListElement>>('talk');
  /** A conversation that was just marked unread is not read by being left. */
  private kept: string | undefined;
  protected readonly segments = computed(() => {
    const s = segmentText(this.typed());
    return s.parts.length === 0 ? '' : `${s.parts.length} segment${s.parts.length === 1 ? '' : 's'}, ${s.encoding}`;
  });

  constructor() {
    effect(() => {
      const e164 = this.store.open();
      const kept = e164 ? this.drafts.of<{ text: string }>(`answer ${e164}`)?.mine.text : '';
      untracked(() => this.words.setValue(kept ?? ''));
    });
    effect(() => {
      if (this.store.shown()?.gate.result === 'pass') this.words.enable({ emitEvent: false });
      else this.words.disable({ emitEvent: false });
    });
    this.words.valueChanges.pipe(takeUntilDestroyed()).subscribe((words) => {
      this.keep(words);
    });
    // The newest words are the ones to read.
    afterRenderEffect(() => {
      this.store.shown();
      const talk = this.talk()?.nativeElement;
      if (talk) talk.scrollTop = talk.scrollHeight;
    });
    // Opening a conversation reads it; it stays unread for who marks it so.
    effect(() => {
      const t = this.store.shown()?.thread;
      if (!t || t.unread === 0 || !untracked(this.store.session.mayEdit) || this.kept === t.e164) return;
      void untracked(() => this.store.markRead(t.e164));
    });
  }

  private keep(text: string): void {
    const e164 = this.store.open();
    if (!e164) return;
    if (text.trim() === '') this.drafts.forget(`answer ${e164}`);
    else this.drafts.keep(`answer ${e164}`, { base: {}, mine: { text }, version: 0 });
  }
  protected putCard(id: string): void {
    this.putIn(this.store.cardOf(id));
  }
  /** A link, once. */
  protected putIn(link: string): void {
    const { value } = this.words;
    if (!value.includes(link)) this.words.setValue(`${value} ${link}`.trim());
  }
  protected async unmark(): Promise<void> {
    const e164 = this.store.open();
    if (!e164) return;
    this.kept = e164;
    await this.store.markUnread(e164);
    this.store.choose(null);
    setTimeout(() => (this.kept = undefined), 2000);
  }
  protected async answer(): Promise<void> {
    if (await this.store.answer(this.words.value.trim())) this.words.setValue('');
  }
}
