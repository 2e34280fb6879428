import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { SessionFacade } from '../state/session.facade';

/** The places of one area, as a row of links under the page's title. */
@Component({
  selector: 'lg-tabs',
  imports: [RouterLink, RouterLinkActive],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nav [attr.aria-label]="label()">
      @for (t of tabs(); track t.path) {
        <a
          [routerLink]="to(t.path)"
          routerLinkActive="here"
          ariaCurrentWhenActive="page"
          [routerLinkActiveOptions]="{
            paths: t.path === '' ? 'exact' : 'subset',
            queryParams: 'ignored',
            fragment: 'ignored',
            matrixParams: 'ignored',
          }"
          >{{ t.text }}</a
        >
      }
    </nav>
  `,
  styles: `
    nav {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 18px;
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
export class Tabs {
  readonly label = input.required<string>();
  /** The area's part of the address. */
  readonly area = input.required<string>();
  readonly tabs = input.required<readonly { path: string; text: string }[]>();
  private readonly session = inject(SessionFacade);

  protected to(path: string): string[] {
    return ['/b', this.session.businessId(), this.area(), ...(path === '' ? [] : [path])];
  }
}
