import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ClaimedPerson, ClaimLot } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { Docket } from '../../../parts/docket/docket';
import { CountPipe, MomentPipe } from '../../../parts/format';
import { List } from '../../../parts/list/list';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { ClaimsStore } from './claims.store';

const KIND_WORDS = { informational: 'notices', promotional: 'offers' } as const;
const said = (n: number): string => n.toLocaleString('en-US');

/** Claims of consent that lists brought in without proof: whose they are, and what their forms would open. */
@Component({
  selector: 'lg-claims',
  imports: [Cell, ConsentTabs, CountPipe, Docket, List, MatButtonModule, MomentPipe, RouterLink, Table],
  providers: [ClaimsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="claims" [store]="store" [filters]="false">
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No claims without proof</h2>
        <p>
          Where a list is brought in that says its people agreed, without the day, the source and the words, it stands
          here until its forms are filed. It opens no gate before.
        </p>
      </ng-container>
      @if (store.whole(); as w) {
        @if (w.people > 0) {
          <p class="whole">
            {{ w.people | count }} {{ w.people === 1 ? 'number stands' : 'numbers stand' }} on a claim that nothing
            proves. With its forms {{ w.promotional | count }} could be sent offers and {{ w.informational | count }}
            notices, as far as their lines take texts; until then they get neither.
          </p>
        }
      }
      <lg-table
        name="claims"
        label="Lots of claims"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-template lgCell="name" [of]="store.all()" let-x>
          <button type="button" matButton class="plain strong" (click)="store.choose(x.id); $event.stopPropagation()">
            {{ x.fileName }}
          </button>
        </ng-template>
        <ng-template lgCell="brought" [of]="store.all()" let-x>{{ x.broughtAt | moment: 'day' }}</ng-template>
        <ng-container none>{{ store.here() ? 'No lot claims anything.' : 'Counting…' }}</ng-container>
      </lg-table>
      @if (store.chosen(); as x) {
        <lg-docket
          docket
          kind="Lot of claims"
          [name]="x.fileName"
          [next]="next()"
          history="intake"
          [object]="x.id"
          (closed)="store.choose(null)"
        >
          @if (store.session.isAdministrator()) {
            <a
              step
              matButton="filled"
              [routerLink]="['/b', store.session.businessId(), 'consent', 'forms', 'file']"
              [queryParams]="{ claims: x.id }"
              >{{ x.open.people === 1 ? 'File the form' : 'File the forms of all ' + (x.open.people | count) }}</a
            >
          }
          <dl class="facts">
            <dt>What it claims</dt>
            <dd>{{ x.claim || 'something of each row by itself' }}</dd>
            <dt>Where it came from</dt>
            <dd>{{ x.attestation || 'nobody said' }}</dd>
            <dt>Brought in</dt>
            <dd>{{ x.broughtAt | moment }}, {{ x.broughtBy }}</dd>
            <dt>Claims</dt>
            <dd>{{ x.people | count }}</dd>
            <dt>Without proof</dt>
            <dd class="hold">{{ x.open.people | count }}</dd>
            <dt>Its forms would open</dt>
            <dd>offers to {{ x.open.promotional | count }}, notices to {{ x.open.informational | count }}</dd>
            <dt>Proven, or agreed since</dt>
            <dd>{{ x.agreed | count }}</dd>
            <dt>Can only speak themselves</dt>
            <dd>{{ x.people - x.open.people - x.agreed | count }}</dd>
          </dl>
          @if (x.open.people > 0) {
            <p class="soft small else">
              Where there is no form, ask the people themselves:
              <a [routerLink]="['/b', store.session.businessId(), 'consent', 'invitations']">invite them by e-mail</a>.
            </p>
            <section>
              <h3>Without proof</h3>
              @if (store.people(); as people) {
                <lg-table
                  name="claimed"
                  label="People without proof"
                  [rows]="people.items"
                  [columns]="who"
                  [key]="person"
                >
                  <ng-template lgCell="name" [of]="people.items" let-y>
                    @if (y.contactId) {
                      <a
                        [routerLink]="['/b', store.session.businessId(), 'contacts']"
                        [queryParams]="{ open: y.contactId }"
                        >{{ y.name || 'no name' }}</a
                      >
                    } @else {
                      <span class="soft">no contact any more</span>
                    }
                  </ng-template>
                  <ng-template lgCell="form" [of]="people.items" let-y>
                    @if (store.session.isAdministrator()) {
                      <a
                        class="small"
                        [routerLink]="['/b', store.session.businessId(), 'consent', 'forms', 'file']"
                        [queryParams]="{ e164: y.e164 }"
                        >File their form</a
                      >
                    }
                  </ng-template>
                </lg-table>
                @if (people.total > people.items.length) {
                  <p class="soft small">
                    The first {{ people.items.length | count }} of {{ people.total | count }} are shown, as they were
                    brought in.
                  </p>
                }
              } @else {
                <p class="soft small">Reading…</p>
              }
            </section>
          }
        </lg-docket>
      }
    </lg-list>
  `,
  styles: `
    .whole {
      max-width: 76ch;
      margin: 0 0 12px;
    }
    .else {
      margin-top: 12px;
    }
    h3 {
      margin: 12px 0 4px;
    }
  `,
})
export class ClaimsPage {
  protected readonly store = inject(ClaimsStore);
  protected readonly next = computed(() => {
    const open = this.store.chosen()?.open.people ?? 0;
    return open === 0
      ? null
      : {
          title: open === 1 ? 'Find the form this one signed' : 'Find the forms they signed',
          why: 'With its day and its words a form is proof; the claim alone opens no gate.',
          tone: 'hold' as const,
        };
  });
  protected readonly id = (x: ClaimLot): string => x.id;
  protected readonly person = (y: ClaimedPerson): string => y.e164;
  protected readonly columns: readonly Column<ClaimLot>[] = [
    { id: 'name', head: 'Lot', least: 190, share: 1.4, by: (x) => x.fileName },
    { id: 'brought', head: 'Brought in', width: 110, leaves: 2, by: (x) => x.broughtAt },
    { id: 'claim', head: 'What it claims', least: 150, share: 1.4, leaves: 1, text: (x) => x.claim, face: 'soft' },
    {
      id: 'people',
      head: 'Claims',
      width: 84,
      right: true,
      leaves: 4,
      by: (x) => x.people,
      text: (x) => said(x.people),
    },
    {
      id: 'open',
      head: 'Without proof',
      width: 110,
      right: true,
      by: (x) => x.open.people,
      text: (x) => said(x.open.people),
      face: 'hold',
    },
    {
      id: 'offers',
      head: 'Would open offers to',
      width: 140,
      right: true,
      by: (x) => x.open.promotional,
      text: (x) => said(x.open.promotional),
    },
    {
      id: 'notices',
      head: 'and notices to',
      width: 110,
      right: true,
      leaves: 3,
      by: (x) => x.open.informational,
      text: (x) => said(x.open.informational),
    },
  ];
  protected readonly who: readonly Column<ClaimedPerson>[] = [
    { id: 'name', head: 'Contact', least: 90 },
    { id: 'e164', head: 'Number', width: 130, text: (y) => formatPhone(y.e164), face: 'mono' },
    {
      id: 'said',
      head: 'What was said',
      least: 110,
      leaves: 1,
      text: (y) => [y.date, y.source, y.disclosure && 'with words'].filter(Boolean).join(', '),
      face: 'soft',
    },
    {
      id: 'for',
      head: 'Lacks proof for',
      width: 120,
      leaves: 2,
      text: (y) => y.unproven.map((x) => KIND_WORDS[x]).join(', '),
    },
    { id: 'form', head: 'Form', width: 110 },
  ];
}
