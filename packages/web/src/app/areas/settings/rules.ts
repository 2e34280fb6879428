import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import type { getRules } from '@long-gate/contracts';
import { formatCents, POSTS, USE_CASES } from '@long-gate/core';
import type * as z from 'zod';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { RulesStore } from './rules.store';

type Hours = z.output<typeof getRules.answer>['hours'][number];
type Use = (typeof USE_CASES)[number];

/** The shipped rules, each with its source and the day it was checked. */
@Component({
  selector: 'lg-rules-settings',
  imports: [Table],
  providers: [RulesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="soft">{{ store.notice() }}</p>
    <h2>Permitted hours, local time of the recipient</h2>
    @if (store.problem(); as p) {
      <div class="problem" role="alert">{{ p.message }}</div>
    }
    <lg-table label="Permitted hours" [rows]="store.hours()" [columns]="hours" [key]="stateOf">
      <ng-container none>Reading…</ng-container>
    </lg-table>
    <h2>The gate’s posts, in order</h2>
    <ol>
      @for (p of posts; track p.no) {
        <li>{{ p.no }} {{ p.label }}</li>
      }
    </ol>
    <h2>Use cases of a campaign</h2>
    <lg-table label="Use cases" [rows]="uses" [columns]="useColumns" [key]="codeOf" />
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
  protected readonly store = inject(RulesStore);
  protected readonly stateOf = (h: Hours): string => h.state;
  protected readonly hours: readonly Column<Hours>[] = [
    { id: 'state', head: 'State', by: (h) => h.state, text: (h) => h.state, face: 'strong' },
    { id: 'hours', head: 'Hours', by: (h) => h.hours, text: (h) => h.hours },
    { id: 'source', head: 'Source', text: (h) => h.source, face: 'soft' },
    { id: 'checked', head: 'Checked', by: (h) => h.checked, text: (h) => h.checked, face: 'soft' },
  ];
  protected readonly codeOf = (u: Use): string => u.code;
  protected readonly useColumns: readonly Column<Use>[] = [
    { id: 'use', head: 'Use case', by: (u) => u.label, text: (u) => u.label },
    { id: 'monthly', head: 'Monthly', right: true, by: (u) => u.monthly, text: (u) => formatCents(u.monthly) },
    { id: 'samples', head: 'Samples at least', right: true, by: (u) => u.samples, text: (u) => String(u.samples) },
    { id: 'stop', head: 'Way to stop in a sample', text: (u) => (u.needsStop ? 'needed' : '') },
  ];
  protected readonly posts = POSTS;
  protected readonly uses = USE_CASES;
}
