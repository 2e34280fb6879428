import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { postLabel, REASONS } from '@long-gate/core';

export interface StripAnswer {
  post: number;
  result: 'pass' | 'hold' | 'stop' | 'not asked';
  reason?: string;
}

/**
 * A verdict drawn as a row of eleven posts: pass a short filled tick, hold a tall open one, stop a tall filled one with
 * a cap, not asked a dot. At the deciding stop the rail ends; answers behind it are pale.
 */
@Component({
  selector: 'lg-gate-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      [attr.width]="large() ? 330 : 88"
      [attr.height]="large() ? 44 : 16"
      [attr.viewBox]="large() ? '0 0 330 44' : '0 0 88 16'"
      role="img"
      [attr.aria-label]="said()"
    >
      <title>{{ said() }}</title>
      <line x1="0" [attr.x2]="railEnd()" [attr.y1]="base()" [attr.y2]="base()" class="rail" />
      @for (t of ticks(); track t.post) {
        @switch (t.shape) {
          @case ('pass') {
            <rect
              class="pass"
              [class.pale]="t.pale"
              [attr.x]="t.x - w() / 2"
              [attr.y]="base() - h() * 0.32"
              [attr.width]="w()"
              [attr.height]="h() * 0.32"
            />
          }
          @case ('hold') {
            <rect
              class="hold"
              [class.pale]="t.pale"
              [attr.x]="t.x - w() / 2 - 0.3"
              [attr.y]="base() - h() * 0.86"
              [attr.width]="w() + 0.6"
              [attr.height]="h() * 0.86"
            />
          }
          @case ('stop') {
            <g class="stop" [class.pale]="t.pale">
              <rect
                [attr.x]="t.x - w() / 2"
                [attr.y]="base() - h() * 0.86"
                [attr.width]="w()"
                [attr.height]="h() * 0.86"
              />
              <rect
                [attr.x]="t.x - w() * 1.25"
                [attr.y]="base() - h() * 0.93"
                [attr.width]="w() * 2.5"
                [attr.height]="large() ? 3 : 2"
              />
            </g>
          }
          @default {
            <circle class="dot" [attr.cx]="t.x" [attr.cy]="base() - h() * 0.16" [attr.r]="large() ? 1.5 : 0.9" />
          }
        }
      }
    </svg>
  `,
  styles: `
    :host {
      display: inline-block;
      line-height: 0;
    }
    .rail {
      stroke: var(--ink-soft);
      stroke-width: 1;
    }
    .pass {
      fill: var(--pass);
    }
    .hold {
      fill: none;
      stroke: var(--hold);
      stroke-width: 1.1;
    }
    .stop {
      fill: var(--stop);
    }
    .dot {
      fill: var(--ink-soft);
    }
    .pale {
      opacity: 0.28;
    }
  `,
})
export class GateStrip {
  readonly answers = input.required<readonly StripAnswer[]>();
  readonly large = input(false);

  protected readonly base = computed(() => (this.large() ? 42 : 14.5));
  protected readonly h = computed(() => (this.large() ? 40 : 14));
  protected readonly w = computed(() => (this.large() ? 4 : 3));
  private readonly deciding = computed(() => {
    const stop = this.answers().find((a) => a.result === 'stop');
    return stop ?? this.answers().find((a) => a.result === 'hold');
  });
  protected readonly railEnd = computed(() => {
    const d = this.deciding();
    return d?.result === 'stop' ? this.x(d.post) : this.large() ? 330 : 88;
  });
  protected readonly ticks = computed(() => {
    const d = this.deciding();
    return this.answers().map((a) => ({
      post: a.post,
      shape: a.result,
      x: this.x(a.post),
      pale: d?.result === 'stop' && a.post > d.post && a.result !== 'not asked',
    }));
  });
  /** The text equivalent, naming the deciding post. */
  protected readonly said = computed(() => {
    const d = this.deciding();
    if (!d) return 'Gate: passes every post asked';
    const reason = d.reason && d.reason in REASONS ? REASONS[d.reason as keyof typeof REASONS].why : '';
    return `Gate: ${d.result} at post ${d.post}, ${postLabel(d.post)}${reason ? `: ${reason}` : ''}`;
  });
  private x(post: number): number {
    const step = this.large() ? 30 : 8;
    return step / 2 + (post - 1) * step;
  }
}

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
