import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { PageTitle } from '../../parts/page-title';

@Component({
  selector: 'lg-settings',
  imports: [PageTitle, RouterLink, RouterLinkActive, RouterOutlet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="settings" /></div>
        <div class="frame">
          <nav aria-label="Settings">
            @for (p of places; track p[0]) {
              <a [routerLink]="p[0]" routerLinkActive="here" ariaCurrentWhenActive="page">{{ p[1] }}</a>
            }
          </nav>
          <section><router-outlet /></section>
        </div>
      </div>
    </div>
  `,
  styles: `
    .frame {
      display: grid;
      grid-template-columns: 150px minmax(0, 1fr);
      gap: 28px;
      border-top: 1px solid var(--hairline);
      padding-top: 14px;
    }
    nav a {
      display: block;
      padding: 5px 8px;
      border-left: 3px solid transparent;
      color: var(--ink);
    }
    nav a.here {
      border-color: var(--primary);
      font-weight: 600;
      background: var(--primary-wash);
    }
    section {
      max-width: 900px;
    }
    @media (max-width: 900px) {
      .frame {
        display: block;
      }
      nav {
        display: flex;
        flex-wrap: wrap;
        margin-bottom: 14px;
      }
      nav a {
        border-left: 0;
        border-bottom: 3px solid transparent;
      }
    }
  `,
})
export class SettingsPage {
  protected readonly places = [
    ['business', 'Business'],
    ['money', 'Money'],
    ['people', 'People and roles'],
    ['you', 'You'],
    ['lookups', 'Lookups'],
    ['rules', 'Rules'],
    ['connections', 'Connections'],
    ['audit', 'Audit'],
  ] as const;
}
