import { ChangeDetectionStrategy, Component, effect, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { saveView } from '@long-gate/contracts';
import { CheckedForm } from './form/checked-form';
import { Faults } from './form/faults';
import { Form } from './form/form';
import { TextField } from './form/text-field';
import { Icon } from './icon';
import { SavedViewsStore } from './saved-views.store';
import { text } from './form/controls';

/** Filters of a list kept under a name, for everybody of the business. */
@Component({
  selector: 'lg-saved-views',
  imports: [Faults, Form, Icon, TextField, MatButtonModule],
  providers: [SavedViewsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="views" role="group" aria-label="Saved views">
      @for (v of store.views(); track v.id) {
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
          @if (store.session.mayEdit()) {
            <button
              type="button"
              matButton
              class="plain"
              [attr.aria-label]="'Drop the view ' + v.name"
              (click)="store.drop(v.id)"
            >
              <lg-icon sign="close" />
            </button>
          }
        </span>
      }
      @if (query() && store.session.mayEdit()) {
        @if (naming()) {
          <form class="tight" [lgForm]="form" (sent)="save()">
            <lg-text-field [control]="form.controls.name" label="Name of the view" name="view-name" [most]="40" />
            <button type="submit" matButton="outlined" [disabled]="form.busy()">Save</button>
            <button type="button" matButton class="plain" (click)="naming.set(false)">cancel</button>
            <lg-faults [form]="form" />
          </form>
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
  `,
})
export class SavedViews {
  readonly area = input.required<string>();
  /** The filters now; empty where there are none. */
  readonly query = input.required<string>();
  readonly chosen = output<string>();
  protected readonly store = inject(SavedViewsStore);
  protected readonly naming = signal(false);
  protected readonly form = new CheckedForm({ name: text() }, saveView.body.pick({ name: true }));

  constructor() {
    effect(() => {
      this.store.of(this.area());
    });
  }

  protected async save(): Promise<void> {
    if (!(await this.form.send((body) => this.store.save({ ...body, query: this.query() })))) return;
    this.naming.set(false);
    this.form.group.reset();
  }
}
