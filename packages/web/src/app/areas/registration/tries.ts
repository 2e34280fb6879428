import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ChoiceField } from '../../parts/form/choice-field';
import { text } from '../../parts/form/controls';
import { MomentPipe } from '../../parts/format';
import { differencesBetween } from './filing-words';
import { TriesStore } from './tries.store';

/** The draft beside what was submitted of it. */
const DRAFT = 'draft';

/** Each submission with its decision, and any two versions side by side, field by field. */
@Component({
  selector: 'lg-tries',
  imports: [ChoiceField, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.tries().length > 0) {
      <h3>Tries</h3>
      <ol>
        @for (t of store.tries(); track t.attempt) {
          <li>
            <span class="strong">Try {{ t.attempt }}</span>
            <span [class]="t.state === 'registered' ? 'pass' : t.state === 'declined' ? 'stop' : 'hold'">{{
              t.state === 'registered' ? 'approved' : t.state
            }}</span>
            <span class="soft small">submitted {{ t.submittedAt | moment: 'day' }}</span>
            @for (r of t.reasons; track r.field + r.code) {
              <div class="small">{{ r.message }}</div>
            }
          </li>
        }
      </ol>
      @if (versions().length > 1) {
        <div class="versions">
          <lg-choice-field [control]="before" label="Compare" [name]="at() + 'compare-before'" [choices]="versions()" />
          <lg-choice-field [control]="after" label="with" [name]="at() + 'compare-after'" [choices]="versions()" />
        </div>
        <ul class="changed">
          @for (d of differences(); track d.what) {
            <li>
              <span class="strong">{{ d.what }}:</span> <del class="stop">{{ d.before }}</del> {{ d.after }}
            </li>
          } @empty {
            <li class="soft">They say the same.</li>
          }
        </ul>
      }
    }
  `,
  styles: `
    h3 {
      margin: 16px 0 4px;
    }
    ol {
      padding: 0;
      margin: 0 0 10px;
      list-style: none;
    }
    ol span {
      margin-right: 6px;
    }
    .versions {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 8px;
    }
    .changed {
      margin: 8px 0;
      padding: 0;
      list-style: none;
      overflow-wrap: anywhere;
    }
    del {
      margin: 0 4px;
    }
  `,
})
export class Tries {
  /** What stands on the page now. */
  readonly now = input.required<object>();
  /** What its fields are called. */
  readonly words = input.required<Record<string, string | undefined>>();
  /** The page may say other than what was submitted last. */
  readonly editable = input(false);
  /** Stands before the names of its fields, where several filings are open. */
  readonly at = input('');
  protected readonly store = inject(TriesStore);
  protected readonly versions = computed(() => [
    ...(this.editable() ? [{ value: DRAFT, label: 'as it is now', body: this.now() }] : []),
    ...this.store.tries().map((t) => ({ value: String(t.attempt), label: `try ${t.attempt}`, body: t.body })),
  ]);
  protected readonly before = text();
  protected readonly after = text();
  private readonly chosen = [toSignal(this.before.valueChanges), toSignal(this.after.valueChanges)];
  protected readonly differences = computed(() => {
    const [a, b] = this.chosen.map((value) => this.versions().find((v) => v.value === value())?.body);
    return a && b ? differencesBetween<object>(a, b, this.words()) : [];
  });

  constructor() {
    // The last two there are, and anew when there is another.
    const keys = computed(() =>
      this.versions()
        .map((v) => v.value)
        .join(),
    );
    effect(() => {
      const [last = '', one = ''] = keys().split(',');
      this.before.setValue(one);
      this.after.setValue(last);
    });
  }
}
