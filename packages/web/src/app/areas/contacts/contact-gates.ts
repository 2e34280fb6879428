import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { ContactRow } from '@long-gate/contracts';
import { postLabel } from '@long-gate/core';
import { GateStrip } from '../../parts/gate-strip';

type Verdicts = ContactRow['verdicts'];
type Kind = keyof Verdicts;
/** The kinds of text that are sent out. */
export const KINDS: readonly Kind[] = ['informational', 'promotional'];
const RESULT = { pass: 'passes', hold: 'held', stop: 'stopped' };

/** The gate of one contact for each kind of text, with the post that decides. */
@Component({
  selector: 'lg-contact-gates',
  imports: [GateStrip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (k of kinds; track k) {
      <p class="kind">
        {{ k === 'informational' ? 'An informational' : 'A promotional' }} text, now:
        <span [class]="verdicts()[k].result">{{ result[verdicts()[k].result] }}</span>
      </p>
      <lg-gate-strip [answers]="verdicts()[k].answers" [large]="true" />
      <p class="small soft">{{ deciding(k) }}</p>
    }
  `,
  styles: `
    .kind {
      margin: 10px 0 2px;
    }
  `,
})
export class ContactGates {
  readonly verdicts = input.required<Verdicts>();
  protected readonly kinds = KINDS;
  protected readonly result = RESULT;

  protected deciding(kind: Kind): string {
    const { result, why, answers } = this.verdicts()[kind];
    const a = answers.find((x) => x.result === result && x.result !== 'pass');
    return a ? `Post ${a.post}, ${postLabel(a.post)}: ${why}.` : 'Every post that concerns a contact passes.';
  }
}
