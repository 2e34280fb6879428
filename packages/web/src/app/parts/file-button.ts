import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/** A button by which one file is chosen. The same file can be chosen again, once it has been mended. */
@Component({
  selector: 'lg-file-button',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button type="button" matButton="outlined" [disabled]="disabled()" (click)="field.click()"><ng-content /></button>
    <input #field type="file" hidden [accept]="accept()" (change)="take(field)" />
  `,
})
export class FileButton {
  /** Kinds of files the dialog offers: MIME types and endings, comma-joined. */
  readonly accept = input.required<string>();
  readonly disabled = input(false);
  readonly chosen = output<File>();

  protected take(field: HTMLInputElement): void {
    const file = field.files?.[0];
    field.value = '';
    if (file) this.chosen.emit(file);
  }
}
