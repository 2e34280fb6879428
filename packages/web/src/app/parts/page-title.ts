import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import { Router } from '@angular/router';
import { SessionFacade } from '../state/session.facade';

/** The name of the business, where it is changed, and what the page shows of it. */
@Component({
  selector: 'lg-page-title',
  imports: [MatButtonModule, MatMenuModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1>
      <button
        type="button"
        matButton
        class="name"
        [matMenuTriggerFor]="menu"
        [attr.aria-label]="'Business ' + (session.business()?.nameLine ?? '') + ', change'"
      >
        {{ session.business()?.nameLine }}
      </button>
      {{ what() }}
      @if (of()) {
        <strong>{{ of() }}</strong>
      }
    </h1>
    <mat-menu #menu="matMenu">
      @for (b of session.session()?.businesses ?? []; track b.id) {
        <button mat-menu-item type="button" (click)="change(b.id)">{{ b.legalName }}</button>
      }
      <button mat-menu-item type="button" (click)="add()">Add a business…</button>
    </mat-menu>
  `,
  styles: `
    :host {
      flex: 1;
      min-width: 220px;
    }
    .name {
      font: 700 22px/1.3 var(--sans);
      color: var(--ink);
      background: none;
      border: 0;
      border-bottom: 1px dotted var(--ink-soft);
      padding: 0;
      cursor: pointer;
    }
    strong {
      font-weight: 700;
    }
  `,
})
export class PageTitle {
  readonly what = input.required<string>();
  readonly of = input('');
  protected readonly session = inject(SessionFacade);
  private readonly router = inject(Router);

  protected change(id: string): void {
    const area = this.router.url.split('/')[3]?.split('?')[0] ?? 'today';
    void this.router.navigate(['/b', id, area]);
  }

  protected add(): void {
    void this.router.navigate(['/b', this.session.businessId(), 'settings', 'new-business']);
  }
}
