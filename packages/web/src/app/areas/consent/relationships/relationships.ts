import { ChangeDetectionStrategy, Component, effect, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { withdrawRelationship, type Relationship } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { ChoiceFacet } from '../../../parts/choice-facet';
import { Docket } from '../../../parts/docket/docket';
import { LostDocket } from '../../../parts/docket/lost-docket';
import { CheckedForm } from '../../../parts/form/checked-form';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { DayPipe, MomentPipe, PhonePipe } from '../../../parts/format';
import { List } from '../../../parts/list/list';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { RelationshipsStore } from './relationships.store';

const STANDING_WORDS: Record<Relationship['standing'], string> = {
  stands: 'excepts them',
  over: 'its time is over',
  broken: 'ended early',
  withdrawn: 'withdrawn',
};
const FACES: Record<Relationship['standing'], string> = {
  stands: 'pass',
  over: 'soft',
  broken: 'hold',
  withdrawn: 'soft',
};

/** Purchases and inquiries on record: whom each excepts from do-not-call registries, and until when. */
@Component({
  selector: 'lg-relationships',
  imports: [
    Cell,
    ChoiceFacet,
    ConsentTabs,
    DayPipe,
    Docket,
    LostDocket,
    Faults,
    Form,
    List,
    MatButtonModule,
    MomentPipe,
    PhonePipe,
    RouterLink,
    Table,
    TextField,
  ],
  providers: [RelationshipsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="purchases and inquiries" [store]="store" searching="Number, or about what">
      <ng-container actions>
        <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'consent', 'suppression']"
          >Suppression lists</a
        >
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="record">Record one, or a file</a>
        }
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No purchase or inquiry is on record yet</h2>
        <p>
          Who bought something within eighteen months, or asked about something within three, is excepted from
          do-not-call registries until then. It is not consent: offers by text want that in writing all the same.
        </p>
        @if (store.session.isAdministrator()) {
          <a matButton="filled" routerLink="record">Record one, or a file</a>
        }
      </ng-container>
      <ng-container facets>
        <lg-choice-facet
          label="Standing"
          [values]="standings"
          [chosen]="store.address().standing"
          (picked)="store.set({ standing: $event })"
        />
        <lg-choice-facet
          label="What"
          [values]="kinds"
          [chosen]="store.address().kind"
          (picked)="store.set({ kind: $event })"
        />
      </ng-container>
      <ng-container after>
        <a [href]="store.file()" download>Export CSV</a>
      </ng-container>
      <lg-table
        name="relationships"
        label="Purchases and inquiries"
        virtual
        [rows]="store.rows()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
        (near)="store.more()"
      >
        <ng-template lgCell="who" [of]="store.rows()" let-x>
          <button type="button" matButton class="plain strong" (click)="store.choose(x.id); $event.stopPropagation()">
            {{ x.name || (x.e164 | phone) }}
          </button>
        </ng-template>
        <ng-template lgCell="day" [of]="store.rows()" let-x>{{ x.happenedOn | day }}</ng-template>
        <ng-template lgCell="ends" [of]="store.rows()" let-x>{{ x.endsAt | moment: 'day' }}</ng-template>
        <ng-template lgCell="recorded" [of]="store.rows()" let-x>{{ x.recordedAt | moment }}</ng-template>
        <ng-container none>{{ store.loading() ? 'Reading…' : 'None matches.' }}</ng-container>
      </lg-table>
      @if (store.chosen(); as x) {
        <lg-docket
          docket
          [kind]="x.kind === 'purchase' ? 'Purchase' : 'Inquiry'"
          [name]="x.name || (x.e164 | phone)"
          history="relationship"
          [object]="x.id"
          (closed)="store.choose(null)"
        >
          <div class="step" [class.pass]="x.standing === 'stands'">
            @switch (x.standing) {
              @case ('stands') {
                <span class="strong">Excepts them from registries</span> until {{ x.endsAt | moment: 'day' }}. Offers by
                text want their written consent all the same.
              }
              @case ('over') {
                <span class="strong">Its time is over</span> since {{ x.endsAt | moment: 'day' }}.
              }
              @case ('broken') {
                <span class="strong">It excepts them no more.</span> They said no, or the number was found to be
                somebody else’s, {{ x.brokenAt | moment }}.
              }
              @case ('withdrawn') {
                <span class="strong">Withdrawn</span> {{ x.withdrawn?.at | moment }}, {{ x.withdrawn?.by }}:
                {{ x.withdrawn?.why }}
              }
            }
          </div>
          <dl class="facts">
            <dt>Number</dt>
            <dd class="mono">
              @if (x.contactId) {
                <a
                  [routerLink]="['/b', store.session.businessId(), 'contacts']"
                  [queryParams]="{ open: x.contactId }"
                  >{{ x.e164 | phone }}</a
                >
              } @else {
                {{ x.e164 | phone }}
              }
            </dd>
            <dt>Day</dt>
            <dd>{{ x.happenedOn | day }}</dd>
            @if (x.reference) {
              <dt>About</dt>
              <dd>{{ x.reference }}</dd>
            }
            <dt>Recorded</dt>
            <dd>{{ x.recordedAt | moment }}, {{ x.recordedBy }}</dd>
            @if (x.file) {
              <dt>From the file</dt>
              <dd>{{ x.file }}</dd>
            }
          </dl>
          @if (x.standing !== 'withdrawn' && store.session.isAdministrator()) {
            <form [lgForm]="form" (sent)="withdraw(x)">
              <lg-text-field
                [control]="form.controls.why"
                label="Recorded in error?"
                hint="why it is withdrawn; it stays on record"
                name="why"
              />
              <lg-faults [form]="form" />
              <button type="submit" matButton="outlined" [disabled]="form.busy()">Withdraw it</button>
            </form>
          }
        </lg-docket>
      } @else if (store.lost(); as why) {
        <lg-lost-docket docket kind="Purchase or inquiry" [why]="why" (closed)="store.choose(null)" />
      }
    </lg-list>
  `,
  styles: `
    .facts {
      margin: 12px 0;
    }
  `,
})
export class RelationshipsPage {
  protected readonly store = inject(RelationshipsStore);
  protected readonly id = (x: Relationship): string => x.id;
  protected readonly standings = (['stands', 'over', 'broken', 'withdrawn'] as const).map((value) => ({
    value,
    label: STANDING_WORDS[value],
  }));
  protected readonly kinds = [
    { value: 'purchase', label: 'purchase' },
    { value: 'inquiry', label: 'inquiry' },
  ];
  protected readonly form = new CheckedForm({ why: text() }, withdrawRelationship.body);
  protected readonly columns: readonly Column<Relationship>[] = [
    { id: 'who', head: 'Who', least: 150, share: 1.3 },
    {
      id: 'number',
      head: 'Number',
      width: 140,
      leaves: 3,
      text: (x) => formatPhone(x.e164),
      face: 'mono',
    },
    { id: 'kind', head: 'What', width: 90, text: (x) => x.kind },
    { id: 'day', head: 'Day', width: 110 },
    { id: 'about', head: 'About', least: 110, leaves: 2, text: (x) => x.reference, face: 'soft' },
    { id: 'ends', head: 'Excepts until', width: 120 },
    {
      id: 'standing',
      head: 'Standing',
      least: 120,
      text: (x) => STANDING_WORDS[x.standing],
      face: (x) => FACES[x.standing],
    },
    { id: 'recorded', head: 'Recorded', width: 150, leaves: 1, face: 'soft' },
  ];

  constructor() {
    effect(() => {
      this.store.open();
      this.form.group.reset();
    });
  }

  protected async withdraw(x: Relationship): Promise<void> {
    const done = await this.form.send(({ why }) => this.store.withdraw(x.id, why));
    if (done) this.store.acting.done('Withdrawn. It excepts nobody any more.');
  }
}
