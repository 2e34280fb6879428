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
      [class.large]="large()"
      [attr.width]="large() ? 330 : 88"
      [attr.height]="large() ? 44 : 16"
      [attr.viewBox]="large() ? '0 0 330 44' : '0 0 88 16'"
      role="img"
      [attr.aria-label]="said()"
    >
      <title>{{ said() }}</title>
      <line x1="0" [attr.x2]="railEnd()" [attr.y1]="base()" [attr.y2]="base()" class="rail" />
      @for (s of strokes(); track $index) {
        <path [attr.class]="s.face" [attr.d]="s.d" />
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
    .not-asked {
      fill: none;
      stroke: var(--ink-soft);
      stroke-width: 1.8;
      stroke-linecap: round;
      .large & {
        stroke-width: 3;
      }
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
  /** All posts of one look are one path: a list draws hundreds of posts at once. */
  protected readonly strokes = computed(() => {
    const d = this.deciding();
    const faces = new Map<string, string>();
    for (const { post, result } of this.answers()) {
      const pale = d?.result === 'stop' && post > d.post && result !== 'not asked';
      const face = `${result.replace(' ', '-')}${pale ? ' pale' : ''}`;
      faces.set(face, (faces.get(face) ?? '') + this.shape(result, this.x(post)));
    }
    return [...faces].map(([face, path]) => ({ face, d: path }));
  });
  /** The text equivalent, naming the deciding post. */
  protected readonly said = computed(() => {
    const d = this.deciding();
    if (!d) return 'Gate: passes every post asked';
    const reason = d.reason && d.reason in REASONS ? REASONS[d.reason as keyof typeof REASONS].why : '';
    return `Gate: ${d.result} at post ${d.post}, ${postLabel(d.post)}${reason ? `: ${reason}` : ''}`;
  });
  /** The shape of one answer, as a part of a path. */
  private shape(result: StripAnswer['result'], x: number): string {
    const [base, h, w] = [this.base(), this.h(), this.w()];
    const box = (width: number, top: number, height: number): string =>
      `M${x - width / 2} ${top}h${width}v${height}h${-width}z`;
    switch (result) {
      case 'pass':
        return box(w, base - h * 0.32, h * 0.32);
      case 'hold':
        return box(w + 0.6, base - h * 0.86, h * 0.86);
      case 'stop':
        return box(w, base - h * 0.86, h * 0.86) + box(w * 2.5, base - h * 0.93, this.large() ? 3 : 2);
      case 'not asked':
        return `M${x} ${base - h * 0.16}h0`;
    }
  }
  private x(post: number): number {
    const step = this.large() ? 30 : 8;
    return step / 2 + (post - 1) * step;
  }
}
