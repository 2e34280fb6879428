import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { UnlockStore } from './unlock.store';

/** What whoever reads a business's mail opens: agree that a number may leave, or keep it locked. */
@Component({
  selector: 'lg-unlock',
  imports: [MatButtonModule],
  providers: [UnlockStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: '../../../welcome/welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      @if (store.answered() === 'yes') {
        <h1>You agreed</h1>
        <p>The number can be unlocked once a day has passed since it was asked for. You can close this page.</p>
      } @else if (store.answered() === 'no') {
        <h1>It stays locked</h1>
        <p>Nothing has changed. You can close this page.</p>
      } @else if (store.missing()) {
        <h1>There is nothing to answer any more</h1>
        <p>It was answered, or the wish was taken back.</p>
      } @else if (store.asked(); as a) {
        <h1>May {{ a.number }} be unlocked?</h1>
        <p>
          {{ a.askedBy }} asks it for {{ a.business }}. An unlocked number can be taken to another carrier within seven
          days by whoever has its release PIN; that cannot be undone from here.
        </p>
        <p>If nobody at {{ a.business }} knows of this, keep it locked.</p>
        @if (store.wrong(); as wrong) {
          <p class="error" role="alert">{{ wrong }}</p>
        }
        <p class="ends">
          <button
            type="button"
            matButton="filled"
            [disabled]="store.answering()"
            (click)="store.answer(token(), false)"
          >
            Keep it locked
          </button>
          <button
            type="button"
            matButton="outlined"
            [disabled]="store.answering()"
            (click)="store.answer(token(), true)"
          >
            Agree to unlock it
          </button>
        </p>
      } @else {
        <p>…</p>
      }
    </main>
  `,
  styles: `
    .ends {
      display: flex;
      gap: 8px;
      flex-wrap: wrap;
    }
  `,
})
export class Unlock {
  readonly token = input.required<string>();
  protected readonly store = inject(UnlockStore);

  constructor() {
    effect(() => void this.store.see(this.token()));
  }
}
