import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MomentPipe } from '../../parts/format';
import type { listConnections } from '@long-gate/contracts';
import type * as z from 'zod';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { SessionFacade } from '../../state/session.facade';
import { ConnectionsStore } from './connections.store';

type Service = z.output<typeof listConnections.answer>['items'][number];
const LANES = { feed: 'told by the outside', outbox: 'a wish of ours', job: 'work of our own' } as const;

@Component({
  selector: 'lg-connections-settings',
  imports: [Table, MatButtonModule, MomentPipe],
  providers: [ConnectionsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="soft">
      Each outside service sits behind an interface of ours. An address of your own is set by an environment variable at
      the next start; the README names them.
    </p>
    <lg-table label="Outside services" [rows]="services()" [columns]="columns" [key]="key" />
    <p>
      <button type="button" matButton="outlined" (click)="store.connections.reload()">Ask again</button>
      <a matButton="outlined" href="/api/v1/openapi.json" target="_blank" rel="noopener"
        >The API’s description (OpenAPI 3.1)</a
      >
    </p>
    <h2>Set aside</h2>
    <p class="soft">
      What cannot be worked off is set aside with its cause, so that nothing else waits for it: an event nobody
      understands never keeps the next STOP waiting.
    </p>
    @for (a of store.aside.value()?.items ?? []; track a.key) {
      <div class="aside">
        <div>
          <span class="strong kind">{{ a.kind }}</span><span class="soft"
            >{{ lanes[a.lane] }}, {{ a.at | moment }}</span
          >
        </div>
        <p class="mono small cause">{{ a.cause }}</p>
        @if (session.isAdministrator()) {
          <button
            type="button"
            matButton="filled"
            [disabled]="store.acting.busy()"
            (click)="store.decide(a.key, 'take up')"
          >
            Take up again
          </button>
          <button
            type="button"
            matButton="outlined"
            [disabled]="store.acting.busy()"
            (click)="store.decide(a.key, 'leave')"
          >
            Leave it be
          </button>
        }
      </div>
    } @empty {
      <p class="soft">{{ store.aside.isLoading() ? 'Reading…' : 'Nothing is set aside.' }}</p>
    }
  `,
  styles: `
    p {
      margin: 12px 0;
    }
    p > .mdc-button + .mdc-button {
      margin-left: 8px;
    }
    h2 {
      margin-top: 24px;
    }
    .aside {
      border-top: 1px solid var(--hairline);
      padding: 10px 0;
      max-width: 860px;
    }
    .kind {
      margin-right: 8px;
    }
    .cause {
      margin: 4px 0 8px;
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
    .aside button {
      margin-right: 8px;
    }
  `,
})
export class ConnectionsSettings {
  protected readonly store = inject(ConnectionsStore);
  protected readonly session = inject(SessionFacade);
  protected readonly lanes = LANES;
  protected readonly services = computed(() =>
    this.store.connections.hasValue() ? this.store.connections.value().items : [],
  );
  protected readonly key = (c: Service): string => c.service;
  protected readonly columns: readonly Column<Service>[] = [
    { id: 'service', head: 'Service', text: (c) => c.service, face: 'strong' },
    { id: 'address', head: 'Address', text: (c) => c.address, face: 'mono' },
    { id: 'kind', head: 'Kind', text: (c) => (c.simulated ? 'simulated' : 'real') },
    {
      id: 'state',
      head: 'State',
      text: (c) => (c.answering ? 'answering' : 'does not answer'),
      face: (c) => (c.answering ? 'pass' : 'stop'),
    },
  ];
}
