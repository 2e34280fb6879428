import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';

@Component({
  selector: 'lg-nowhere',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `<main class="sheet">
    <h1>There is nothing at this address</h1>
    <p>It may have been moved, or typed a little differently.</p>
    <p><a routerLink="/">To Today</a></p>
  </main>`,
})
export class Nowhere {}
