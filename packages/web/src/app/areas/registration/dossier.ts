import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { USE_CASES } from '@long-gate/core';
import { Weight } from '../../parts/gate-strip';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';

const SHAPE: Record<string, string> = { registered: 'pass', 'in review': 'hold', declined: 'stop', draft: 'note' };

/** The registration bundle: legal identity and brand, then campaigns. */
@Component({
  selector: 'lg-dossier',
  imports: [MatInputModule, MatButtonModule, RouterOutlet, RouterLink, RouterLinkActive, Weight],
  providers: [DossierStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="frame">
      <nav aria-label="Dossier">
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
            @if (adding()) {
              <form (submit)="add($event)">
                <div class="field">
                  <label for="new-name">Name</label
                  ><mat-form-field><input matInput id="new-name" maxlength="60" required /></mat-form-field>
                </div>
                <div class="field">
                  <label for="new-use">Use case <span>can’t be changed later</span></label>
                  <mat-form-field
                    ><select matNativeControl id="new-use">
                      @for (u of uses(); track u.code) {
                        <option [value]="u.code">{{ u.label }}</option>
                      }
                    </select></mat-form-field
                  >
                </div>
                <button type="submit" matButton="filled">Begin</button>
                <button type="button" matButton="outlined" (click)="adding.set(false)">Cancel</button>
              </form>
            } @else {
              <button type="button" matButton class="plain" (click)="adding.set(true)">Begin a campaign</button>
            }
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
    form {
      margin-top: 10px;
    }
    nav > .plain {
      margin-top: 12px;
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
  private readonly router = inject(Router);
  private readonly say = inject(Say);
  protected readonly adding = signal(false);
  protected readonly uses = computed(() =>
    USE_CASES.filter((u) => !u.onlyFor || u.onlyFor === this.store.dossier.value()?.brand.body.form),
  );

  protected shape(state: string): string {
    return SHAPE[state] ?? 'note';
  }

  protected async add(event: Event): Promise<void> {
    event.preventDefault();
    const form = event.target as HTMLFormElement;
    const name = form.querySelector<HTMLInputElement>('#new-name')?.value ?? '';
    const useCase = form.querySelector<HTMLSelectElement>('#new-use')?.value ?? '';
    try {
      const made = await this.store.addCampaign({ name, useCase });
      this.adding.set(false);
      await this.router.navigate(['/b', this.session.businessId(), 'registration', 'campaigns', made.id]);
    } catch (error) {
      this.say.problem(error);
    }
  }
}
