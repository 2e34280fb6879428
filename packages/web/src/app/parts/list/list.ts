import { ChangeDetectionStrategy, Component, ElementRef, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { PageTitle } from '../page-title';
import { DocketKeys } from '../keys/docket-keys';

/**
 * A page that lists things: its head with what can be done, the filters, a search, the rows, and the docket of the one
 * that is open. Slots: `actions`, `tabs`, `above`, `facets`, `nothing` (where there is nothing at all yet), the table,
 * and `docket`.
 */
@Component({
  selector: 'lg-list',
  imports: [MatButtonModule, MatInputModule, PageTitle, DocketKeys],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page" [lgDocketKeys]="ids()" [open]="open()" (chosen)="chosen.emit($event)">
      <div class="work">
        <div class="head">
          <lg-page-title [what]="what()" [of]="of()" />
          <ng-content select="[actions]" />
        </div>
        <ng-content select="[tabs]" />
        <ng-content select="[above]" />
        @if (problem(); as p) {
          <div class="problem" role="alert">
            {{ p.message }} <button type="button" matButton class="plain" (click)="again.emit()">Try again</button>
          </div>
        }
        @if (empty()) {
          <div class="empty"><ng-content select="[nothing]" /></div>
        } @else if (!problem() || shows()) {
          @if (filters()) {
            <div class="facets tight" role="group" aria-label="Filter">
              <ng-content select="[facets]" />
              @if (searching()) {
                <mat-form-field
                  ><input
                    matInput
                    data-filter
                    type="search"
                    [placeholder]="searching()"
                    [attr.aria-label]="'Filter ' + what()"
                    [value]="q()"
                    (input)="search($event)"
                    (keydown.arrowdown)="down($event)"
                /></mat-form-field>
              }
              <ng-content select="[after]" />
            </div>
          }
          <ng-content />
        }
      </div>
      <ng-content select="[docket]" />
    </div>
  `,
  styles: `
    :host {
      display: block;
      height: 100%;
      min-height: 0;
    }
    .work {
      display: flex;
      flex-direction: column;
    }
    .work > * {
      flex-shrink: 0;
    }
  `,
})
export class List {
  /** What is listed, as it stands behind the name of the business. */
  readonly what = input.required<string>();
  readonly of = input('');
  readonly problem = input<Error | null | undefined>(null);
  /** There is nothing at all, whatever the filters. */
  readonly empty = input(false);
  /** Rows are shown although the last question had no answer. */
  readonly shows = input(false);
  readonly filters = input(true);
  /** What can be searched for; no search where it is empty. */
  readonly searching = input('');
  readonly q = input('');
  readonly searched = output<string>();
  readonly ids = input<readonly string[]>([]);
  readonly open = input<string | null>(null);
  readonly chosen = output<string | null>();
  readonly again = output();
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  protected search(event: Event): void {
    this.searched.emit((event.target as HTMLInputElement).value);
  }
  /** From the search straight into what it found. */
  protected down(event: Event): void {
    const first = this.host.nativeElement.querySelector<HTMLElement>('tr[data-row] :is(button, a)');
    if (!first) return;
    event.preventDefault();
    first.focus();
  }
}
