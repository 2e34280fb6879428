import { ChangeDetectionStrategy, Component } from '@angular/core';

/** What a contact or a signer opens on a phone: one column, text that is not zoomed into, controls for thumbs. */
@Component({
  selector: 'lg-public-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<main class="for-thumbs"><ng-content /></main>`,
  styles: `
    main {
      max-width: 560px;
      margin: 0 auto;
      min-height: 100vh;
      padding: 24px 20px;
      background: var(--surface);
      font-size: 16px;
    }
  `,
})
export class PublicPage {}
