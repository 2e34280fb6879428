import { ChangeDetectionStrategy, Component, inject, input, linkedSignal } from '@angular/core';
import { Compose } from './compose';
import { DispatchStore } from './dispatch.store';
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
        <lg-compose [dispatch]="d" [before]="before()" (sent)="store.reload()" />
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
  /** When it was to leave before it was called off, to begin from. */
  protected readonly before = linkedSignal<string, Chosen>({ source: () => this.id(), computation: () => NOW });

  constructor() {
    this.store.about(this.id);
  }
}
