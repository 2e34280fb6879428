import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  untracked,
} from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { recordWish, WISH_WAYS } from '@long-gate/contracts';
import { businessDaysBetween, dayIn, isDay, legibleEvidence, REFUSAL_WITHIN_DAYS } from '@long-gate/core';
import { Chips } from '../../parts/chips';
import { Confirm } from '../../parts/confirm';
import { Docket } from '../../parts/docket/docket';
import { CheckedForm, faultOf } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { readOf } from '../../parts/form/control-state';
import { DateField } from '../../parts/form/date-field';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { CountedPipe, CountPipe, DayPipe, MomentPipe, PhonePipe } from '../../parts/format';
import { LookUp, REASSIGNED } from '../../parts/look-up';
import { Unfold } from '../../parts/unfold';
import { ContactErase } from './contact-erase';
import { ContactFacts } from './contact-facts';
import { ContactGates, KINDS } from './contact-gates';
import { ContactMerge } from './contact-merge';
import { ContactNumbers } from './contact-numbers';
import { causeOf, nameOf } from './contact-words';
import { ContactStore } from './contact.store';
import { ListField } from '../../parts/list-field';
import { text } from '../../parts/form/controls';
import { zoneOf } from '../../state/zone';

/** One contact: gate, line, consent events, and what staff may record. */
@Component({
  selector: 'lg-contact-docket',
  imports: [
    ReactiveFormsModule,
    ChoiceField,
    DateField,
    ContactErase,
    ContactFacts,
    ContactMerge,
    ContactNumbers,
    Docket,
    Faults,
    Form,
    TextField,
    Chips,
    ListField,
    Unfold,
    MatInputModule,
    MatButtonModule,
    RouterLink,
    ContactGates,
    CountedPipe,
    CountPipe,
    DayPipe,
    MomentPipe,
    PhonePipe,
  ],
  providers: [ContactStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-docket
      kind="Contact"
      [name]="nameOf()"
      [next]="next()"
      [history]="store.known() ? 'contact' : ''"
      [object]="contactId()"
      (closed)="closed.emit()"
    >
      @if (store.number(); as n) {
        <p name class="mono">{{ n.e164 | phone }}</p>
      }
      @if (store.contact.error(); as e) {
        <p class="stop" role="alert">{{ e.message }}</p>
      }
      @if (store.number(); as n) {
        <lg-contact-numbers />
        <lg-contact-merge (kept)="moved.emit($event)" />
        <lg-contact-gates [verdicts]="n.verdicts" />
        @if (n.refusedElsewhere.length > 0) {
          <p class="stop small">
            No {{ n.refusedElsewhere.join(' and ') }} texts: the same person refused them on another number. Only they
            can lift that, by START or a new agreement from this number itself.
          </p>
        }
        @if (n.faultsInReview) {
          <div class="review">
            <p>
              Three texts to this number failed for passing reasons within 30 days; it is held until somebody looks.
              Trying again counts anew; keeping it out lasts until a lookup or a text from it says otherwise.
            </p>
            @if (store.session.isAdministrator()) {
              <button
                type="button"
                matButton="filled"
                [disabled]="store.acting.busy()"
                (click)="store.decideFaults(n.e164, true)"
              >
                Try it again
              </button>
              <button
                type="button"
                matButton="outlined"
                [disabled]="store.acting.busy()"
                (click)="store.decideFaults(n.e164, false)"
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
            {{ n.lookedUpAt === null ? 'never looked up' : n.lineType + (n.carrier ? ', ' + n.carrier : '') }}
            @if (store.session.mayEdit()) {
              <button type="button" matButton class="plain" [disabled]="store.acting.busy()" (click)="lookUp()">
                {{ n.lookedUpAt === null ? 'Look it up…' : 'Look it up again…' }}
              </button>
            }
          </dd>
          @if (n.lookedUpAt) {
            <dt>Looked up</dt>
            <dd>{{ n.lookedUpAt | moment }}</dd>
          }
          <dt>Changed hands</dt>
          <dd>
            @if (store.hands(); as a) {
              <span [class.stop]="a.answer === 'yes'" [class.hold]="a.answer === 'no data'">{{
                a.answer === 'no data' ? 'not known' : a.answer
              }}</span>, asked {{ a.askedAt | moment }} by the consent of {{ a.day | day }}
            } @else {
              never asked
            }
            @if (store.session.mayEdit()) {
              <button type="button" matButton class="plain" [disabled]="store.acting.busy()" (click)="askHands()">
                Ask…
              </button>
            }
          </dd>
          <dt>Textable</dt>
          <dd [class.stop]="n.textable === 'no'">
            {{ n.textable }}{{ n.reachable ? '' : ', not reachable' }}{{ n.trouble !== 'none' ? ', ' + n.trouble : '' }}
          </dd>
          <dt>May be in</dt>
          <dd>{{ n.states || n.country }}, {{ n.zones.split(',').join(', ') }}</dd>
          <dt>Lists, tags</dt>
          <dd>
            @if (store.on().length > 0) {
              <lg-chips
                label="Lists and tags it is on"
                takeOut="Take off"
                [chips]="store.on()"
                [editable]="store.session.mayEdit()"
                (removed)="store.takeOff($event)"
              />
            } @else {
              none
            }
            @if (store.session.mayEdit()) {
              <form class="put" (submit)="putOn(wanted.value); $event.preventDefault()">
                <lg-list-field
                  [control]="wanted"
                  [lists]="others()"
                  label="Put on a list or tag"
                  placeholder="put on a list or tag…"
                  (chosen)="putOn($event)"
                />
              </form>
            }
          </dd>
        </dl>
        <lg-contact-facts />
        @if (n.troubles.length > 0) {
          <h3>What kept texts from it</h3>
          @for (t of n.troubles; track t.cause) {
            <p class="small">
              {{ cause(t.cause) }}{{ t.detail ? ', ' + t.detail : '' }}: {{ t.times | counted: 'time' : 'times' }},
              {{ t.firstAt | moment: 'short' }}{{ t.times > 1 ? ' to ' : ''
              }}{{ t.times > 1 ? (t.lastAt | moment: 'short') : '' }}
              <span class="soft">by {{ t.source }}{{ t.carrier ? ', ' + t.carrier : '' }}</span>
            </p>
          }
        }
        <hr class="rule" />
        <h3>Consent</h3>
        <dl class="facts">
          <dt>Informational</dt>
          <dd>{{ n.consent.informational }}</dd>
          <dt>Promotional</dt>
          <dd>{{ n.consent.promotional }}</dd>
          <dt>Conversational</dt>
          <dd>{{ n.consent.conversational }}</dd>
        </dl>
        @for (e of store.events.value()?.items ?? []; track e.id) {
          <lg-unfold>
            <span line class="event"
              ><span class="soft">{{ e.happenedAt | moment: 'short' }}</span
              ><span
                >{{ e.kind }}{{ e.awaitsConfirmation ? ', YES asked' : '' }}: {{ e.purposes.join(', ') }},
                {{ e.how }}</span
              ></span
            >
            @if (e.disclosure) {
              <p class="small">
                “{{ e.disclosure }}”
                @if (!e.evidence['form']) {
                  <span class="soft">{{ e.disclosureVersion }}</span>
                }
              </p>
            }
            @for (kv of legible(e.evidence); track kv[0]) {
              <div class="small hash">
                <span class="soft">{{ kv[0] }}</span> {{ kv[1] }}
              </div>
            }
            <div class="small mono hash">{{ e.hash }}</div>
            <div class="small">
              <a [routerLink]="['/b', store.session.businessId(), 'consent']" [queryParams]="{ open: e.id }"
                >Event {{ e.seq | count }} in the ledger</a
              >
            </div>
          </lg-unfold>
        } @empty {
          <p class="soft small">
            {{
              store.events.isLoading()
                ? 'Reading…'
                : 'Nothing on file. They can agree on the opt-in page; nobody here can agree for them.'
            }}
          </p>
        }
        <p class="links">
          <a [routerLink]="['/b', store.session.businessId(), 'consent']" [queryParams]="{ e164: n.e164 }"
            >In the ledger</a
          >
          ·
          <a [routerLink]="['/b', store.session.businessId(), 'inbox']" [queryParams]="{ open: n.e164 }"
            >Conversation</a
          >
          ·
          <a
            [routerLink]="['/b', store.session.businessId(), 'consent', 'evidence', 'ask']"
            [queryParams]="{ e164: n.e164 }"
            >Evidence pack</a
          >
          ·
          <a [routerLink]="['/b', store.session.businessId(), 'consent', 'as-of']" [queryParams]="{ e164: n.e164 }"
            >As of a day</a
          >
        </p>
        @if (store.session.isAdministrator()) {
          <p>
            <a
              matButton
              class="plain"
              [routerLink]="['/b', store.session.businessId(), 'consent', 'forms', 'file']"
              [queryParams]="{ e164: n.e164 }"
              >File a form they signed…</a
            >
          </p>
        }
        @if (store.session.mayEdit()) {
          @if (wishing()) {
            <form class="wish" [lgForm]="wishForm" (sent)="wish()">
              <lg-choice-field
                [control]="wishForm.controls.how"
                label="How did they tell us?"
                name="how"
                [choices]="ways"
              />
              <lg-date-field
                label="When did they say it?"
                hint="today, where it is left empty"
                name="saidOn"
                [to]="today()"
                [wrong]="dayWrong()"
                [value]="wishForm.controls.saidOn.value"
                (changed)="wishForm.controls.saidOn.setValue($event)"
              />
              @if (late(wishForm.controls.saidOn.value); as line) {
                <p class="hold" role="status">{{ line }}</p>
              }
              <lg-text-field [control]="wishForm.controls.words" label="In their words" name="words" [lines]="3" />
              <lg-faults [form]="wishForm" />
              <button type="submit" matButton="filled" [disabled]="wishForm.busy()">Record and stop all texts</button>
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
        <lg-contact-erase (erased)="closed.emit()" />
      } @else if (!store.contact.error()) {
        <p class="soft">Reading…</p>
      }
    </lg-docket>
  `,
  styles: `
    .review p {
      margin: 8px 0;
    }
    .review button {
      margin-right: 8px;
    }
    .wish {
      margin-top: 12px;
    }
    .wish button {
      margin-right: 8px;
    }
    .put {
      margin-top: 4px;
    }
    .event {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 10px;
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
  /** Another contact is looked at now. */
  readonly moved = output<string>();
  protected readonly store = inject(ContactStore);
  private readonly confirm = inject(Confirm);
  private readonly lookups = inject(LookUp);
  protected readonly ways = WISH_WAYS.map((value) => ({ value, label: value }));
  protected readonly cause = causeOf;
  protected readonly wishing = linkedSignal({ source: () => this.contactId(), computation: () => false });
  protected readonly wanted = text();
  protected readonly wishForm = new CheckedForm(
    { how: text(WISH_WAYS[0]), saidOn: text(), words: text() },
    recordWish.body.pick({ how: true, saidOn: true, words: true }),
  );
  protected readonly dayWrong = readOf(() => this.wishForm.controls.saidOn, faultOf);
  protected readonly today = computed(() => dayIn(this.store.session.now(), zoneOf(this.store.session.business())));
  /** What the law says of a wish that was told so long ago (47 CFR 64.1200(a)(10)). */
  protected readonly late = (day: string): string => {
    const days = isDay(day) ? businessDaysBetween(day, this.today()) : 0;
    return days > REFUSAL_WITHIN_DAYS
      ? `That was ${days} business days ago; the law’s outer limit is ten. A text they got since may bring a complaint.`
      : '';
  };
  protected readonly nameOf = computed(() => {
    const c = this.store.known();
    return c ? nameOf(c) : '';
  });
  protected readonly next = computed(() => {
    const v = this.store.number()?.verdicts;
    if (!v) return null;
    const passing = KINDS.filter((k) => v[k].result === 'pass');
    const [other] = KINDS.filter((k) => v[k].result !== 'pass');
    const tone = other === undefined || passing.length > 0 ? ('pass' as const) : v.informational.result;
    return {
      title:
        passing.length > 0
          ? `May get ${passing.join(' and ')} texts now.`
          : v.informational.result === 'hold'
            ? 'Held.'
            : 'Stopped.',
      tone,
      why:
        other === undefined
          ? ''
          : `${passing.length > 0 ? `No ${other} ones: ` : ''}${v[other].why}. What lifts it: ${v[other].lift}.`,
    };
  });
  /** Lists and tags it is not on. */
  protected readonly others = computed(() => this.store.lists().filter((l) => !this.store.on().includes(l)));

  constructor() {
    this.store.about(this.contactId);
    effect(() => {
      this.contactId();
      // What was typed of one person is not of the next.
      untracked(() => {
        this.wanted.reset();
        this.wishForm.group.reset();
      });
    });
  }

  protected readonly legible = legibleEvidence;
  protected async putOn(name: string): Promise<void> {
    if (name.trim() !== '' && (await this.store.putOn(name.trim()))) this.wanted.reset();
  }
  protected async askHands(): Promise<void> {
    await this.lookups.ask(this.store.acting, this.store.query(), REASSIGNED);
  }
  protected async lookUp(): Promise<void> {
    await this.lookups.ask(this.store.acting, this.store.lookup());
  }
  protected async wish(): Promise<void> {
    const yes = await this.confirm.ask({
      title: 'Stop all texts to this number?',
      line: 'Works at once, for every number of the business. Only the contact can lift it again.',
      yes: 'Record it',
    });
    if (!yes) return;
    if (await this.wishForm.send((body) => this.store.recordWish(body))) {
      this.wishForm.group.reset();
      this.wishing.set(false);
    }
  }
}
