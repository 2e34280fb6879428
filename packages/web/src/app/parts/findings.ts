import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { DECLINE_MENDS, FINDING_SEVERITY, type Finding } from '@long-gate/core';

export type NumberedFinding = Finding & { no: number };

/** Gives findings their numbers, in the order of the page's fields. */
export function numbered(findings: readonly Finding[], order: readonly string[]): NumberedFinding[] {
  const place = (f: Finding): number => {
    const i = order.findIndex((o) => f.field === o || f.field.startsWith(`${o}.`));
    return i < 0 ? order.length : i;
  };
  return [...findings]
    .sort(
      (a, b) => place(a) - place(b) || a.field.localeCompare(b.field) || (a.span?.start ?? 0) - (b.span?.start ?? 0),
    )
    .map((f, i) => ({ ...f, no: i + 1 }));
}

/** The findings of one field, in the margin beside it. */
@Component({
  selector: 'lg-findings',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (f of mine(); track f.no) {
      <div class="finding">
        <div class="strong" [class]="f.severity === 'block' ? 'stop' : f.severity === 'risk' ? 'hold' : 'note'">
          {{ f.no }}
          {{ f.severity === 'block' ? 'Must be mended' : f.severity === 'risk' ? 'A risk' : 'Better' }}
        </div>
        <div>{{ f.message }}</div>
        <div class="note">Mend: {{ f.fix }}</div>
        @if (mendable()(f)) {
          <button
            type="button"
            matButton
            class="plain"
            [attr.aria-label]="'Mend it: ' + f.message"
            (click)="mend.emit(f)"
          >
            Mend it
          </button>
        }
      </div>
    }
    @for (r of reasons(); track r.code + r.message) {
      <div class="finding">
        <div class="strong" [class]="r.mended ? 'pass' : 'stop'">{{ sayer() }} said</div>
        <div>
          {{ r.message }}
          @if (r.mended) {
            <span class="pass">{{ r.mended }}</span>
          }
        </div>
        @if (r.mend) {
          <div class="note">Mend: {{ r.mend }}</div>
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: block;
      font-size: 13px;
    }
    .finding {
      padding: 0 0 10px;
    }
  `,
})
export class Findings {
  readonly findings = input.required<readonly NumberedFinding[]>();
  readonly field = input.required<string>();
  /** Who answered the last submission. */
  readonly sayer = input('The registrar');
  readonly answers = input<readonly { field: string; code: string; message: string }[]>([]);
  /** Whether a field is as it was when that answer was given; null where that is not known. */
  readonly untouched = input<(field: string) => boolean | null>(() => null);
  /** Which of them one click mends. */
  readonly mendable = input<(finding: Finding) => boolean>(() => false);
  readonly mend = output<Finding>();
  protected readonly mine = computed(() => this.findings().filter((f) => f.field === this.field()));
  /** The last decline, in the registrar's own words, also where our check says the same; what that finds no more is mended. */
  protected readonly reasons = computed(() =>
    this.answers()
      .filter((r) => r.field === this.field())
      .map((r) => {
        const ours = this.mine().some((f) => f.code === r.code);
        const as = this.untouched()(r.field);
        // What only a reviewer saw, our check cannot call mended; that it was changed can be said.
        const mended =
          ours || as === true ? '' : as === false ? 'Changed since.' : r.code in FINDING_SEVERITY ? 'Mended.' : '';
        // Where our check speaks of the same, its mend stands there already.
        return { ...r, mended, mend: mended !== '' || ours ? '' : (DECLINE_MENDS[r.code] ?? '') };
      }),
  );
}
