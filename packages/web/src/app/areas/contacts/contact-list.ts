import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { ReactiveFormsModule } from '@angular/forms';
import type { ContactRow, ListChange } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Confirm } from '../../parts/confirm';
import { Facet } from '../../parts/facet';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { CountPipe } from '../../parts/format';
import { GateStrip } from '../../parts/gate-strip';
import { LookUp, REASSIGNED } from '../../parts/look-up';
import { List } from '../../parts/list/list';
import { MenuFacet } from '../../parts/menu-facet';
import { SelectionBar } from '../../parts/list/selection-bar';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { askNumbers } from './ask-number';
import { ContactDocket } from './contact-docket';
import { ContactListStore } from './contact-list.store';
import { nameOf } from './contact-words';
import { ContactsTabs } from './contacts-tabs';
import { ListField } from '../../parts/list-field';
import { LookupBar } from './lookup-bar';

function lineOf(c: ContactRow): string {
  if (c.number.lookedUpAt === null) return 'never looked up';
  return `${c.number.lineType}${c.number.textable === 'no' ? ', not textable' : c.number.carrier ? `, ${c.number.carrier}` : ''}`;
}

const numbersOf = (c: ContactRow): string => `${formatPhone(c.number.e164)}${c.further > 0 ? ` +${c.further}` : ''}`;

/** Why the gate answers as it does, for both kinds of text; said once where it is the same. */
function whyOf({ verdicts: { informational, promotional } }: ContactRow): string {
  if (informational.why === promotional.why) return informational.why;
  if (informational.result === 'pass') return `promotional: ${promotional.why}`;
  if (promotional.result === 'pass') return `informational: ${informational.why}`;
  return `${informational.why}; promotional: ${promotional.why}`;
}

/** All contacts, filtered on the server and scrolled without end. */
@Component({
  selector: 'lg-contact-list',
  imports: [
    Cell,
    ContactsTabs,
    Facet,
    List,
    ListField,
    MenuFacet,
    SelectionBar,
    Table,
    MatButtonModule,
    ReactiveFormsModule,
    RouterLink,
    GateStrip,
    ContactDocket,
    LookupBar,
    CountPipe,
  ],
  providers: [ContactListStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="contacts" [store]="store" searching="name, number, e-mail, field">
      <ng-container actions>
        <a matButton="outlined" [href]="store.file()" download>Export CSV</a>
        @if (store.session.mayEdit()) {
          <button
            type="button"
            matButton="outlined"
            [attr.aria-pressed]="store.choosing()"
            (click)="store.setChoosing(!store.choosing())"
          >
            Choose…
          </button>
          <a matButton="filled" routerLink="intake">Bring contacts in</a>
        }
      </ng-container>
      <lg-contacts-tabs tabs />
      <lg-lookup-bar above />
      <ng-container nothing>
        <h2>No contacts yet</h2>
        <p>
          Paste a list or drop a CSV. Every row is checked before anything is stored, and nobody is texted by bringing
          them in.
        </p>
        @if (store.session.mayEdit()) {
          <a matButton="filled" routerLink="intake">Bring contacts in</a>
        }
      </ng-container>
      <ng-container facets>
        @for (g of store.facets(); track g.key) {
          <lg-facet [label]="g.label" [values]="g.values" (picked)="store.toggle(g.key, $event)" />
        }
        @for (g of store.folded(); track g.key) {
          <lg-menu-facet [label]="g.label" [values]="g.values" (chosen)="narrow(g.key, $event)" />
        }
        @for (m of memberships(); track m.key) {
          <lg-menu-facet [label]="m.label" [values]="m.values" (chosen)="narrow(m.key, $event)" />
        }
        <lg-facet
          name="Names"
          [values]="[{ value: 'no', label: 'no name yet', on: !!store.address().named }]"
          (picked)="store.set({ named: store.address().named ? null : 'no' })"
        />
        @if (store.address().faults) {
          <lg-facet
            label="Faults"
            [values]="[{ value: 'three', label: 'three in 30 days ×', on: true }]"
            (picked)="store.set({ faults: null })"
          />
        }
      </ng-container>
      <lg-selection-bar what="contacts" [store]="store" [narrowed]="store.filtered()">
        <form (submit)="change('put on'); $event.preventDefault()">
          <lg-list-field
            [control]="wanted"
            [lists]="store.lists()"
            label="List or tag for the chosen contacts"
            placeholder="list or tag…"
          />
          @if (name()) {
            <button type="submit" matButton="outlined" [disabled]="store.acting.busy()">
              Put on {{ listWanted() ? '' : 'a new tag ' }}“{{ listWanted()?.name ?? name() }}”
            </button>
            @if (listWanted(); as l) {
              <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="change('take off')">
                Take off “{{ l.name }}”
              </button>
            }
          }
        </form>
        <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="lookUp()">Look up…</button>
        <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="askHands()">
          Changed hands?…
        </button>
        <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="askNumbers()">
          Ask for another number…
        </button>
        <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="invite()">
          Invite to texts…
        </button>
        @if (store.session.isAdministrator()) {
          <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="fileForm()">
            File a form…
          </button>
          <button
            type="button"
            matButton="outlined"
            class="danger"
            [disabled]="store.acting.busy() || store.chosenCount() === 0"
            (click)="remove()"
          >
            Delete…
          </button>
        }
      </lg-selection-bar>
      <lg-table
        name="contacts"
        label="Contacts"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        [order]="store.order()"
        (ordered)="store.sort($event)"
        (near)="store.more()"
        [picking]="store.choosing()"
        [picked]="store.picked()"
        (pickedChange)="store.pick($event)"
        [called]="nameOf"
      >
        <ng-template lgCell="contact" [of]="store.rows()" let-c>
          <button
            type="button"
            matButton
            class="plain strong name"
            (click)="store.choose(c.id); $event.stopPropagation()"
          >
            {{ nameOf(c) }}
          </button>
        </ng-template>
        <ng-template lgCell="informing" [of]="store.rows()" let-c>
          <lg-gate-strip [answers]="c.verdicts.informational.answers" />
        </ng-template>
        <ng-template lgCell="offering" [of]="store.rows()" let-c>
          <lg-gate-strip [answers]="c.verdicts.promotional.answers" />
        </ng-template>
        <ng-container none>{{ store.loading() ? 'Reading…' : 'Nobody matches.' }}</ng-container>
        <ng-container foot>
          {{
            store.matching() === null
              ? 'Counting…'
              : (store.matching() | count) + (store.filtered() ? ' match' : ' contacts')
          }}
          @if (store.filtered()) {
            <button type="button" matButton class="plain" (click)="store.clear()">Show all</button>
          }
        </ng-container>
      </lg-table>
      @if (store.open(); as id) {
        <lg-contact-docket docket [contactId]="id" (closed)="store.choose(null)" (moved)="store.choose($event)" />
      }
    </lg-list>
  `,
  styles: `
    .name {
      color: var(--ink);
    }
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
    }
    lg-list-field {
      width: 200px;
    }
  `,
})
export class ContactListPage {
  protected readonly store = inject(ContactListStore);
  private readonly confirm = inject(Confirm);
  private readonly dialog = inject(MatDialog);
  private readonly lookups = inject(LookUp);
  private readonly router = inject(Router);
  /** The list or tag that those chosen are put on or taken off. */
  protected readonly wanted = text();
  protected readonly name = readOf(
    () => this.wanted,
    (c) => c.value.trim(),
  );
  protected readonly listWanted = computed(() => this.store.listCalled(this.name()));
  protected readonly memberships = computed(() =>
    (['list', 'tag'] as const).map((key) => ({
      key,
      label: key === 'list' ? 'List' : 'Tag',
      values: this.store
        .lists()
        .filter((l) => l.kind === key)
        .map((l) => ({
          value: l.id,
          label: l.name,
          n: this.store.members()(key, l),
          on: this.store.valuesOf(key).includes(l.id),
        })),
    })),
  );
  protected readonly id = (c: ContactRow): string => c.id;
  protected readonly nameOf = nameOf;
  protected readonly columns: readonly Column<ContactRow>[] = [
    { id: 'contact', head: 'Contact', sorts: true, least: 120, share: 1.3 },
    { id: 'number', head: 'Number', sorts: true, width: 150, text: numbersOf, face: 'mono' },
    { id: 'informing', head: 'Gate, informational', width: 122 },
    { id: 'offering', head: 'Gate, promotional', width: 122, leaves: 3 },
    {
      id: 'why',
      head: 'Why',
      least: 110,
      share: 1.2,
      text: whyOf,
      face: (c) => (c.verdicts.informational.result === 'pass' ? 'soft' : c.verdicts.informational.result),
    },
    {
      id: 'line',
      head: 'Line',
      sorts: true,
      least: 110,
      leaves: 3,
      text: lineOf,
      face: (c) => (c.number.textable === 'no' ? 'stop' : c.number.textable === 'unknown' ? 'hold' : ''),
    },
    {
      id: 'informational',
      head: 'Informational',
      sorts: true,
      width: 106,
      leaves: 1,
      text: (c) => c.number.consent.informational,
      face: 'soft',
    },
    {
      id: 'promotional',
      head: 'Promotional',
      sorts: true,
      width: 100,
      leaves: 2,
      text: (c) => c.number.consent.promotional,
      face: 'soft',
    },
  ];

  protected narrow(key: Parameters<ContactListPage['store']['valuesOf']>[0], values: string[]): void {
    this.store.set({ [key]: values.join(',') || null });
  }
  protected async remove(): Promise<void> {
    const n = this.store.chosenCount();
    const many = `${n.toLocaleString('en-US')} contact${n === 1 ? '' : 's'}`;
    const yes = await this.confirm.ask({
      title: `Delete ${many}?`,
      line: 'No cost. Names, numbers, own fields, lists and tags go, and cannot be brought back but by a new intake; texts that wait for them are not sent. The ledger keeps what they agreed to and refused: where a number comes again, that stands again.',
      yes: `Delete ${many}`,
      ...(n > 100 ? { written: { label: `Write ${n} to go on`, is: String(n) } } : {}),
    });
    if (yes) await this.store.deleteChosen();
  }
  protected async askNumbers(): Promise<void> {
    if (await askNumbers(this.dialog, this.store.whom())) this.store.setChoosing(false);
  }
  protected async invite(): Promise<void> {
    // A dialog of another area: fetched when it is wanted.
    const { invitePeople } = await import('../consent/invitations/invite');
    if (await invitePeople(this.dialog, { whom: this.store.whom(), invitation: null })) this.store.setChoosing(false);
  }
  protected async askHands(): Promise<void> {
    if (await this.lookups.ask(this.store.acting, this.store.queries(), REASSIGNED)) this.store.setChoosing(false);
  }
  protected async lookUp(): Promise<void> {
    if (await this.lookups.ask(this.store.acting, this.store.lookups())) this.store.setChoosing(false);
  }
  protected async fileForm(): Promise<void> {
    const queryParams = this.store.named();
    if (!queryParams || Object.keys(queryParams).length === 0)
      this.store.acting.refused(
        queryParams
          ? 'Nobody signs for all contacts at once: narrow the list to those who signed.'
          : 'So many are not named one by one: put them on a tag, narrow the list to it, and choose all that match.',
      );
    else
      await this.router.navigate(['/b', this.store.session.businessId(), 'consent', 'forms', 'file'], { queryParams });
  }
  protected async change(change: ListChange['change']): Promise<void> {
    const name = this.listWanted()?.name ?? this.name();
    if (name === '' || this.store.acting.busy()) return;
    const n = this.store.chosenCount().toLocaleString('en-US');
    const match = this.store.filtered() ? ' that match' : '';
    const yes =
      !this.store.whole() ||
      (await this.confirm.ask({
        title: change === 'put on' ? `Put all ${n}${match} on “${name}”?` : `Take all ${n}${match} off “${name}”?`,
        line: 'No cost. It is done as a job, which can be paused or cancelled; nobody is texted by it. Who is on a list gets what is sent to that list.',
        yes: change === 'put on' ? 'Put them on' : 'Take them off',
      }));
    if (yes && (await this.store.changeList(name, change))) this.wanted.reset();
  }
}
