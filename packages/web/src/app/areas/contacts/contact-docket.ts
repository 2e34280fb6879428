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
import { type FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { recordWish, type ContactRow } from '@long-gate/contracts';
import { Chips } from '../../parts/chips';
import { Confirm } from '../../parts/confirm';
import { Docket } from '../../parts/docket/docket';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { LookUp } from '../../parts/look-up';
import { Unfold } from '../../parts/unfold';
import { ContactGates, KINDS } from './contact-gates';
import { ContactStore } from './contact.store';
import { ListField } from './list-field';
import { text } from '../../parts/form/controls';

/** What staff may change about a contact. */
type Facts = Pick<ContactRow, 'firstName' | 'lastName' | 'email' | 'stateCode'>;
const formOf = ({ firstName, lastName, email, stateCode, version }: ContactRow): Kept<Facts> => ({
  value: { firstName, lastName, email, stateCode },
  version,
});
const WAYS = ['phone call', 'e-mail', 'paper form'] as const;

/** One contact: gate, line, consent events, and what staff may record. */
@Component({
  selector: 'lg-contact-docket',
  imports: [
    ReactiveFormsModule,
    ChoiceField,
    Conflicts,
    Docket,
    Faults,
    Form,
    Saved,
    TextField,
    Chips,
    ListField,
    Unfold,
    MatInputModule,
    MatButtonModule,
    RouterLink,
    ContactGates,
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
      @if (store.known(); as c) {
        <p name class="mono">{{ c.number.e164 | phone }}</p>
      }
      @if (store.contact.error(); as e) {
        <p class="stop" role="alert">{{ e.message }}</p>
      }
      @if (store.known(); as c) {
        <lg-contact-gates [verdicts]="c.verdicts" />
        @if (c.number.faultsInReview) {
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
                (click)="store.decideFaults(c.number.e164, true)"
              >
                Try it again
              </button>
              <button
                type="button"
                matButton="outlined"
                [disabled]="store.acting.busy()"
                (click)="store.decideFaults(c.number.e164, false)"
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
            @if (store.session.mayEdit()) {
              <button type="button" matButton class="plain" [disabled]="store.acting.busy()" (click)="lookUp()">
                {{ c.number.lookedUpAt === null ? 'Look it up…' : 'Look it up again…' }}
              </button>
            }
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
        @if (store.session.mayEdit()) {
          @if (editing()) {
            <form (submit)="done(); $event.preventDefault()" class="edit">
              <lg-conflicts [of]="saving" [names]="names" />
              <div class="row-fields">
                <lg-text-field [control]="form.controls.firstName" label="First name" name="first" [most]="80" />
                <lg-text-field [control]="form.controls.lastName" label="Last name" name="last" [most]="80" />
              </div>
              <lg-text-field [control]="form.controls.email" label="E-mail" name="mail" [most]="200" />
              <lg-text-field
                [control]="form.controls.stateCode"
                label="State of their address"
                hint="narrows the hours"
                name="st"
                [most]="2"
              />
              <button type="submit" matButton="filled">Done</button>
              <lg-saved [of]="saving" />
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
                “{{ e.disclosure }}” <span class="soft">{{ e.disclosureVersion }}</span>
              </p>
            }
            @for (kv of pairs(e.evidence); track kv[0]) {
              <div class="small">
                <span class="soft">{{ kv[0] }}</span> {{ kv[1] }}
              </div>
            }
            <div class="small mono hash">#{{ e.seq }} {{ e.hash }}</div>
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
          <a [routerLink]="['/b', store.session.businessId(), 'consent']" [queryParams]="{ e164: c.number.e164 }"
            >In the ledger</a
          >
          ·
          <a [routerLink]="['/b', store.session.businessId(), 'inbox']" [queryParams]="{ open: c.number.e164 }"
            >Conversation</a
          >
        </p>
        @if (store.session.isAdministrator()) {
          <p>
            <a
              matButton
              class="plain"
              [routerLink]="['/b', store.session.businessId(), 'consent', 'forms', 'file']"
              [queryParams]="{ e164: c.number.e164 }"
              >File a form they signed…</a
            >
          </p>
        }
        @if (store.session.mayEdit()) {
          @if (wishing()) {
            <form [lgForm]="wishForm" (sent)="wish()">
              <lg-choice-field
                [control]="wishForm.controls.how"
                label="How did they tell us?"
                name="how"
                [choices]="ways"
              />
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
  protected readonly store = inject(ContactStore);
  private readonly confirm = inject(Confirm);
  private readonly lookups = inject(LookUp);
  protected readonly ways = WAYS.map((value) => ({ value, label: value }));
  protected readonly names = {
    firstName: 'First name',
    lastName: 'Last name',
    email: 'E-mail',
    stateCode: 'State of their address',
  };
  protected readonly editing = linkedSignal({ source: () => this.contactId(), computation: () => false });
  protected readonly wishing = linkedSignal({ source: () => this.contactId(), computation: () => false });
  protected readonly wanted = text();
  protected readonly form = new FormGroup<{ [K in keyof Facts]: FormControl<string> }>({
    firstName: text(),
    lastName: text(),
    email: text(),
    stateCode: text(),
  });
  protected readonly saving = new Autosave<Facts>({
    save: async (body, version) => formOf(await this.store.save(body, version)),
    read: async () => formOf(await this.store.read()),
    lastChange: () => this.store.lastChange(),
  });
  protected readonly wishForm = new CheckedForm(
    { how: text(WAYS[0]), words: text() },
    recordWish.body.pick({ how: true, words: true }),
  );
  protected readonly nameOf = computed(() => {
    const c = this.store.known();
    return c ? `${c.firstName} ${c.lastName}`.trim() || 'no name' : '';
  });
  protected readonly next = computed(() => {
    const v = this.store.known()?.verdicts;
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
    autosaved(this.form, this.saving);
    effect(() => {
      this.contactId();
      untracked(() => this.wanted.reset());
    });
    effect(() => {
      const c = this.store.known();
      if (c) untracked(() => this.saving.take(`contact ${c.id}`, formOf(c)));
    });
  }

  protected pairs(o: Record<string, string>): [string, string][] {
    return Object.entries(o);
  }
  protected async putOn(name: string): Promise<void> {
    if (name.trim() !== '' && (await this.store.putOn(name.trim()))) this.wanted.reset();
  }
  protected async done(): Promise<void> {
    if (await this.saving.flush()) this.editing.set(false);
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
