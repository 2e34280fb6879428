import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { Preview } from '@long-gate/contracts';
import { POSTS } from '@long-gate/core';
import { CountPipe } from '../../parts/format';

interface Choice {
  post: number;
  result: 'pass' | 'hold' | 'stop';
}

const WIDTH = 1190;
const STEP = 104;
const TOP = 68;
const BASE = 262;

/** The eleven posts with how many each holds and stops, and the stream of those who come through. */
@Component({
  selector: 'lg-gate-drawing',
  imports: [CountPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width + ' 308'" role="group" aria-label="The gate, post by post">
      <path [attr.d]="stream()" class="stream" />
      <line x1="14" [attr.x2]="width - 6" [attr.y1]="base" [attr.y2]="base" class="rail" />
      @for (p of posts(); track p.no) {
        @if (chosen()?.post === p.no && chosen()?.result !== 'pass') {
          <rect class="frame" [attr.x]="p.x - 47" y="2" width="94" [attr.height]="p.hold > 0 && p.stop > 0 ? 61 : 44" />
        }
        <text class="label" [attr.x]="p.x" y="18" text-anchor="middle">{{ p.no }} {{ p.short }}</text>
        @if (p.stop > 0) {
          <g
            class="stop"
            tabindex="0"
            role="button"
            [attr.aria-label]="'Post ' + p.no + ': ' + p.stop + ' stopped, show who'"
            (click)="pick.emit({ post: p.no, result: 'stop' })"
            (keydown.enter)="pick.emit({ post: p.no, result: 'stop' })"
          >
            <text class="count" [attr.x]="p.x" y="38" text-anchor="middle">{{ p.stop | count }} stopped</text>
            <rect class="hit" [attr.x]="p.x - 14" [attr.y]="top" width="22" [attr.height]="base - top" />
            <rect [attr.x]="p.x - 3" [attr.y]="top + 2" width="6" [attr.height]="base - top - 2" />
            <rect [attr.x]="p.x - 10" [attr.y]="top" width="20" height="4" />
          </g>
        }
        @if (p.hold > 0) {
          <g
            class="hold"
            tabindex="0"
            role="button"
            [attr.aria-label]="'Post ' + p.no + ': ' + p.hold + ' held, show who'"
            (click)="pick.emit({ post: p.no, result: 'hold' })"
            (keydown.enter)="pick.emit({ post: p.no, result: 'hold' })"
          >
            <text class="count" [attr.x]="p.x" [attr.y]="p.stop > 0 ? 57 : 38" text-anchor="middle">
              {{ p.hold | count }} held
            </text>
            <rect
              class="hit"
              [attr.x]="p.x + (p.stop > 0 ? 8 : -8)"
              [attr.y]="top + 10"
              width="18"
              [attr.height]="base - top - 10"
            />
            <rect
              class="open"
              [attr.x]="p.x + (p.stop > 0 ? 12 : -4)"
              [attr.y]="p.stop > 0 ? top + 14 : top"
              width="8"
              [attr.height]="base - (p.stop > 0 ? top + 14 : top)"
            />
          </g>
        }
        <text class="label" [attr.x]="p.x" y="279" text-anchor="middle">{{ p.pass | count }} pass</text>
        @if (p.hold === 0 && p.stop === 0) {
          <rect class="pass" [attr.x]="p.x - 3" [attr.y]="base - 11" width="6" height="11" />
        }
      }
      <text class="label" x="14" y="301">
        {{ counts().audience | count }} in the audience{{
          repeats() > 0 ? ', ' + (repeats() | count) + ' repeats taken out' : ''
        }}
      </text>
      <g
        tabindex="0"
        role="button"
        class="passing"
        [attr.aria-label]="(counts().pass | count) + ' pass now, show who'"
        (click)="pick.emit({ post: 0, result: 'pass' })"
        (keydown.enter)="pick.emit({ post: 0, result: 'pass' })"
      >
        <text class="total" [attr.x]="width - 8" y="301" text-anchor="end">{{ counts().pass | count }} pass now</text>
      </g>
    </svg>
  `,
  styles: `
    svg {
      width: 100%;
      height: auto;
      display: block;
    }
    .stream {
      fill: var(--pass-wash);
    }
    .rail {
      stroke: var(--ink-soft);
    }
    .label {
      fill: var(--ink-soft);
      font-size: 13.5px;
    }
    .count {
      font-size: 13.5px;
      font-weight: 600;
    }
    .stop {
      fill: var(--stop);
      cursor: pointer;
    }
    .hold {
      fill: var(--hold);
      cursor: pointer;
    }
    .hold .open {
      fill: var(--canvas);
      stroke: var(--hold);
      stroke-width: 1.6;
    }
    .hit {
      fill: transparent;
    }
    .pass {
      fill: var(--pass);
    }
    .frame {
      fill: none;
      stroke: var(--primary);
      stroke-width: 1.6;
    }
    .total {
      fill: var(--ink);
      font-weight: 700;
      font-size: 14px;
    }
    .passing {
      cursor: pointer;
    }
    g:focus-visible {
      outline: 2px solid var(--primary);
    }
  `,
})
export class GateDrawing {
  readonly counts = input.required<Preview['counts']>();
  readonly repeats = input(0);
  readonly chosen = input<Choice | null>(null);
  readonly pick = output<Choice>();
  protected readonly width = WIDTH;
  protected readonly top = TOP;
  protected readonly base = BASE;
  protected readonly posts = computed(() =>
    POSTS.map((p, i) => ({
      ...p,
      x: 62 + i * STEP,
      hold: this.counts().posts[i]?.hold ?? 0,
      stop: this.counts().posts[i]?.stop ?? 0,
      pass: this.counts().posts[i]?.pass ?? 0,
    })),
  );
  /** Height in proportion to those who are still on their way. */
  protected readonly stream = computed(() => {
    const audience = Math.max(1, this.counts().audience);
    const full = BASE - TOP - 20;
    const y = (n: number): number => BASE - (n / audience) * full;
    let d = `M14 ${BASE} L14 ${y(this.counts().audience)}`;
    let before = this.counts().audience;
    for (const [i, p] of this.counts().posts.entries()) {
      const x = 62 + i * STEP;
      d += ` L${x - 3} ${y(before)} C${x + 6} ${y(before)} ${x - 2} ${y(p.pass)} ${x + 10} ${y(p.pass)}`;
      before = p.pass;
    }
    return `${d} L${WIDTH - 8} ${y(before)} L${WIDTH - 8} ${BASE} Z`;
  });
}
