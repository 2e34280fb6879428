import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { SessionFacade } from '../../state/session.facade';

@Component({
  selector: 'lg-consent-tabs',
  imports: [RouterLink, RouterLinkActive],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nav aria-label="Consent">
      <a
        [routerLink]="base()"
        routerLinkActive="here"
        [routerLinkActiveOptions]="{
          paths: 'exact',
          queryParams: 'ignored',
          fragment: 'ignored',
          matrixParams: 'ignored',
        }"
        >Ledger</a
      >
      <a [routerLink]="base('pages')" routerLinkActive="here">Opt-in pages</a>
      <a [routerLink]="base('replies')" routerLinkActive="here">Replies to read</a>
    </nav>
  `,
  styles: `
    nav {
      display: flex;
      gap: 18px;
      margin-bottom: 12px;
    }
    a {
      color: var(--ink-soft);
      padding-bottom: 3px;
      border-bottom: 2px solid transparent;
    }
    a.here {
      color: var(--ink);
      font-weight: 600;
      border-color: var(--primary);
    }
  `,
})
export class ConsentTabs {
  private readonly session = inject(SessionFacade);
  protected base(...tail: string[]): string[] {
    return ['/b', this.session.businessId(), 'consent', ...tail];
  }
}
