import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { setUp } from '@long-gate/contracts';
import { LEGAL_FORMS, type LegalForm } from '@long-gate/core';
import { Api, ApiProblem } from '../api/api';
import { checkWith, problemsInto } from '../parts/schema-form';
import { SessionFacade } from '../state/session.facade';

/** The first visit: the first administrator and the first business. */
@Component({
  selector: 'lg-set-up',
  imports: [MatInputModule, MatButtonModule, ReactiveFormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './welcome.scss',
  template: `
    <main class="sheet">
      <div class="brand"><img src="mark.svg" width="34" height="18" alt="" />Long Gate</div>
      <h1>The first administrator and business</h1>
      <form [formGroup]="form" (ngSubmit)="send()">
        @for (f of fields; track f.path) {
          <div class="field" [class.wrong]="errors()[f.path]">
            <label [for]="f.path"
              >{{ f.label }}
              @if (f.hint) {
                <span>{{ f.hint }}</span>
              }
            </label>
            @if (f.path === 'business.form') {
              <mat-form-field
                ><select matNativeControl [id]="f.path" [formControl]="form.controls.business.controls.form">
                  @for (o of forms; track o) {
                    <option [value]="o">{{ o }}</option>
                  }
                </select></mat-form-field
              >
            } @else {
              <mat-form-field
                ><input
                  matInput
                  [id]="f.path"
                  [type]="f.type"
                  [formControl]="control(f.path)"
                  [attr.autocomplete]="f.auto"
              /></mat-form-field>
            }
            @if (errors()[f.path]) {
              <p class="error" role="alert">{{ errors()[f.path] }}</p>
            }
          </div>
        }
        @if (errors()['']) {
          <p class="error" role="alert">{{ errors()[''] }}</p>
        }
        <button type="submit" matButton="filled" [disabled]="busy()">Set up</button>
      </form>
    </main>
  `,
})
export class SetUp {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly session = inject(SessionFacade);
  private readonly build = inject(NonNullableFormBuilder);
  protected readonly forms = LEGAL_FORMS;
  protected readonly form = this.build.group({
    name: '',
    email: '',
    password: '',
    business: this.build.group({ legalName: '', nameLine: '', form: this.build.control<LegalForm>('private company') }),
  });
  protected readonly fields = [
    { path: 'name', label: 'Your name', type: 'text', hint: '', auto: 'name' },
    { path: 'email', label: 'Your e-mail', type: 'email', hint: '', auto: 'username' },
    { path: 'password', label: 'Password', type: 'password', hint: 'at least 10 characters', auto: 'new-password' },
    {
      path: 'business.legalName',
      label: 'Legal name of the business',
      type: 'text',
      hint: 'as in the tax record',
      auto: 'off',
    },
    { path: 'business.nameLine', label: 'Name line', type: 'text', hint: 'opens each text', auto: 'off' },
    { path: 'business.form', label: 'Legal form', type: 'text', hint: '', auto: 'off' },
  ] as const;
  protected readonly errors = signal<Record<string, string>>({});
  protected readonly busy = signal(false);

  protected control(path: string) {
    return this.form.get(path) as ReturnType<typeof this.build.control<string>>;
  }

  protected async send(): Promise<void> {
    const body = this.form.getRawValue();
    const wrong = checkWith(setUp.body, body);
    this.errors.set(wrong);
    if (Object.keys(wrong).length > 0) return;
    this.busy.set(true);
    try {
      this.session.take(await this.api.call(setUp, { body }));
      await this.router.navigateByUrl('/');
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
    } finally {
      this.busy.set(false);
    }
  }
}
