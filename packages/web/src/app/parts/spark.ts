import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** A trend in a row: a bar for each step, the figure beside it is the row's own. */
@Component({
  selector: 'lg-spark',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      role="img"
      [attr.aria-label]="label()"
      [attr.viewBox]="'0 0 ' + width() + ' 16'"
      [attr.width]="width()"
      height="16"
    >
      <title>{{ label() }}</title>
      <line x1="0" y1="15.5" [attr.x2]="width()" y2="15.5" />
      @for (b of bars(); track $index) {
        <rect [class.rest]="b.rest" [attr.x]="b.x" [attr.y]="15 - b.height" width="2" [attr.height]="b.height" />
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
    }
    rect {
      fill: var(--primary);
    }
    .rest {
      opacity: 0.35;
    }
    line {
      stroke: var(--hairline);
    }
  `,
})
export class Spark {
  readonly values = input.required<readonly number[]>();
  /** Of each value the part that counts; what is beyond it is drawn fainter. */
  readonly of = input<readonly number[]>();
  /** What it draws, in words, for whoever does not see it. */
  readonly label = input.required<string>();
  protected readonly width = computed(() => this.values().length * 3);
  /** Something is never drawn as nothing. */
  protected readonly bars = computed(() => {
    const most = Math.max(1, ...this.values());
    const height = (v: number): number => (v === 0 ? 0 : Math.max(1, Math.round((14 * v) / most)));
    const bars = (values: readonly number[], rest: boolean) =>
      values.map((v, i) => ({ x: i * 3, height: height(v), rest })).filter((b) => b.height > 0);
    const part = this.of();
    return part ? [...bars(this.values(), true), ...bars(part, false)] : bars(this.values(), false);
  });
}
