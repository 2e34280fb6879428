import { ChangeDetectionStrategy, Component, computed, input, type Signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { CountPipe } from '../format';

/** What the bar asks of its store; `withSelection` gives all of it. */
export interface Selected {
  /** Somebody is about to choose. */
  choosing: Signal<boolean>;
  chosenCount: Signal<number>;
  choosable: Signal<number | null>;
  whole: Signal<boolean>;
  setChoosing(choosing: boolean): void;
  pickWhole(): void;
}

/** What can be done with the rows that are chosen, how many they are, and the way to choose all that match, or none. */
@Component({
  selector: 'lg-selection-bar',
  imports: [MatButtonModule, CountPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store().choosing() || store().chosenCount() > 0) {
      <div class="bulk" role="group" [attr.aria-label]="'With the chosen ' + what()">
        <span role="status" class="strong">{{ words() }}</span>
        @if (store().choosable(); as all) {
          <button type="button" matButton class="plain" (click)="store().pickWhole()">
            choose all {{ all | count }}{{ narrowed() ? ' that match' : '' }}
          </button>
        }
        @if (store().chosenCount() > 0) {
          <ng-content />
        }
        <button type="button" matButton class="plain" (click)="store().setChoosing(false)">
          {{ store().choosing() ? 'choose no more' : 'none' }}
        </button>
      </div>
    }
  `,
  styles: `
    .bulk {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
      padding: 8px 0;
    }
  `,
})
export class SelectionBar {
  readonly store = input.required<Selected>();
  /** What is chosen, in the plural. */
  readonly what = input.required<string>();
  /** Filters are in force. */
  readonly narrowed = input(false);
  protected readonly words = computed(() => {
    const [n, whole] = [this.store().chosenCount(), this.store().whole()];
    if (n === 0) return `No ${this.what()} chosen yet`;
    const count = n.toLocaleString('en-US');
    return whole ? `All ${count}${this.narrowed() ? ' that match' : ''} chosen` : `${count} chosen`;
  });
}
