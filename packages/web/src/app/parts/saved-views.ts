import { ChangeDetectionStrategy, Component, inject, input, output, resource, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { dropView, listViews, saveView } from '@long-gate/contracts';
import { Api, type ApiProblem } from '../api/api';
import { SessionFacade } from '../state/session.facade';
import { Say } from './say';

/** Filters of a list kept under a name, for everybody of the business. */
@Component({
  selector: 'lg-saved-views',
  imports: [MatInputModule, MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="views" role="group" aria-label="Saved views">
      @for (v of views.value()?.items ?? []; track v.id) {
        <span class="chip"
          ><button
            type="button"
            matButton
            class="plain"
            [class.strong]="v.query === query()"
            (click)="chosen.emit(v.query)"
          >
            {{ v.name }}
          </button>
          @if (session.mayEdit()) {
            <button
              type="button"
              matButton
              class="plain"
              [attr.aria-label]="'Drop the view ' + v.name"
              (click)="drop(v.id)"
            >
              ×
            </button>
          }
        </span>
      }
      @if (query() && session.mayEdit()) {
        @if (naming()) {
          <form class="tight" (submit)="save(); $event.preventDefault()">
            <mat-form-field
              ><input
                matInput
                aria-label="Name of the view"
                placeholder="name of the view"
                maxlength="40"
                [value]="name()"
                (input)="name.set($any($event.target).value)" /></mat-form-field
            ><button type="submit" matButton="outlined" [disabled]="!name()">Save</button>
            <button type="button" matButton class="plain" (click)="naming.set(false)">cancel</button>
          </form>
          @if (wrong()) {
            <span class="stop small" role="alert">{{ wrong() }}</span>
          }
        } @else {
          <button type="button" matButton class="plain small" (click)="naming.set(true)">Save this view</button>
        }
      }
    </div>
  `,
  styles: `
    .views {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
      padding: 6px 0 0;
    }
    .chip {
      display: inline-flex;
      gap: 6px;
    }
    form {
      display: flex;
      gap: 6px;
      align-items: center;
    }
    form .text {
      width: 160px;
      padding: 2px 8px;
    }
  `,
})
export class SavedViews {
  readonly area = input.required<string>();
  /** The filters now; empty where there are none. */
  readonly query = input.required<string>();
  readonly chosen = output<string>();
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly naming = signal(false);
  protected readonly name = signal('');
  protected readonly wrong = signal('');
  protected readonly views = resource({
    params: () =>
      this.session.businessId() ? { businessId: this.session.businessId(), area: this.area() } : undefined,
    loader: ({ params }) => this.api.call(listViews, { params }),
  });

  protected async save(): Promise<void> {
    this.wrong.set('');
    try {
      await this.api.call(saveView, {
        params: { businessId: this.session.businessId(), area: this.area() },
        body: { name: this.name(), query: this.query() },
      });
      this.naming.set(false);
      this.name.set('');
      this.views.reload();
    } catch (error) {
      this.wrong.set((error as ApiProblem).message);
    }
  }

  protected async drop(id: string): Promise<void> {
    try {
      await this.api.call(dropView, { params: { businessId: this.session.businessId(), area: this.area(), id } });
      this.views.reload();
    } catch (error) {
      this.say.problem(error);
    }
  }
}
