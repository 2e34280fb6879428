import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** A letter as one of those who get it reads it. */
@Component({
  selector: 'lg-letter-sample',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="sample" aria-label="What one of them reads">
      <p class="soft small">To {{ letter().to }}</p>
      <p class="strong">{{ letter().subject }}</p>
      <p class="letter">{{ letter().text }}</p>
    </div>
  `,
  styles: `
    .sample {
      border: 1px solid var(--hairline);
      border-left: 3px solid var(--note);
      padding: 8px 12px;
      margin: 8px 0;
      max-height: 180px;
      overflow: auto;
    }
    .letter {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
  `,
})
export class LetterSample {
  readonly letter = input.required<{ to: string; subject: string; text: string }>();
}
