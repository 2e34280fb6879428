import { ChangeDetectionStrategy, Component, inject, linkedSignal, signal, untracked, computed } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import {
  BusinessEdit,
  checkAddress,
  editBusiness,
  openAccount,
  switchTexts,
  type Business,
} from '@long-gate/contracts';
import { Api, type ApiProblem } from '../../api/api';
import { Confirm } from '../../parts/confirm';
import { MoneyPipe } from '../../parts/format';
import { History } from '../../parts/history';
import { Say } from '../../parts/say';
import { checkWith, problemsInto } from '../../parts/schema-form';
import { SessionFacade } from '../../state/session.facade';

const ALLOWS: Record<Business['accountState'], string> = {
  provisional: 'It may draft, search and import; not buy, register or send.',
  'in review':
    'The provider looks at it; that takes minutes, or some hours where a person looks. It may draft, search and import meanwhile.',
  open: 'It may do everything.',
  restricted: 'It may receive and answer; not buy or dispatch.',
  suspended: 'It only receives, and still honours opt-outs.',
};
type Draft = Pick<
  Business,
  | 'legalName'
  | 'nameLine'
  | 'contactName'
  | 'contactEmail'
  | 'website'
  | 'street'
  | 'city'
  | 'state'
  | 'postalCode'
  | 'transactionalAnyHour'
  | 'taxStatus'
>;

/** Legal identity, account with the provider, and the switch for all texts. */
@Component({
  selector: 'lg-business-settings',
  imports: [MatCheckboxModule, MatInputModule, MatButtonModule, RouterLink, History, MoneyPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (session.business(); as b) {
      <div class="step" [class.pass]="b.accountState === 'open'" [class.hold]="b.accountState === 'in review'">
        <span class="strong">The account is {{ b.accountState }}.</span>
        {{ b.accountNote || allows(b.accountState) }} Balance {{ b.balance | money }}.
        <a [routerLink]="['/b', b.id, 'settings', 'money']">Top up</a>
        @if (b.accountState === 'provisional' && session.isAdministrator()) {
          <div>
            <button type="button" matButton="filled" [disabled]="busy()" (click)="open()">Open the account</button>
          </div>
          <p class="soft small">Asks for the address, contact and tax status below and for a first top-up. No cost.</p>
        }
      </div>
      <div class="step" [class.pass]="!b.textsOff" [class.hold]="b.textsOff">
        <span class="strong">{{ b.textsOff ? 'All texts are switched off.' : 'Texts are on.' }}</span>
        {{ b.textsOff ? 'Whatever would be sent is held. Drafting stays possible; opt-outs are still honoured.' : '' }}
        @if (session.isAdministrator()) {
          <div>
            <button type="button" matButton="outlined" [class.danger]="!b.textsOff" (click)="turn(b)">
              {{ b.textsOff ? 'Switch texts on' : 'Switch all texts off' }}
            </button>
          </div>
        }
      </div>
      <form (submit)="save(b); $event.preventDefault()">
        <div class="two">
          @for (f of fields; track f.key) {
            <div class="field" [class.wrong]="errors()[f.key]">
              <label [for]="f.key"
                >{{ f.label }} <span>{{ f.hint }}</span></label
              ><mat-form-field
                ><input
                  matInput
                  [id]="f.key"
                  [disabled]="!session.isAdministrator()"
                  [value]="draft()[f.key]"
                  (input)="set(f.key, $event)"
              /></mat-form-field>
              @if (errors()[f.key]) {
                <p class="error" role="alert">{{ errors()[f.key] }}</p>
              }
            </div>
          }
          <div class="field" [class.wrong]="errors()['taxStatus']">
            <label for="taxStatus">Tax status <span>for the provider’s invoices</span></label>
            <mat-form-field
              ><select
                matNativeControl
                id="taxStatus"
                [disabled]="!session.isAdministrator()"
                (change)="set('taxStatus', $event)"
              >
                <option value="" [selected]="draft().taxStatus === ''">choose…</option>
                <option value="taxable" [selected]="draft().taxStatus === 'taxable'">taxable</option>
                <option value="exempt" [selected]="draft().taxStatus === 'exempt'">exempt, by certificate</option>
              </select></mat-form-field
            >
            @if (errors()['taxStatus']) {
              <p class="error" role="alert">{{ errors()['taxStatus'] }}</p>
            }
          </div>
        </div>
        <mat-checkbox
          class="check"
          [disabled]="!session.isAdministrator()"
          [checked]="draft().transactionalAnyHour"
          (change)="any($event.checked)"
          >Policy: texts called for by a person’s own booking, order or case may leave at any hour</mat-checkbox
        >
        @if (errors()['']) {
          <p class="error" role="alert">{{ errors()[''] }}</p>
        }
        @if (session.isAdministrator()) {
          <p><button type="submit" matButton="filled" [disabled]="busy()">Save</button></p>
        }
      </form>
      <lg-history kind="business" [object]="b.id" />
    }
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 0 24px;
      margin-top: 18px;
    }
    p {
      margin-top: 10px;
    }
  `,
})
export class BusinessSettings {
  private readonly api = inject(Api);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  private readonly id = computed(() => this.session.business()?.id ?? '');
  protected readonly draft = linkedSignal<string, Draft>({
    source: this.id,
    computation: () => {
      const b = untracked(this.session.business);
      return {
        legalName: b?.legalName ?? '',
        nameLine: b?.nameLine ?? '',
        contactName: b?.contactName ?? '',
        contactEmail: b?.contactEmail ?? '',
        website: b?.website ?? '',
        street: b?.street ?? '',
        city: b?.city ?? '',
        state: b?.state ?? '',
        postalCode: b?.postalCode ?? '',
        transactionalAnyHour: b?.transactionalAnyHour ?? false,
        taxStatus: b?.taxStatus ?? '',
      };
    },
  });
  protected readonly errors = signal<Record<string, string>>({});
  protected readonly busy = signal(false);
  protected readonly fields: {
    key: Exclude<keyof Draft, 'transactionalAnyHour' | 'taxStatus'>;
    label: string;
    hint: string;
  }[] = [
    { key: 'legalName', label: 'Legal name', hint: 'as in the tax record' },
    { key: 'nameLine', label: 'Name line', hint: 'opens each text' },
    { key: 'contactName', label: 'Authorised contact', hint: '' },
    { key: 'contactEmail', label: 'Contact e-mail', hint: '' },
    { key: 'street', label: 'Street', hint: '' },
    { key: 'city', label: 'City', hint: '' },
    { key: 'state', label: 'State', hint: 'two letters' },
    { key: 'postalCode', label: 'ZIP', hint: '' },
    { key: 'website', label: 'Website', hint: '' },
  ];

  protected allows(state: Business['accountState']): string {
    return ALLOWS[state];
  }
  protected set(key: keyof Draft, event: Event): void {
    this.draft.update((d) => ({ ...d, [key]: (event.target as HTMLInputElement).value }));
  }
  protected any(transactionalAnyHour: boolean): void {
    this.draft.update((d) => ({ ...d, transactionalAnyHour }));
  }
  protected async save(b: Business): Promise<boolean> {
    const wrong = checkWith(BusinessEdit, this.draft());
    this.errors.set(wrong);
    if (Object.keys(wrong).length > 0) return false;
    return this.act(
      () => this.api.call(editBusiness, { params: { businessId: b.id }, version: b.version, body: this.draft() }),
      'Saved.',
    );
  }
  /** Checks the address first; a better spelling is offered, and may be left. */
  protected async open(): Promise<void> {
    const b = this.session.business();
    if (!b || !(await this.save(b))) return;
    let keepAddress = false;
    try {
      const { verdict, better } = await this.api.call(checkAddress, { params: { businessId: b.id } });
      if (verdict === 'better') {
        const use = await this.confirm.ask({
          title: 'A better spelling of the address',
          line: `The post spells it “${better.street}, ${better.city}, ${better.state} ${better.postalCode}”. The brand’s registration will be compared with it.`,
          yes: 'Use this spelling',
          no: 'Keep mine',
        });
        keepAddress = !use;
        if (use) {
          this.draft.update((d) => ({ ...d, ...better }));
          const fresh = this.session.business();
          if (!fresh || !(await this.save(fresh))) return;
        }
      }
    } catch (error) {
      this.say.problem(error);
      return;
    }
    await this.act(
      () => this.api.call(openAccount, { params: { businessId: b.id }, body: { keepAddress } }),
      'Asked for; the provider looks at it.',
    );
  }
  protected async turn(b: Business): Promise<void> {
    const off = !b.textsOff;
    if (
      off &&
      !(await this.confirm.ask({
        title: 'Switch all texts off?',
        line: 'At once, for every number of the business, dispatches under way too. Nothing is lost: whatever would be sent is held until you switch texts on again.',
        yes: 'Switch off',
      }))
    )
      return;
    await this.act(
      () => this.api.call(switchTexts, { params: { businessId: b.id }, body: { off } }),
      off ? 'All texts are off.' : 'Texts are on.',
    );
  }
  private async act(work: () => Promise<unknown>, done: string): Promise<boolean> {
    this.busy.set(true);
    try {
      await work();
      await this.session.load();
      this.say.done(done);
      return true;
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
      this.say.problem(error);
      return false;
    } finally {
      this.busy.set(false);
    }
  }
}
