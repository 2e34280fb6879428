import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { NonNullableFormBuilder } from '@angular/forms';
import { MatMenuModule } from '@angular/material/menu';
import { MatButtonModule } from '@angular/material/button';
import { Confirm } from '../../parts/confirm';
import { MomentPipe } from '../../parts/format';
import { TextField } from '../../parts/text-field';
import { SessionFacade } from '../../state/session.facade';
import { PeopleStore, type Role } from './people.store';

/** People and their roles in this business, and who is invited. */
@Component({
  selector: 'lg-people-settings',
  imports: [MatButtonModule, MatMenuModule, MomentPipe, TextField],
  providers: [PeopleStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <table class="ledger">
      <thead>
        <tr>
          <th>Name</th>
          <th>E-mail</th>
          <th>Role</th>
          <th>Second factor</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        @for (p of store.items(); track p.id) {
          <tr>
            <td class="strong">{{ p.name }}</td>
            <td>{{ p.email }}</td>
            <td>
              @if (session.isAdministrator()) {
                <button
                  type="button"
                  matButton
                  class="plain"
                  [matMenuTriggerFor]="roleMenu"
                  [attr.aria-label]="'Role of ' + p.name + ': ' + p.role"
                >
                  {{ p.role }} ▾
                </button>
                <mat-menu #roleMenu="matMenu">
                  @for (r of roles; track r) {
                    <button mat-menu-item type="button" [disabled]="r === p.role" (click)="store.setRole(p.id, r)">
                      {{ r }}
                    </button>
                  }
                </mat-menu>
              } @else {
                {{ p.role }}
              }
            </td>
            <td [class.soft]="!p.secondFactor">
              {{ p.secondFactor ? 'set up' : store.factorWanted() && p.role === 'administrator' ? 'missing' : 'none' }}
            </td>
            <td class="right">
              @if (session.isAdministrator()) {
                <button type="button" matButton class="plain stop" (click)="takeAway(p.id, p.name)">
                  Take the role away
                </button>
              }
            </td>
          </tr>
        }
        @for (i of store.invitations(); track i.id) {
          <tr>
            <td class="soft">invited</td>
            <td>{{ i.email }}</td>
            <td>{{ i.role }}</td>
            <td class="soft" [class.hold]="i.expired">
              {{ i.expired ? 'link too old since' : 'link good until' }} {{ i.expiresAt | moment: 'day' }}
            </td>
            <td class="right">
              @if (session.isAdministrator()) {
                <button type="button" matButton class="plain" (click)="store.again(i.id)">Send again</button>
                <button type="button" matButton class="plain stop" (click)="store.withdraw(i.id)">Withdraw</button>
              }
            </td>
          </tr>
        }
      </tbody>
    </table>
    <p class="soft small">
      Administrators do everything; coordinators write, send, answer and record that somebody asked to stop, but lift no
      hold, claim no consent and change no settings; viewers read and export. Nobody signed in can agree for a contact.
    </p>
    @if (session.isAdministrator()) {
      <h2>Invite somebody</h2>
      <form (submit)="invite(); $event.preventDefault()" class="invite">
        <lg-text-field
          label="E-mail"
          name="invite-email"
          type="email"
          hint="a link goes there; they set their own password"
          [control]="form.controls.email"
          [wrong]="errors()['email']"
        />
        <div class="field">
          <span class="label" id="role-label">Role</span>
          <button
            type="button"
            matButton="outlined"
            [matMenuTriggerFor]="inviteRole"
            aria-labelledby="role-label role-now"
          >
            <span id="role-now">{{ form.controls.role.value }}</span> ▾
          </button>
          <mat-menu #inviteRole="matMenu">
            @for (r of roles; track r) {
              <button mat-menu-item type="button" (click)="form.controls.role.setValue(r)">{{ r }}</button>
            }
          </mat-menu>
        </div>
        @if (errors()['']) {
          <p class="error" role="alert">{{ errors()[''] }}</p>
        }
        <div>
          <button type="submit" matButton="filled" [disabled]="store.inviting.busy()">Invite</button>
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
    .right button + button {
      margin-left: 10px;
    }
  `,
})
export class PeopleSettings {
  private readonly confirm = inject(Confirm);
  protected readonly store = inject(PeopleStore);
  protected readonly session = inject(SessionFacade);
  protected readonly roles: readonly Role[] = ['administrator', 'coordinator', 'viewer'];
  protected readonly errors = this.store.inviting.errors;
  private readonly build = inject(NonNullableFormBuilder);
  protected readonly form = this.build.group({ email: '', role: this.build.control<Role>('coordinator') });
  protected readonly mailbox = computed(() => this.session.mailbox(''));

  protected async invite(): Promise<void> {
    if (await this.store.invite(this.form.getRawValue())) this.form.reset();
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
