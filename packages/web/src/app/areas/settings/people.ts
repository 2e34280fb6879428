import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { FormControl } from '@angular/forms';
import { MatMenuModule } from '@angular/material/menu';
import { MatButtonModule } from '@angular/material/button';
import { invitePerson } from '@long-gate/contracts';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { CheckedForm } from '../../parts/form/checked-form';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { Icon } from '../../parts/icon';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { SessionFacade } from '../../state/session.facade';
import { PeopleStore, type Role } from './people.store';

type Person = ReturnType<InstanceType<typeof PeopleStore>['items']>[number];
type Invited = ReturnType<InstanceType<typeof PeopleStore>['invitations']>[number];
/** Somebody with a role here, or invited to one. */
interface Row {
  id: string;
  name: string;
  email: string;
  role: string;
  person: Person | null;
  invited: Invited | null;
}

/** People and their roles in this business, and who is invited. */
@Component({
  selector: 'lg-people-settings',
  imports: [Cell, Faults, Form, Icon, Table, MatButtonModule, MatMenuModule, MomentPipe, TextField],
  providers: [PeopleStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-table label="People" [rows]="rows()" [columns]="columns" [key]="key">
      <ng-template lgCell="role" [of]="rows()" let-r>
        @if (session.isAdministrator() && r.person) {
          <button
            type="button"
            matButton
            class="plain"
            [matMenuTriggerFor]="roleMenu"
            [attr.aria-label]="'Role of ' + r.name + ': ' + r.role"
          >
            {{ r.role }} <lg-icon sign="down" />
          </button>
          <mat-menu #roleMenu="matMenu">
            @for (role of roles; track role) {
              <button mat-menu-item type="button" [disabled]="role === r.role" (click)="store.setRole(r.id, role)">
                {{ role }}
              </button>
            }
          </mat-menu>
        } @else {
          {{ r.role }}
        }
      </ng-template>
      <ng-template lgCell="factor" [of]="rows()" let-r>
        @if (r.invited; as i) {
          {{ i.expired ? 'link too old since' : 'link good until' }} {{ i.expiresAt | moment: 'day' }}
        } @else {
          {{
            r.person?.secondFactor ? 'set up' : store.factorWanted() && r.role === 'administrator' ? 'missing' : 'none'
          }}
        }
      </ng-template>
      <ng-template lgCell="acts" [of]="rows()" let-r>
        @if (session.isAdministrator()) {
          @if (r.invited) {
            <button type="button" matButton class="plain" (click)="store.again(r.id)">Send again</button>&ngsp;
            <button type="button" matButton class="plain stop" (click)="store.withdraw(r.id)">Withdraw</button>
          } @else {
            <button type="button" matButton class="plain stop" (click)="takeAway(r.id, r.name)">
              Take the role away
            </button>
          }
        }
      </ng-template>
    </lg-table>
    <p class="soft small">
      Administrators do everything; coordinators write, send, answer and record that somebody asked to stop, but lift no
      hold, claim no consent and change no settings; viewers read and export. Nobody signed in can agree for a contact.
    </p>
    @if (session.isAdministrator()) {
      <h2>Invite somebody</h2>
      <form [lgForm]="form" (sent)="invite()" class="invite">
        <lg-text-field
          label="E-mail"
          name="invite-email"
          type="email"
          hint="a link goes there; they set their own password"
          [control]="form.controls.email"
        />
        <div class="field">
          <span class="label" id="role-label">Role</span>
          <button
            type="button"
            matButton="outlined"
            [matMenuTriggerFor]="inviteRole"
            aria-labelledby="role-label role-now"
          >
            <span id="role-now">{{ form.controls.role.value }}</span> <lg-icon sign="down" />
          </button>
          <mat-menu #inviteRole="matMenu">
            @for (r of roles; track r) {
              <button mat-menu-item type="button" (click)="form.controls.role.setValue(r)">{{ r }}</button>
            }
          </mat-menu>
        </div>
        <lg-faults [form]="form" />
        <div>
          <button type="submit" matButton="filled" [disabled]="form.busy()">Invite</button>
          @if (mailbox(); as url) {
            <a class="small" [href]="url" target="mailbox" rel="noopener">open the mailbox</a>
          }
        </div>
      </form>
      <h2>Second factor</h2>
      <p>
        {{
          store.factorWanted()
            ? 'Administrators of this business need a second factor: a code of an authenticator beside the password.'
            : 'Each decides alone whether to set up a second factor beside the password.'
        }}
      </p>
      <p>
        <button
          type="button"
          matButton="outlined"
          [disabled]="store.acting.busy()"
          (click)="store.wantFactor(!store.factorWanted())"
        >
          {{ store.factorWanted() ? 'Leave it to each' : 'Want it of administrators' }}
        </button>
      </p>
    }
  `,
  styles: `
    h2 {
      margin: 22px 0 8px;
    }
    .invite {
      max-width: 420px;
    }
    .invite a {
      margin-left: 10px;
    }
    p {
      margin: 6px 0;
    }
  `,
})
export class PeopleSettings {
  private readonly confirm = inject(Confirm);
  protected readonly store = inject(PeopleStore);
  protected readonly session = inject(SessionFacade);
  protected readonly roles: readonly Role[] = ['administrator', 'coordinator', 'viewer'];
  protected readonly rows = computed((): Row[] => [
    ...this.store
      .items()
      .map((p) => ({ id: p.id, name: p.name, email: p.email, role: p.role, person: p, invited: null })),
    ...this.store
      .invitations()
      .map((i) => ({ id: i.id, name: '', email: i.email, role: i.role, person: null, invited: i })),
  ]);
  protected readonly key = (r: Row): string => r.id;
  protected readonly columns: readonly Column<Row>[] = [
    {
      id: 'name',
      head: 'Name',
      by: (r) => r.name || null,
      text: (r) => r.name || 'invited',
      face: (r) => (r.person ? 'strong' : 'soft'),
    },
    { id: 'email', head: 'E-mail', by: (r) => r.email, text: (r) => r.email },
    { id: 'role', head: 'Role', by: (r) => r.role },
    {
      id: 'factor',
      head: 'Second factor',
      face: (r) => (r.invited?.expired ? 'hold' : r.person?.secondFactor ? '' : 'soft'),
    },
    { id: 'acts', head: 'What can be done', quiet: true, right: true },
  ];
  protected readonly form = new CheckedForm(
    { email: text(), role: new FormControl<Role>('coordinator', { nonNullable: true }) },
    invitePerson.body,
  );
  protected readonly mailbox = computed(() => this.session.mailbox(''));

  protected async invite(): Promise<void> {
    if (await this.form.send((body) => this.store.invite(body))) this.form.group.reset();
  }

  protected async takeAway(id: string, name: string): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Take the role of ${name} away?`,
      line: 'No cost. It takes effect at once, also where they are signed in. They can be invited again; what they did stays in the trail.',
      yes: 'Take it away',
    });
    if (yes) await this.store.setRole(id, 'none');
  }
}
