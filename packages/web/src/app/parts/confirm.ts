import { ChangeDetectionStrategy, Component, inject, Injectable } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule } from '@angular/material/dialog';
import { MatButtonModule } from '@angular/material/button';
import { firstValueFrom } from 'rxjs';

export interface Question {
  title: string;
  /** One line: what it costs now and monthly, when it takes effect, what cannot be undone. */
  line: string;
  yes: string;
  no?: string;
}

@Component({
  selector: 'lg-confirm',
  imports: [MatButtonModule, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2>{{ q.title }}</h2>
      <p>{{ q.line }}</p>
      <div class="ends">
        <button type="button" matButton="outlined" [mat-dialog-close]="false">{{ q.no ?? 'Not now' }}</button>
        <button type="button" matButton="filled" [mat-dialog-close]="true" data-yes>{{ q.yes }}</button>
      </div>
    </div>
  `,
})
export class ConfirmDialog {
  protected readonly q = inject<Question>(MAT_DIALOG_DATA);
}

/** Asked before money, a deadline or something irreversible. */
@Injectable({ providedIn: 'root' })
export class Confirm {
  private readonly dialog = inject(MatDialog);

  async ask(question: Question): Promise<boolean> {
    const ref = this.dialog.open<ConfirmDialog, Question, boolean>(ConfirmDialog, {
      data: question,
      width: '480px',
      ariaLabel: question.title,
      autoFocus: '[data-yes]',
    });
    return (await firstValueFrom(ref.afterClosed())) === true;
  }
}
