import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { RouterLink } from '@angular/router';

/** What an address shows that leads nowhere; it stays in the bar, to be mended there. */
@Component({
  selector: 'lg-nowhere',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `<main class="sheet">
    @if (business()) {
      <h1>No business of yours is at this address</h1>
      <p>You may not be in it any more, or be signed in as somebody else. Ask its administrator to invite you.</p>
    } @else {
      <h1>There is nothing at this address</h1>
      <p>It may have been moved, or typed a little differently.</p>
    }
    <p><a routerLink="/">To Today</a></p>
  </main>`,
})
export class Nowhere {
  /** It names a business the person has no part in, or that is none. */
  readonly business = input(false);
}
