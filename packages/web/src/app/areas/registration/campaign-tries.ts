import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import type { CampaignBodyValue } from '@long-gate/contracts';
import { MomentPipe } from '../../parts/format';
import { differencesBetween } from './campaign-words';
import { TriesStore } from './tries.store';

/** The draft beside what was submitted of it. */
const DRAFT = 'draft';

/** Each submission with its decision, and any two versions side by side, field by field. */
@Component({
  selector: 'lg-campaign-tries',
  imports: [MatInputModule, MomentPipe],
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
        <div class="pair">
          @for (side of sides; track side.name) {
            <mat-form-field>
              <select
                matNativeControl
                [attr.aria-label]="side.name"
                [value]="side.chosen()"
                (change)="side.chosen.set($any($event.target).value)"
              >
                @for (v of versions(); track v.key) {
                  <option [value]="v.key" [selected]="v.key === side.chosen()">{{ v.label }}</option>
                }
              </select>
            </mat-form-field>
          }
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
    .pair {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
    }
    .changed {
      margin: 8px 0;
      padding: 0;
      list-style: none;
      overflow-wrap: anywhere;
    }
    del {
      margin-right: 4px;
    }
  `,
})
export class CampaignTries {
  /** What stands on the page now. */
  readonly now = input.required<CampaignBodyValue>();
  /** The page may say other than what was submitted last. */
  readonly editable = input(false);
  protected readonly store = inject(TriesStore);
  protected readonly versions = computed(() => [
    ...(this.editable() ? [{ key: DRAFT, label: 'as it is now', body: this.now() }] : []),
    ...this.store.tries().map((t) => ({ key: String(t.attempt), label: `try ${t.attempt}`, body: t.body })),
  ]);
  private readonly keys = computed(() =>
    this.versions()
      .map((v) => v.key)
      .join(),
  );
  protected readonly sides = [
    { name: 'Compare', chosen: linkedSignal({ source: this.keys, computation: (k) => k.split(',')[1] ?? '' }) },
    { name: 'with', chosen: linkedSignal({ source: this.keys, computation: (k) => k.split(',')[0] ?? '' }) },
  ];
  protected readonly differences = computed(() => {
    const of = (key: string | undefined) => this.versions().find((v) => v.key === key)?.body;
    const [a, b] = this.sides.map((s) => of(s.chosen()));
    return a && b ? differencesBetween(a, b) : [];
  });
}
