import { computed, inject, Injectable, signal } from '@angular/core';
import { getSession, type Session } from '@long-gate/contracts';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { SessionActions, sessionFeature } from './session.feature';

/** Who is signed in, which business is open, and what time it is. */
@Injectable({ providedIn: 'root' })
export class SessionFacade {
  private readonly store = inject(Store);
  private readonly api = inject(Api);
  private readonly tick = signal(Date.now());

  readonly session = this.store.selectSignal(sessionFeature.selectSession);
  readonly business = this.store.selectSignal(sessionFeature.selectBusiness);
  readonly businessId = this.store.selectSignal(sessionFeature.selectBusinessId);
  private readonly loadedAt = this.store.selectSignal(sessionFeature.selectLoadedAt);
  /** Scenario time now, moving on with the wall. */
  readonly now = computed(() => (this.session()?.clock.now ?? Date.now()) + Math.max(0, this.tick() - this.loadedAt()));
  readonly role = computed(() => this.business()?.role ?? 'viewer');
  readonly mayEdit = computed(() => this.role() !== 'viewer');
  readonly isAdministrator = computed(() => this.role() === 'administrator');

  /** The site that a simulated outside plays; empty where the outside is a real one. */
  simulatedSite(): string {
    const s = this.session();
    return s?.clock.movable ? `${s.outsideUrl}/site` : '';
  }
  /** The mailbox of a simulated outside, opened for an address; empty where the outside is a real one. */
  mailbox(email: string): string {
    const s = this.session();
    return s?.clock.movable ? `${s.outsideUrl}/mailbox${email ? `?to=${encodeURIComponent(email)}` : ''}` : '';
  }

  constructor() {
    setInterval(() => this.tick.set(Date.now()), 5000);
  }

  /** @param leaving whoever works here wants to be nobody; otherwise a session that has ended is asked for again. */
  async load(leaving = false): Promise<void> {
    const now = await this.api.call(getSession);
    const lost = !leaving && this.session()?.user && !now.user;
    if (!lost || !(await this.api.ended?.('signed-out'))) this.take(now);
  }

  take(session: Session): void {
    if (this.session()?.user && !session.user) this.api.forgetWishes();
    this.api.csrf = session.csrf;
    this.tick.set(Date.now());
    this.store.dispatch(SessionActions.loaded({ session, at: Date.now() }));
  }

  /** @param ask has whoever works here sign in again, where their session ends; answers whether they did. */
  whenEnded(ask: () => Promise<boolean>): void {
    this.api.ended = (code) => (code === 'csrf' ? this.renewed() : ask());
  }

  /** Signed in again in another tab, this page has an old token: it takes the new one, but never somebody else's. */
  private async renewed(): Promise<boolean> {
    const now = await this.api.call(getSession);
    if (now.user?.id !== this.session()?.user?.id || now.csrf === this.api.csrf) return false;
    this.take(now);
    return true;
  }

  choose(businessId: string): void {
    if (businessId !== this.businessId()) this.store.dispatch(SessionActions.businessChosen({ businessId }));
  }
}
