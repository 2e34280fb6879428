import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MomentPipe } from '../../parts/format';
import { AccountStore } from './account.store';

/** Where one is signed in, with an end to each and to all others. */
@Component({
  selector: 'lg-own-sessions',
  imports: [MatButtonModule, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Where you are signed in</h2>
    <ul>
      @for (s of store.places(); track s.id) {
        <li>
          <span class="what"
            ><span class="strong">{{ s.current ? 'This browser' : browserOf(s.agent) }}</span>
            <span class="soft"> from {{ s.address || 'an unknown address' }}</span></span
          >
          <span class="soft small"
            >signed in {{ s.openedAt | moment: 'short' }}, used last {{ s.seenAt | moment: 'short' }}, wall time</span
          >
          @if (!s.current) {
            <button
              type="button"
              matButton
              class="plain stop"
              [disabled]="store.acting.busy()"
              (click)="store.end(s.id)"
            >
              End it
            </button>
          }
        </li>
      }
    </ul>
    @if (store.places().length > 1) {
      <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="store.endOthers()">
        End all others
      </button>
    }
    <p class="soft small">A session ends by itself after twelve hours.</p>
  `,
  styles: `
    h2 {
      margin: 22px 0 8px;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 16px;
      align-items: baseline;
      padding: 7px 0;
      border-top: 1px solid var(--hairline);
    }
    .what .soft {
      margin-left: 6px;
    }
    .what {
      flex: 1 1 240px;
    }
    p {
      margin: 8px 0;
    }
  `,
})
export class OwnSessions {
  protected readonly store = inject(AccountStore);

  /** What a browser calls itself, in two words. */
  protected browserOf(agent: string): string {
    const system = /\(([^;)]+)/.exec(agent)?.[1] ?? '';
    const name = agent.split(/[ /]/)[0] ?? '';
    return system ? `A browser on ${system}` : name || 'A program';
  }
}
