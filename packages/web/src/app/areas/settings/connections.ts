import { ChangeDetectionStrategy, Component, inject, resource } from '@angular/core';
import { listConnections } from '@long-gate/contracts';
import { Api } from '../../api/api';

@Component({
  selector: 'lg-connections-settings',
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
        @for (c of connections.value()?.items ?? []; track c.service) {
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
      <button type="button" class="do" (click)="connections.reload()">Ask again</button>
      <a class="do" href="/api/v1/openapi.json" target="_blank" rel="noopener">The API’s description (OpenAPI 3.1)</a>
    </p>
  `,
  styles: `
    p {
      margin: 12px 0;
    }
  `,
})
export class ConnectionsSettings {
  private readonly api = inject(Api);
  protected readonly connections = resource({ loader: () => this.api.call(listConnections) });
}
