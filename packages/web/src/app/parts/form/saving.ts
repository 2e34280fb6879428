import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MomentPipe } from '../format';
import { valueInWords } from '../value-in-words';
import type { Autosave } from './autosave';
import type { Conflict } from './merge';

/** Says beside the title whether what was typed is saved. */
@Component({
  selector: 'lg-saved',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span class="soft small" role="status">{{ of().words() }}</span>`,
})
export class Saved {
  readonly of = input.required<{ words(): string }>();
}

/** What two people changed at once, field by field: mine and theirs, for the person to choose. */
@Component({
  selector: 'lg-conflicts',
  imports: [MatButtonModule, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (of().conflicts().length > 0) {
      <section class="problem" role="alert" aria-label="Changed by two people">
        <p>
          <span class="strong">{{ who() }} changed the same{{ when() ? ' at ' : '' }}</span
          >{{ when() | moment: 'short' }}. Choose what shall stand; nothing you typed is lost.
        </p>
        @for (c of of().conflicts(); track c.field) {
          <div class="conflict">
            <span class="strong">{{ nameOf(c) }}</span>
            <div>
              <span class="soft small">yours</span>
              <p>{{ show(c.mine) }}</p>
              <button type="button" matButton="outlined" (click)="of().choose(c.field, 'mine')">Keep yours</button>
            </div>
            <div>
              <span class="soft small">theirs</span>
              <p>{{ show(c.theirs) }}</p>
              <button type="button" matButton="outlined" (click)="of().choose(c.field, 'theirs')">Take theirs</button>
            </div>
          </div>
        }
      </section>
    }
  `,
  styles: `
    .conflict {
      display: grid;
      grid-template-columns: 120px minmax(0, 1fr) minmax(0, 1fr);
      gap: 6px 16px;
      margin-top: 10px;
      padding-top: 8px;
      border-top: 1px solid var(--hairline);
    }
    p {
      overflow-wrap: anywhere;
      white-space: pre-wrap;
      margin-bottom: 6px;
    }
    @media (max-width: 600px) {
      .conflict {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class Conflicts<T extends object> {
  readonly of = input.required<Autosave<T>>();
  /** What each field is called. */
  readonly names = input<Readonly<Record<string, string | undefined>>>({});
  protected readonly who = computed(() => this.of().theirs()?.by ?? 'Somebody else');
  protected readonly when = computed(() => this.of().theirs()?.at ?? null);

  protected nameOf(c: Conflict<T>): string {
    return this.names()[c.field] ?? c.field;
  }

  protected show(value: unknown): string {
    if (value === null || value === undefined || value === '') return '(empty)';
    if (Array.isArray(value)) return value.length === 0 ? '(none)' : value.map((v) => this.show(v)).join('\n');
    return valueInWords(value);
  }
}
