import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { addBusiness } from '@long-gate/contracts';
import { LEGAL_FORMS, type LegalForm } from '@long-gate/core';
import { Api, type ApiProblem } from '../../api/api';
import { checkWith, problemsInto } from '../../parts/schema-form';
import { SessionFacade } from '../../state/session.facade';

@Component({
  selector: 'lg-new-business',
  imports: [MatInputModule, MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Add a business</h2>
    <p class="soft">A legal entity that sends. Its contacts and consent never cross to another.</p>
    <form (submit)="add(); $event.preventDefault()">
      <div class="field" [class.wrong]="errors()['legalName']">
        <label for="legalName">Legal name <span>as in the tax record</span></label
        ><mat-form-field
          ><input matInput id="legalName" [value]="draft().legalName" (input)="set('legalName', $event)"
        /></mat-form-field>
        @if (errors()['legalName']) {
          <p class="error" role="alert">{{ errors()['legalName'] }}</p>
        }
      </div>
      <div class="field" [class.wrong]="errors()['nameLine']">
        <label for="nameLine">Name line <span>opens each text</span></label
        ><mat-form-field
          ><input matInput id="nameLine" [value]="draft().nameLine" (input)="set('nameLine', $event)"
        /></mat-form-field>
        @if (errors()['nameLine']) {
          <p class="error" role="alert">{{ errors()['nameLine'] }}</p>
        }
      </div>
      <div class="field">
        <label for="form">Legal form</label
        ><mat-form-field
          ><select matNativeControl id="form" (change)="set('form', $event)">
            @for (f of forms; track f) {
              <option [value]="f" [selected]="f === draft().form">{{ f }}</option>
            }
          </select></mat-form-field
        >
      </div>
      @if (errors()['']) {
        <p class="error" role="alert">{{ errors()[''] }}</p>
      }
      <button type="submit" matButton="filled">Add the business</button>
    </form>
  `,
  styles: `
    form {
      max-width: 380px;
      margin-top: 14px;
    }
  `,
})
export class NewBusiness {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly session = inject(SessionFacade);
  protected readonly forms = LEGAL_FORMS;
  protected readonly draft = signal<{ legalName: string; nameLine: string; form: LegalForm }>({
    legalName: '',
    nameLine: '',
    form: 'private company',
  });
  protected readonly errors = signal<Record<string, string>>({});

  protected set(key: 'legalName' | 'nameLine' | 'form', event: Event): void {
    this.draft.update((d) => ({ ...d, [key]: (event.target as HTMLInputElement).value }));
  }
  protected async add(): Promise<void> {
    const wrong = checkWith(addBusiness.body, this.draft());
    this.errors.set(wrong);
    if (Object.keys(wrong).length > 0) return;
    try {
      const b = await this.api.call(addBusiness, { body: this.draft() });
      await this.session.load();
      await this.router.navigate(['/b', b.id, 'settings', 'business']);
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
    }
  }
}
