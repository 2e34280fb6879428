import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { ChoiceWord } from './chooser/choice-word';
import type { Choice } from './form/choice-field';

/** One thing a list can be narrowed by, of more values than a row of toggles has room for. */
@Component({
  selector: 'lg-choice-facet',
  imports: [ChoiceWord],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span>{{ label() }}</span>
    <lg-choice-word
      small
      none="any"
      [label]="name() || label()"
      [choices]="values()"
      [chosen]="chosen()"
      (picked)="picked.emit($event)"
    />
  `,
  styles: `
    :host {
      display: flex;
      gap: 10px;
      align-items: baseline;
    }
    span {
      color: var(--ink-soft);
    }
  `,
})
export class ChoiceFacet {
  readonly label = input.required<string>();
  /** What it is, for a screen reader, where the label is short. */
  readonly name = input('');
  readonly values = input.required<readonly Choice[]>();
  readonly chosen = input<string | undefined>();
  /** Null for any. */
  readonly picked = output<string | null>();
}
