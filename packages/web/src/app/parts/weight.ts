import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** The shape of the worst open matter, small, as on the course. */
@Component({
  selector: 'lg-weight',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg width="10" height="12" viewBox="0 0 10 12" aria-hidden="true">
      @switch (weight()) {
        @case ('stop') {
          <path d="M0.5 0.5h9v2h-3v9h-3v-9h-3z" class="stop" />
        }
        @case ('hold') {
          <rect x="2.6" y="1.1" width="4.8" height="9.8" class="hold" />
        }
        @case ('pass') {
          <rect x="2.8" y="5" width="4.4" height="6" class="pass" />
        }
        @default {
          <circle cx="5" cy="7" r="1.6" class="dot" />
        }
      }
    </svg>
  `,
  styles: `
    :host {
      display: inline-block;
      line-height: 0;
      flex: none;
    }
    .stop {
      fill: var(--stop);
    }
    .pass {
      fill: var(--pass);
    }
    .hold {
      fill: none;
      stroke: var(--hold);
      stroke-width: 1.3;
    }
    .dot {
      fill: var(--ink-soft);
    }
  `,
})
export class Weight {
  readonly weight = input.required<string>();
}
