import { ChangeDetectionStrategy, Component, inject, Injectable } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule } from '@angular/material/dialog';
import { MatButtonModule } from '@angular/material/button';
import { firstValueFrom } from 'rxjs';
import { text } from './form/controls';
import { readOf } from './form/control-state';
import { TextField } from './form/text-field';

export interface Question {
  title: string;
  /** One line: what it costs now and monthly, when it takes effect, what cannot be undone. */
  line: string;
  /** What it is about, to be read once more: named facts. */
  facts?: readonly { name: string; value: string }[];
  yes: string;
  no?: string;
  /** Something grave: the harmless button has the focus, and what it is about has to be written first. */
  written?: { label: string; is: string };
}

@Component({
  selector: 'lg-confirm',
  imports: [MatButtonModule, MatDialogModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2>{{ q.title }}</h2>
      <p>{{ q.line }}</p>
      @if (q.facts; as facts) {
        <dl class="facts">
          @for (f of facts; track f.name) {
            <dt>{{ f.name }}</dt>
            <dd>{{ f.value }}</dd>
          }
        </dl>
      }
      @if (q.written; as w) {
        <lg-text-field class="written" [control]="written" [label]="w.label" name="written" mono />
      }
      <div class="ends">
        <button type="button" matButton="outlined" [mat-dialog-close]="false" data-no>{{ q.no ?? 'Not now' }}</button>
        <button
          type="button"
          matButton="filled"
          [class.danger]="q.written"
          [mat-dialog-close]="true"
          [disabled]="!may()"
          data-yes
        >
          {{ q.yes }}
        </button>
      </div>
    </div>
  `,
})
export class ConfirmDialog {
  protected readonly q = inject<Question>(MAT_DIALOG_DATA);
  protected readonly written = text();
  protected readonly may = readOf(
    () => this.written,
    (c) => !this.q.written || c.value.trim() === this.q.written.is,
  );
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
      autoFocus: question.written ? '[data-no]' : '[data-yes]',
    });
    return (await firstValueFrom(ref.afterClosed())) === true;
  }
}
