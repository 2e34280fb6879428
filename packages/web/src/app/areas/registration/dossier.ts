import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { Weight } from '../../parts/gate-strip';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';

const SHAPE: Record<string, string> = { registered: 'pass', 'in review': 'hold', declined: 'stop', draft: 'note' };

/** The registration bundle: legal identity and brand, then campaigns. */
@Component({
  selector: 'lg-dossier',
  imports: [RouterOutlet, RouterLink, RouterLinkActive, Weight],
  providers: [DossierStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="frame">
      <nav aria-label="Dossier">
        <a routerLink="dossiers" class="all">All dossiers</a>
        <div class="soft small">Dossier</div>
        @if (store.dossier.value(); as d) {
          <a routerLink="brand" routerLinkActive="here"
            ><lg-weight [weight]="shape(d.brand.state)" /> Identity and brand
            <span class="soft small" [class.visually-hidden]="d.brand.state === 'registered'">{{
              d.brand.state
            }}</span></a
          >
          <div class="soft small group">Campaigns</div>
          @for (c of d.campaigns; track c.id) {
            <a [routerLink]="['campaigns', c.id]" routerLinkActive="here"
              ><lg-weight [weight]="shape(c.state)" /> {{ c.name }}
              <span class="soft small" [class.visually-hidden]="c.state === 'registered'">{{ c.state }}</span></a
            >
          } @empty {
            <p class="soft small">None yet. A campaign says what is sent, to whom, and how people agreed.</p>
          }
          @if (session.isAdministrator()) {
            <p class="begin"><a routerLink="campaigns/new">Begin a campaign</a></p>
          }
        } @else if (store.dossier.error()) {
          <p class="stop" role="alert">{{ store.dossier.error()?.message }}</p>
        } @else {
          <p class="soft">Reading…</p>
        }
      </nav>
      <div class="sheet"><router-outlet /></div>
    </div>
  `,
  styles: `
    .frame {
      display: grid;
      grid-template-columns: 206px minmax(0, 1fr);
      height: 100%;
    }
    nav {
      padding: 22px 12px 20px 20px;
      overflow: auto;
    }
    nav a {
      display: flex;
      gap: 8px;
      align-items: center;
      padding: 5px 6px;
      margin-left: -9px;
      border-left: 3px solid transparent;
      color: var(--ink);
      flex-wrap: wrap;
    }
    nav a.here {
      border-color: var(--primary);
      font-weight: 600;
      background: var(--primary-wash);
    }
    nav a .small {
      margin-left: auto;
      font-weight: 400;
    }
    .group {
      margin-top: 12px;
    }
    .begin a {
      margin-top: 8px;
      color: var(--primary);
    }
    .sheet {
      min-height: 0;
    }
    @media (max-width: 900px) {
      .frame {
        display: block;
      }
    }
  `,
})
export class DossierPage {
  protected readonly store = inject(DossierStore);
  protected readonly session = inject(SessionFacade);
  protected shape(state: string): string {
    return SHAPE[state] ?? 'note';
  }
}
