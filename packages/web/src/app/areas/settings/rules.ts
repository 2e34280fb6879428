import { ChangeDetectionStrategy, Component, inject, resource } from '@angular/core';
import { getRules } from '@long-gate/contracts';
import { POSTS, USE_CASES } from '@long-gate/core';
import { Api } from '../../api/api';
import { MoneyPipe } from '../../parts/format';

/** The shipped rules, each with its source and the day it was checked. */
@Component({
  selector: 'lg-rules-settings',
  imports: [MoneyPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="soft">{{ rules.value()?.notice }}</p>
    <h2>Permitted hours, local time of the recipient</h2>
    <table class="ledger">
      <thead>
        <tr>
          <th>State</th>
          <th>Hours</th>
          <th>Source</th>
          <th>Checked</th>
        </tr>
      </thead>
      <tbody>
        @for (h of rules.value()?.hours ?? []; track h.state) {
          <tr>
            <td class="strong">{{ h.state }}</td>
            <td>{{ h.hours }}</td>
            <td class="soft">{{ h.source }}</td>
            <td class="soft">{{ h.checked }}</td>
          </tr>
        }
      </tbody>
    </table>
    <h2>The gate’s posts, in order</h2>
    <ol>
      @for (p of posts; track p.no) {
        <li>{{ p.no }} {{ p.label }}</li>
      }
    </ol>
    <h2>Use cases of a campaign</h2>
    <table class="ledger">
      <thead>
        <tr>
          <th>Use case</th>
          <th class="right">Monthly</th>
          <th class="right">Samples at least</th>
          <th>Way to stop in a sample</th>
        </tr>
      </thead>
      <tbody>
        @for (u of uses; track u.code) {
          <tr>
            <td>{{ u.label }}</td>
            <td class="right">{{ u.monthly | money }}</td>
            <td class="right">{{ u.samples }}</td>
            <td>{{ u.needsStop ? 'needed' : '' }}</td>
          </tr>
        }
      </tbody>
    </table>
  `,
  styles: `
    h2 {
      margin: 20px 0 6px;
    }
    li {
      padding: 2px 0;
    }
  `,
})
export class RulesSettings {
  private readonly api = inject(Api);
  protected readonly rules = resource({ loader: () => this.api.call(getRules) });
  protected readonly posts = POSTS;
  protected readonly uses = USE_CASES;
}
