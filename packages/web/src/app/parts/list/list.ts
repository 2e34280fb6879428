import { ChangeDetectionStrategy, Component, ElementRef, inject, input, type Signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { SEARCH_MOST } from '@long-gate/contracts';
import { ApiProblem } from '../../api/api';
import { PageTitle } from '../page-title';
import { DocketKeys } from '../keys/docket-keys';

/** What a list asks of its store; the features in `state/area-features` give all of it but the rows' ids. */
export interface Listed {
  problem: Signal<Error | null | undefined>;
  /** There is nothing at all, whatever the filters. */
  nothing: Signal<boolean>;
  /** Rows are here, although the last question may have had no answer. */
  here: Signal<boolean>;
  address: Signal<Readonly<{ q?: string }>>;
  open: Signal<string | null>;
  /** Those an arrow walks through, where rows open a docket. */
  rowIds?: Signal<readonly string[]>;
  /** Where it can be narrowed: whether it is, and back to all of it. */
  filtered?: Signal<boolean>;
  clear?(): void;
  again(): void;
  search(text: string): void;
  choose(id: string | null): void;
}

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
    <div
      class="page"
      [lgDocketKeys]="store().rowIds?.() ?? none"
      [open]="store().open()"
      (chosen)="store().choose($event)"
    >
      <div class="work">
        <div class="head">
          <lg-page-title [what]="what()" />
          <ng-content select="[actions]" />
        </div>
        <ng-content select="[tabs]" />
        <ng-content select="[above]" />
        @if (store().problem(); as p) {
          <div class="problem" role="alert">
            {{ said(p) }}
            @if (isRefused(p) && store().filtered?.()) {
              <button type="button" matButton class="plain" (click)="store().clear?.()">Show all</button>
            } @else {
              <button type="button" matButton class="plain" (click)="store().again()">Try again</button>
            }
          </div>
        }
        @if (store().nothing()) {
          <div class="empty"><ng-content select="[nothing]" /></div>
        } @else {
          @if (filters()) {
            <div class="facets tight" role="group" aria-label="Filter">
              <ng-content select="[facets]" />
              @if (searching()) {
                <mat-form-field
                  ><input
                    matInput
                    data-filter
                    type="search"
                    [attr.maxlength]="longest"
                    [placeholder]="searching()"
                    [attr.aria-label]="'Filter ' + what()"
                    [value]="store().address().q ?? ''"
                    (input)="search($event)"
                    (keydown.arrowdown)="down($event)"
                /></mat-form-field>
              }
              <ng-content select="[after]" />
            </div>
          }
          @if (!store().problem() || store().here()) {
            <ng-content />
          }
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
  /** No more is asked for, and so no more can be typed. */
  protected readonly longest = SEARCH_MOST;
  /** What is listed, as it stands behind the name of the business. */
  readonly what = input.required<string>();
  readonly store = input.required<Listed>();
  readonly filters = input(true);
  /** What can be searched for; no search where it is empty. */
  readonly searching = input('');
  protected readonly none: readonly string[] = [];
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  /** The server does not take what is asked for. */
  protected readonly isRefused = (p: Error): boolean => p instanceof ApiProblem && p.status === 422;
  /** In words for people: the names of fields are the address’s own. */
  protected readonly said = (p: Error): string =>
    p instanceof ApiProblem && p.fields.length > 0 ? p.fields.map((f) => f.message).join(' ') : p.message;

  protected search(event: Event): void {
    this.store().search((event.target as HTMLInputElement).value);
  }
  /** From the search straight into what it found. */
  protected down(event: Event): void {
    const first = this.host.nativeElement.querySelector<HTMLElement>('tr[data-row] :is(button, a)');
    if (!first) return;
    event.preventDefault();
    first.focus();
  }
}
