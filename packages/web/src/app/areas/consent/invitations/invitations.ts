import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { Invited, OptInInvitation } from '@long-gate/contracts';
import { Confirm } from '../../../parts/confirm';
import { Docket } from '../../../parts/docket/docket';
import { CountPipe, MomentPipe } from '../../../parts/format';
import { List } from '../../../parts/list/list';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { InvitationsStore } from './invitations.store';
import { invitePeople } from './invite';

const STATES: Record<Invited['state'], string> = {
  sent: 'sent',
  'held back': 'not sent',
  'came back': 'came back',
  complained: 'complained of it',
  opened: 'opened their page',
  'awaits YES': 'agreed; YES awaited',
  joined: 'joined',
  kept: 'kept what they get',
  left: 'wants no texts',
  withdrawn: 'link taken back',
  lapsed: 'did not answer',
};
const CAME = [
  { key: 'sent', name: 'sent' },
  { key: 'heldBack', name: 'not sent' },
  { key: 'failed', name: 'came back' },
  { key: 'opened', name: 'opened' },
  { key: 'answered', name: 'answered' },
  { key: 'joined', name: 'joined' },
  { key: 'left', name: 'want none' },
] as const;

/** Invitations by e-mail to say which texts one wants, and what came of each. */
@Component({
  selector: 'lg-invitations',
  imports: [Cell, ConsentTabs, CountPipe, Docket, List, MatButtonModule, MomentPipe, RouterLink, Table],
  providers: [InvitationsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="invitations" [store]="store" [filters]="false">
      <ng-container actions>
        @if (store.session.mayEdit()) {
          <button type="button" matButton="filled" (click)="invite(null)">Invite people</button>
        }
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>Nobody was invited yet</h2>
        <p>
          An e-mail with a link of their own: on that page each person sees what stands, chooses what they want, gives
          another number, or ends it all. Nothing counts before their handset says YES.
        </p>
      </ng-container>
      <lg-table
        name="invitations"
        label="Invitations"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-template lgCell="title" [of]="store.all()" let-x>
          <button type="button" matButton class="plain strong" (click)="store.choose(x.id); $event.stopPropagation()">
            {{ x.title }}
          </button>
        </ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.chosen(); as x) {
        <lg-docket
          docket
          kind="Invitation"
          [name]="x.title"
          history="opt-in invitation"
          [object]="x.id"
          (closed)="store.choose(null)"
        >
          <p class="soft small">
            @if (x.lastSentAt; as at) {
              Sent last {{ at | moment }}.
            } @else {
              Not sent yet.
            }
            {{ x.standing ? 'Who is new is invited by itself, once a day.' : 'Sent by hand alone.' }} Kept by
            {{ x.createdBy }}.
          </p>
          @if (store.session.mayEdit()) {
            <p class="ends">
              <button type="button" matButton="filled" (click)="invite(x)">Send it again…</button>
              @if (store.session.isAdministrator() && x.came.sent > x.came.answered) {
                <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="withdraw(x)">
                  Take back the links…
                </button>
              }
            </p>
          }
          <dl>
            @for (c of cameIn; track c.key) {
              <dt>{{ c.name }}</dt>
              <dd class="mono">{{ x.came[c.key] | count }}</dd>
            }
          </dl>
          <h3>{{ x.subject }}</h3>
          <p class="letter">{{ x.text }}</p>
          @if (store.people(); as p) {
            @if (p.total) {
              <h3>Who was invited</h3>
              <lg-table
                name="invited"
                label="Who was invited"
                [rows]="p.items"
                [columns]="peopleColumns"
                [key]="linkId"
              >
                <ng-template lgCell="name" [of]="p.items" let-y>
                  <a
                    [routerLink]="['/b', store.session.businessId(), 'contacts']"
                    [queryParams]="{ open: y.contactId }"
                    >{{ y.name || y.email }}</a
                  >
                </ng-template>
                <ng-template lgCell="at" [of]="p.items" let-y>{{ y.sentAt | moment: 'short' }}</ng-template>
                <ng-template lgCell="link" [of]="p.items" let-y>
                  @if (store.session.isAdministrator() && isOpen(y)) {
                    <button
                      type="button"
                      matButton
                      class="plain"
                      [disabled]="store.acting.busy()"
                      [attr.aria-label]="'Take back the link of ' + (y.name || y.email)"
                      (click)="withdraw(x, y)"
                    >
                      Take back…
                    </button>
                  }
                </ng-template>
              </lg-table>
              @if (p.total > p.items.length) {
                <p class="soft small">The last {{ p.items.length | count }} of {{ p.total | count }}.</p>
              }
            }
          }
        </lg-docket>
      }
    </lg-list>
  `,
  styles: `
    .ends {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
    }
    dl {
      display: grid;
      grid-template-columns: 92px 1fr 92px 1fr;
      gap: 2px 10px;
      margin: 8px 0;
    }
    dd {
      margin: 0;
    }
    h3 {
      margin: 16px 0 4px;
    }
    .letter {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
  `,
})
export class InvitationsPage {
  protected readonly store = inject(InvitationsStore);
  private readonly dialog = inject(MatDialog);
  private readonly confirm = inject(Confirm);
  protected readonly cameIn = CAME;
  protected readonly id = (x: OptInInvitation): string => x.id;
  protected readonly linkId = (x: Invited): string => x.id;
  protected readonly columns: readonly Column<OptInInvitation>[] = [
    { id: 'title', head: 'Invitation', least: 150, share: 1.4, by: (x) => x.title },
    { id: 'standing', head: 'How', width: 90, leaves: 2, text: (x) => (x.standing ? 'by itself' : 'by hand') },
    // What was held back is rare; the docket tells of it.
    ...CAME.filter((c) => c.key !== 'heldBack').map((c, i): Column<OptInInvitation> => ({
      id: c.key,
      head: c.name.charAt(0).toUpperCase() + c.name.slice(1),
      width: 92,
      right: true,
      ...(i === 0 || c.key === 'joined' ? {} : { leaves: 3 }),
      by: (x) => x.came[c.key],
      text: (x) => x.came[c.key].toLocaleString('en-US'),
    })),
  ];
  protected readonly peopleColumns: readonly Column<Invited>[] = [
    { id: 'name', head: 'Contact', least: 110, share: 1.2 },
    {
      id: 'state',
      head: 'What came of it',
      least: 120,
      text: (x) => `${STATES[x.state]}${x.why ? `: ${x.why}` : ''}`,
      face: (x) => (x.state === 'joined' ? 'pass' : ['came back', 'complained'].includes(x.state) ? 'stop' : ''),
    },
    { id: 'at', head: 'Sent', width: 104, leaves: 1 },
    { id: 'link', head: 'Link', width: 80 },
  ];

  protected async invite(invitation: OptInInvitation | null): Promise<void> {
    await invitePeople(this.dialog, { whom: null, invitation });
    this.store.again();
  }
  /** Whether a link may still be answered, and has not been. */
  protected readonly isOpen = (y: Invited): boolean => y.state === 'sent' || y.state === 'opened';
  /** @param one whose link; of all where nobody is named. */
  protected async withdraw(x: OptInInvitation, one?: Invited): Promise<void> {
    const yes = await this.confirm.ask(
      one
        ? {
            title: `Take back the link of ${one.name || one.email}`,
            line: 'No cost. It leads nowhere from now on, and cannot be given back; they can be invited again.',
            yes: 'Take it back',
          }
        : {
            title: 'Take back the links',
            line: `No cost. The links of “${x.title}” that were not answered lead nowhere from now on; what people chose already stands.`,
            yes: 'Take them back',
          },
    );
    if (yes) await this.store.withdraw(x.id, one?.id ?? null);
  }
}
