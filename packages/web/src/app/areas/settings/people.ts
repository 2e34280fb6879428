import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { addPerson, editPerson, listPeople } from '@long-gate/contracts';
import { Api, type ApiProblem } from '../../api/api';
import { Say } from '../../parts/say';
import { checkWith, problemsInto } from '../../parts/schema-form';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

/** People and their roles in this business. */
@Component({
  selector: 'lg-people-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <table class="ledger">
      <thead>
        <tr>
          <th>Name</th>
          <th>E-mail</th>
          <th>Role</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        @for (p of people.value()?.items ?? []; track p.id) {
          <tr>
            <td class="strong">{{ p.name }}</td>
            <td>{{ p.email }}</td>
            <td>
              @if (session.isAdministrator()) {
                <select
                  class="text"
                  [attr.aria-label]="'Role of ' + p.name"
                  (change)="role(p.id, $any($event.target).value)"
                >
                  @for (r of roles; track r) {
                    <option [value]="r" [selected]="r === p.role">{{ r }}</option>
                  }
                </select>
              } @else {
                {{ p.role }}
              }
            </td>
            <td class="right">
              @if (session.isAdministrator()) {
                <button type="button" class="plain stop" (click)="role(p.id, 'none')">Take the role away</button>
              }
            </td>
          </tr>
        }
      </tbody>
    </table>
    <p class="soft small">
      Administrators do everything; coordinators write, send and answer, but change no settings, registrations or pages;
      viewers read and export. Nobody signed in can agree for a contact.
    </p>
    @if (session.isAdministrator()) {
      <h2>Give somebody a role</h2>
      <form (submit)="add(); $event.preventDefault()" class="two">
        @for (f of fields; track f.key) {
          <div class="field" [class.wrong]="errors()[f.key]">
            <label [for]="'p-' + f.key">{{ f.label }}</label><input
              class="text"
              [id]="'p-' + f.key"
              [type]="f.type"
              autocomplete="off"
              [value]="draft()[f.key]"
              (input)="set(f.key, $event)"
            />
            @if (errors()[f.key]) {
              <p class="error" role="alert">{{ errors()[f.key] }}</p>
            }
          </div>
        }
        <div class="field">
          <label for="p-role">Role</label
          ><select id="p-role" class="text" (change)="set('role', $event)">
            @for (r of roles; track r) {
              <option [value]="r" [selected]="r === draft().role">{{ r }}</option>
            }
          </select>
        </div>
        @if (errors()['']) {
          <p class="error" role="alert">{{ errors()[''] }}</p>
        }
        <div><button type="submit" class="do main">Give the role</button></div>
      </form>
    }
  `,
  styles: `
    h2 {
      margin: 22px 0 8px;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 0 24px;
      max-width: 640px;
    }
    select.text {
      width: auto;
    }
  `,
})
export class PeopleSettings {
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly roles = ['administrator', 'coordinator', 'viewer'] as const;
  protected readonly people = liveResource(
    ['settings'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listPeople, { params: { businessId } }),
  );
  protected readonly draft = signal<{
    name: string;
    email: string;
    password: string;
    role: 'administrator' | 'coordinator' | 'viewer';
  }>({ name: '', email: '', password: '', role: 'coordinator' });
  protected readonly errors = signal<Record<string, string>>({});
  protected readonly fields = [
    { key: 'name', label: 'Name', type: 'text' },
    { key: 'email', label: 'E-mail', type: 'email' },
    { key: 'password', label: 'First password', type: 'password' },
  ] as const;

  protected set(key: 'name' | 'email' | 'password' | 'role', event: Event): void {
    this.draft.update((d) => ({ ...d, [key]: (event.target as HTMLInputElement).value }));
  }
  protected async add(): Promise<void> {
    const wrong = checkWith(addPerson.body, this.draft());
    this.errors.set(wrong);
    if (Object.keys(wrong).length > 0) return;
    try {
      await this.api.call(addPerson, { params: { businessId: this.session.businessId() }, body: this.draft() });
      this.draft.set({ name: '', email: '', password: '', role: 'coordinator' });
      this.people.reload();
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
    }
  }
  protected async role(id: string, role: 'administrator' | 'coordinator' | 'viewer' | 'none'): Promise<void> {
    await this.api
      .call(editPerson, { params: { businessId: this.session.businessId(), id }, body: { role } })
      .catch((e: unknown) => this.say.problem(e));
    this.people.reload();
  }
}
