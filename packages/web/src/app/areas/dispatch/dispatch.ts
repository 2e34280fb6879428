import { ChangeDetectionStrategy, Component, inject, input, linkedSignal } from '@angular/core';
import { Router } from '@angular/router';
import type { DispatchView } from '@long-gate/contracts';
import { Compose } from './compose';
import { DispatchStore, NEW } from './dispatch.store';
import { Results } from './results';
import { Scheduled } from './scheduled';
import { NOW, type Chosen } from './when-field';

/** A dispatch at its address: a sheet to write on while it is a draft, its results afterwards. */
@Component({
  selector: 'lg-dispatch',
  imports: [Compose, Results, Scheduled],
  providers: [DispatchStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.problem(); as e) {
      <div class="page">
        <div class="work">
          <div class="problem" role="alert">{{ e.message }}</div>
        </div>
      </div>
    } @else if (store.dispatch(); as d) {
      @if (d.state === 'draft') {
        @for (s of [sheet()]; track s) {
          <lg-compose [dispatch]="d" [before]="before()" (sent)="store.reload()" (made)="begun($event)" />
        }
      } @else if (d.state === 'scheduled') {
        <lg-scheduled [dispatch]="d" (changed)="store.reload()" (calledOff)="before.set($event); store.reload()" />
      } @else {
        <lg-results [dispatch]="d" />
      }
    } @else {
      <div class="page">
        <div class="work"><p class="soft">Reading…</p></div>
      </div>
    }
  `,
})
export class DispatchPage {
  readonly id = input.required<string>();
  protected readonly store = inject(DispatchStore);
  private readonly router = inject(Router);
  /** The draft that was begun on the sheet that is open. */
  private made = '';
  private sheets = 0;
  /** One sheet for one dispatch: a new one stays the same when it gets its address, and is none of the one before. */
  protected readonly sheet = linkedSignal<string, string>({
    source: () => this.id(),
    computation: (id, before) =>
      before && id === this.made ? before.value : id === NEW ? `${NEW} ${++this.sheets}` : id,
  });
  /** When it was to leave before it was called off, to begin from. */
  protected readonly before = linkedSignal<string, Chosen>({ source: () => this.id(), computation: () => NOW });

  constructor() {
    this.store.about(this.id);
  }

  /** The first word is stored: from now on it has an address. */
  protected begun(made: DispatchView): void {
    this.made = made.id;
    this.store.took(made);
    // Whoever is leaving already goes where they wanted to.
    if (this.router.currentNavigation()) return;
    void this.router.navigate(['/b', this.store.session.businessId(), 'dispatch', made.id], { replaceUrl: true });
  }
}
