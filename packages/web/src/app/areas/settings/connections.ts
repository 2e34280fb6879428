import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MomentPipe } from '../../parts/format';
import { SessionFacade } from '../../state/session.facade';
import { ConnectionsStore } from './connections.store';

const LANES = { feed: 'told by the outside', outbox: 'a wish of ours', job: 'work of our own' } as const;

@Component({
  selector: 'lg-connections-settings',
  imports: [MatButtonModule, MomentPipe],
  providers: [ConnectionsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="soft">
      Each outside service sits behind an interface of ours. An address of your own is set by an environment variable at
      the next start; the README names them.
    </p>
    <table class="ledger">
      <thead>
        <tr>
          <th>Service</th>
          <th>Address</th>
          <th></th>
          <th>State</th>
        </tr>
      </thead>
      <tbody>
        @for (c of store.connections.value()?.items ?? []; track c.service) {
          <tr>
            <td class="strong">{{ c.service }}</td>
            <td class="mono">{{ c.address }}</td>
            <td>{{ c.simulated ? 'simulated' : 'real' }}</td>
            <td [class.stop]="!c.answering" [class.pass]="c.answering">
              {{ c.answering ? 'answering' : 'does not answer' }}
            </td>
          </tr>
        }
      </tbody>
    </table>
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
}
