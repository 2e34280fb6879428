import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import {
  addList,
  changeMembers,
  editContact,
  getContact,
  listLedger,
  listLists,
  recordWish,
} from '@long-gate/contracts';
import { postLabel } from '@long-gate/core';
import { Api, type ApiProblem } from '../../api/api';
import { Confirm } from '../../parts/confirm';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { History } from '../../parts/history';
import { Say } from '../../parts/say';
import { problemsInto } from '../../parts/schema-form';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';
import { FaultsStore } from './faults.store';

/** One contact: gate, line, consent events, and what staff may record. */
@Component({
  selector: 'lg-contact-docket',
  imports: [MatInputModule, MatButtonModule, RouterLink, GateStrip, History, MomentPipe, PhonePipe],
  providers: [FaultsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="kind">
      <span>Contact</span><button type="button" matButton class="plain" (click)="closed.emit()">Close</button>
    </div>
    @if (contact.error(); as e) {
      <p class="stop" role="alert">{{ e.message }}</p>
    }
    @if (contact.value(); as c) {
      <h2>{{ (c.firstName + ' ' + c.lastName).trim() || 'no name' }}</h2>
      <p class="mono">{{ c.number.e164 | phone }}</p>
      <div class="step" [class.pass]="c.verdict.result === 'pass'" [class.hold]="c.verdict.result === 'hold'">
        <span class="strong">{{
          c.verdict.result === 'pass'
            ? 'May get informational texts now.'
            : c.verdict.result === 'hold'
              ? 'Held.'
              : 'Stopped.'
        }}</span>
        @if (c.verdict.result !== 'pass') {
          {{ c.verdict.why }}. What lifts it: {{ c.verdict.lift }}.
        }
      </div>
      <lg-gate-strip [answers]="c.verdict.answers" [large]="true" />
      <p class="small soft">{{ deciding() }}</p>
      @if (c.number.faultsInReview) {
        <div class="review">
          <p>
            Three texts to this number failed for passing reasons within 30 days; it is held until somebody looks.
            Trying again counts anew; keeping it out lasts until a lookup or a text from it says otherwise.
          </p>
          @if (session.isAdministrator()) {
            <button
              type="button"
              matButton="filled"
              [disabled]="faults.acting.busy()"
              (click)="faults.decide(c.number.e164, true)"
            >
              Try it again
            </button>
            <button
              type="button"
              matButton="outlined"
              [disabled]="faults.acting.busy()"
              (click)="faults.decide(c.number.e164, false)"
            >
              Keep it out
            </button>
          } @else {
            <p class="soft small">An administrator decides.</p>
          }
        </div>
      }
      <hr class="rule" />
      <dl class="facts">
        <dt>Line</dt>
        <dd>
          {{
            c.number.lookedUpAt === null
              ? 'never looked up'
              : c.number.lineType + (c.number.carrier ? ', ' + c.number.carrier : '')
          }}
        </dd>
        @if (c.number.lookedUpAt) {
          <dt>Looked up</dt>
          <dd>{{ c.number.lookedUpAt | moment }}</dd>
        }
        <dt>Textable</dt>
        <dd [class.stop]="c.number.textable === 'no'">
          {{ c.number.textable }}{{ c.number.reachable ? '' : ', not reachable'
          }}{{ c.number.trouble !== 'none' ? ', ' + c.number.trouble : '' }}
        </dd>
        <dt>May be in</dt>
        <dd>{{ c.number.states || c.number.country }}, {{ c.number.zones.split(',').join(', ') }}</dd>
        @if (c.email) {
          <dt>E-mail</dt>
          <dd>{{ c.email }}</dd>
        }
        <dt>Lists, tags</dt>
        <dd>
          @for (l of mine(); track l.id) {
            <span class="chip"
              >{{ l.name }}
              @if (session.mayEdit()) {
                <button
                  type="button"
                  matButton
                  class="plain"
                  [attr.aria-label]="'Take off ' + l.name"
                  (click)="takeOff(l.id)"
                >
                  ×
                </button>
              }
            </span>
          } @empty {
            none
          }
          @if (session.mayEdit()) {
            <form class="put" (submit)="putOn(list.value, list); $event.preventDefault()">
              <mat-form-field
                ><input
                  matInput
                  #list
                  list="all-lists"
                  aria-label="Put on a list or tag"
                  placeholder="put on a list or tag…"
                  maxlength="60"
              /></mat-form-field>
              <datalist id="all-lists">
                @for (l of lists.value()?.items ?? []; track l.id) {
                  <option [value]="l.name"></option>
                }
              </datalist>
            </form>
          }
        </dd>
      </dl>
      @if (session.mayEdit()) {
        @if (editing()) {
          <form (submit)="save(); $event.preventDefault()" class="edit">
            <div class="row-fields">
              <div class="field">
                <label for="first">First name</label
                ><mat-form-field
                  ><input matInput id="first" [value]="draft().firstName" (input)="set('firstName', $event)"
                /></mat-form-field>
              </div>
              <div class="field">
                <label for="last">Last name</label
                ><mat-form-field
                  ><input matInput id="last" [value]="draft().lastName" (input)="set('lastName', $event)"
                /></mat-form-field>
              </div>
            </div>
            <div class="field">
              <label for="mail">E-mail</label
              ><mat-form-field
                ><input matInput id="mail" [value]="draft().email" (input)="set('email', $event)"
              /></mat-form-field>
            </div>
            <div class="field" [class.wrong]="errors()['stateCode']">
              <label for="st">State of their address <span>narrows the hours</span></label
              ><mat-form-field
                ><input matInput id="st" maxlength="2" [value]="draft().stateCode" (input)="set('stateCode', $event)"
              /></mat-form-field>
              @if (errors()['stateCode']) {
                <p class="error" role="alert">{{ errors()['stateCode'] }}</p>
              }
            </div>
            @if (errors()['']) {
              <p class="error" role="alert">{{ errors()[''] }}</p>
            }
            <button type="submit" matButton="filled">Save</button>
            <button type="button" matButton="outlined" (click)="editing.set(false)">Cancel</button>
          </form>
        } @else {
          <p><button type="button" matButton class="plain" (click)="editing.set(true)">Edit</button></p>
        }
      }
      <hr class="rule" />
      <h3>Consent</h3>
      <dl class="facts">
        <dt>Informational</dt>
        <dd>{{ c.number.consent.informational }}</dd>
        <dt>Promotional</dt>
        <dd>{{ c.number.consent.promotional }}</dd>
        <dt>Conversational</dt>
        <dd>{{ c.number.consent.conversational }}</dd>
      </dl>
      @for (e of events.value()?.items ?? []; track e.id) {
        <details>
          <summary>
            <span class="soft">{{ e.happenedAt | moment: 'short' }}</span><span
              >{{ e.kind }}{{ e.awaitsConfirmation ? ', YES asked' : '' }}: {{ e.purposes.join(', ') }},
              {{ e.how }}</span
            >
          </summary>
          @if (e.disclosure) {
            <p class="small">
              “{{ e.disclosure }}” <span class="soft">{{ e.disclosureVersion }}</span>
            </p>
          }
          @for (kv of pairs(e.evidence); track kv[0]) {
            <div class="small">
              <span class="soft">{{ kv[0] }}</span> {{ kv[1] }}
            </div>
          }
          <div class="small mono cut" [title]="e.hash">#{{ e.seq }} {{ e.hash }}</div>
        </details>
      } @empty {
        <p class="soft small">
          {{
            events.isLoading()
              ? 'Reading…'
              : 'Nothing on file. They can agree on the opt-in page; nobody here can agree for them.'
          }}
        </p>
      }
      <p class="links">
        <a [routerLink]="['/b', session.businessId(), 'consent']" [queryParams]="{ e164: c.number.e164 }"
          >In the ledger</a
        >
        ·
        <a [routerLink]="['/b', session.businessId(), 'inbox']" [queryParams]="{ open: c.number.e164 }">Conversation</a>
      </p>
      @if (session.mayEdit()) {
        @if (wishing()) {
          <form (submit)="wish(); $event.preventDefault()">
            <div class="field">
              <label for="how">How did they tell us?</label
              ><mat-form-field
                ><select matNativeControl id="how" #how>
                  <option>phone call</option>
                  <option>e-mail</option>
                  <option>paper form</option>
                </select></mat-form-field
              >
            </div>
            <div class="field" [class.wrong]="errors()['words']">
              <label for="words">In their words</label
              ><mat-form-field><textarea matInput id="words" #words></textarea></mat-form-field>
              @if (errors()['words']) {
                <p class="error" role="alert">{{ errors()['words'] }}</p>
              }
            </div>
            <button type="submit" matButton="filled" (click)="wishHow = $any(how.value); wishWords = words.value">
              Record and stop all texts
            </button>
            <button type="button" matButton="outlined" (click)="wishing.set(false)">Cancel</button>
          </form>
        } @else {
          <p>
            <button type="button" matButton class="plain stop" (click)="wishing.set(true)">
              They asked us to stop…
            </button>
          </p>
        }
      }
      <lg-history kind="contact" [object]="c.id" />
    } @else if (!contact.error()) {
      <p class="soft">Reading…</p>
    }
  `,
  styles: `
    .review p {
      margin: 8px 0;
    }
    .review button {
      margin-right: 8px;
    }
    .put {
      margin-top: 4px;
    }
    details {
      padding: 3px 0;
    }
    summary {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 10px;
      cursor: pointer;
      list-style: none;
      font-size: 13px;
    }
    summary::-webkit-details-marker {
      display: none;
    }
    .links {
      margin: 8px 0;
    }
    .edit {
      margin-top: 12px;
    }
    p {
      margin-top: 6px;
    }
  `,
})
export class ContactDocket {
  readonly contactId = input.required<string>();
  readonly closed = output();
  private readonly api = inject(Api);
  protected readonly faults = inject(FaultsStore);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly contact = liveResource(
    ['contacts', 'consent'],
    () => ({ businessId: this.session.businessId(), id: this.contactId() }),
    (params) => this.api.call(getContact, { params }),
  );
  private readonly e164 = computed(() => (this.contact.hasValue() ? this.contact.value()?.number.e164 : undefined));
  protected readonly events = liveResource(
    ['consent'],
    () => this.e164(),
    (e164) =>
      this.api.call(listLedger, { params: { businessId: this.session.businessId() }, query: { e164, limit: 50 } }),
  );
  protected readonly lists = liveResource(
    ['contacts'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listLists, { params: { businessId } }),
  );
  protected readonly mine = computed(() => {
    const names = (this.contact.hasValue() ? this.contact.value()?.lists : undefined) ?? [];
    return (this.lists.value()?.items ?? []).filter((l) => names.includes(l.name));
  });
  protected readonly editing = linkedSignal({ source: () => this.contactId(), computation: () => false });
  protected readonly wishing = linkedSignal({ source: () => this.contactId(), computation: () => false });
  protected readonly draft = linkedSignal(() => {
    const c = this.contact.hasValue() ? this.contact.value() : undefined;
    return {
      firstName: c?.firstName ?? '',
      lastName: c?.lastName ?? '',
      email: c?.email ?? '',
      stateCode: c?.stateCode ?? '',
    };
  });
  protected readonly errors = signal<Record<string, string>>({});
  protected wishHow: 'phone call' | 'e-mail' | 'paper form' = 'phone call';
  protected wishWords = '';
  protected readonly deciding = computed(() => {
    const a = (this.contact.hasValue() ? this.contact.value()?.verdict.answers : undefined)?.find(
      (x) => x.result === 'stop' || x.result === 'hold',
    );
    return a
      ? `Post ${a.post}, ${postLabel(a.post)}: ${a.result}. Judged as an informational text, now.`
      : 'Every post that concerns a contact passes. Judged as an informational text, now.';
  });

  /** On a known list or tag, or on a new tag of that name. */
  protected async putOn(name: string, field: HTMLInputElement): Promise<void> {
    const businessId = this.session.businessId();
    const wanted = name.trim();
    if (wanted === '') return;
    try {
      const known = this.lists.value()?.items.find((l) => l.name.toLowerCase() === wanted.toLowerCase());
      const list =
        known ?? (await this.api.call(addList, { params: { businessId }, body: { name: wanted, kind: 'tag' } }));
      await this.api.call(changeMembers, { params: { businessId, id: list.id }, body: { add: [this.contactId()] } });
      field.value = '';
    } catch (error) {
      this.say.problem(error);
    }
  }
  protected async takeOff(id: string): Promise<void> {
    await this.api
      .call(changeMembers, {
        params: { businessId: this.session.businessId(), id },
        body: { remove: [this.contactId()] },
      })
      .catch((e: unknown) => this.say.problem(e));
  }
  protected pairs(o: Record<string, string>): [string, string][] {
    return Object.entries(o);
  }
  protected set(key: string, event: Event): void {
    this.draft.update((d) => ({ ...d, [key]: (event.target as HTMLInputElement).value }));
  }
  protected async save(): Promise<void> {
    try {
      await this.api.call(editContact, {
        params: { businessId: this.session.businessId(), id: this.contactId() },
        version: this.contact.value()?.version ?? 0,
        body: this.draft(),
      });
      this.errors.set({});
      this.editing.set(false);
      this.contact.reload();
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
    }
  }
  protected async wish(): Promise<void> {
    const yes = await this.confirm.ask({
      title: 'Stop all texts to this number?',
      line: 'Works at once, for every number of the business. Only the contact can lift it again.',
      yes: 'Record it',
    });
    if (!yes) return;
    try {
      await this.api.call(recordWish, {
        params: { businessId: this.session.businessId() },
        body: {
          e164: this.e164() ?? '',
          purposes: ['conversational', 'informational', 'promotional'],
          how: this.wishHow,
          words: this.wishWords,
        },
      });
      this.errors.set({});
      this.wishing.set(false);
      this.say.done('Recorded. Nothing more is sent to them.');
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
    }
  }
}
