import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Stage } from '@long-gate/contracts';
import { FILING_STAGES } from '@long-gate/core';
import { MomentPipe } from '../../parts/format';

/** How far a filing has come with the registrar, stage by stage. */
@Component({
  selector: 'lg-stages',
  imports: [MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (stages().length > 0) {
      <h3>On its way</h3>
      <ol>
        @for (s of shown(); track s.stage) {
          <li [class.soft]="s.at === null">
            <span>{{ s.stage }}</span>
            <span class="soft small">{{ s.at === null ? 'to come' : (s.at | moment) }}</span>
          </li>
        }
      </ol>
    }
  `,
  styles: `
    ol {
      margin: 0 0 12px;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      justify-content: space-between;
      gap: 10px;
      padding: 2px 0 2px 10px;
      border-left: 2px solid var(--hairline);
    }
    li:not(.soft) {
      border-color: var(--primary);
    }
    h3 {
      margin: 12px 0 4px;
    }
  `,
})
export class Stages {
  readonly stages = input.required<readonly Stage[]>();
  protected readonly shown = computed(() =>
    FILING_STAGES.map((stage) => ({ stage, at: this.stages().find((s) => s.stage === stage)?.at ?? null })),
  );
}
