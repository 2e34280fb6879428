import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { CountPipe } from './format';

/** A line of a file that was not taken. */
export interface RefusedLine {
  line: number;
  raw: string;
  why: string;
}

/** The lines of a file that were not taken: which each is, what stands there, and what is wrong with it. */
@Component({
  selector: 'lg-refused-lines',
  imports: [CountPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (x of first(); track x.line) {
        <li>
          <span class="soft">line {{ x.line | count }}</span> <span class="mono raw">{{ x.raw }}</span>
          <span class="stop">{{ x.why }}</span>
        </li>
      }
      @if (all() > first().length) {
        <li class="soft">and {{ all() - first().length | count }} more</li>
      }
    </ul>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      padding: 4px 0;
      border-bottom: 1px solid var(--hairline);
      overflow-wrap: anywhere;
    }
    .raw {
      margin: 0 6px;
    }
  `,
})
export class RefusedLines {
  readonly all = input.required<number>();
  /** The first of them. */
  readonly first = input.required<readonly RefusedLine[]>();
}
