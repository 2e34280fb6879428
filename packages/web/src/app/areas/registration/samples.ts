import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { FormArray, FormControl } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import type { Finding } from '@long-gate/core';
import { segmentsOf } from '../../parts/segments-of';
import { Findings, type NumberedFinding } from '../../parts/findings';
import { text } from '../../parts/form/controls';
import { TextField } from '../../parts/form/text-field';
import { MarkedText } from '../../parts/marked-text';

/** Sample messages, each with its findings beside it; more are written, or taken from what was sent. */
@Component({
  selector: 'lg-samples',
  imports: [Findings, MarkedText, MatButtonModule, MatMenuModule, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (s of samples().controls; track s; let i = $index) {
      <div class="pair">
        <div>
          <lg-text-field
            [control]="s"
            [label]="'Sample ' + (i + 1)"
            [hint]="segments(s.value)"
            [name]="at() + 'sample' + i"
            [lines]="2"
            [troubled]="of(i).length > 0"
          />
          @if (!frozen() && samples().length > 1) {
            <button type="button" matButton class="plain small" (click)="samples().removeAt(i)">
              Take sample {{ i + 1 }} away
            </button>
          }
          @if (marked(i).length > 0) {
            <lg-marked-text class="marked" [text]="s.value" [findings]="marked(i)" />
          }
        </div>
        <lg-findings
          [findings]="findings()"
          [field]="'samples.' + i"
          [answers]="answers()"
          [untouched]="untouched()"
          [mendable]="mendable()"
          (mend)="mend.emit($event)"
        />
      </div>
    }
    @if (!frozen() && samples().length < most()) {
      <p>
        <button type="button" matButton class="plain" (click)="add('')">Add a sample</button>
        @if (sendable().length > 0) {
          <button type="button" matButton class="plain" [matMenuTriggerFor]="texts">Take one that was sent…</button>
          <mat-menu #texts="matMenu">
            @for (t of sendable(); track t) {
              <button mat-menu-item type="button" (click)="take(t)">{{ t }}</button>
            }
          </mat-menu>
        }
      </p>
    }
  `,
  styles: `
    button.small {
      margin-bottom: 8px;
    }
  `,
})
export class Samples {
  readonly samples = input.required<FormArray<FormControl<string>>>();
  readonly findings = input.required<readonly NumberedFinding[]>();
  readonly most = input.required<number>();
  readonly frozen = input(false);
  /** Stands before the names of the fields. */
  readonly at = input('');
  /** Texts that were sent and could be samples. */
  readonly sendable = input<readonly string[]>([]);
  readonly answers = input<readonly { field: string; code: string; message: string }[]>([]);
  readonly untouched = input<(field: string) => boolean | null>(() => null);
  readonly mendable = input<(finding: Finding) => boolean>(() => false);
  readonly mend = output<Finding>();

  protected of(i: number): readonly NumberedFinding[] {
    return this.findings().filter((f) => f.field === `samples.${i}`);
  }
  protected marked(i: number): NumberedFinding[] {
    return this.of(i).filter((f) => f.span);
  }
  protected segments(words: string): string {
    return segmentsOf(words);
  }
  protected add(words: string): void {
    this.samples().push(text(words));
  }
  /** Into the first empty sample, or a further one. */
  protected take(words: string): void {
    const empty = this.samples().controls.find((s) => s.value.trim() === '');
    if (empty) empty.setValue(words);
    else this.add(words);
  }
}
