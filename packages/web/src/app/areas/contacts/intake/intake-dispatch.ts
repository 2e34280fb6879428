import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { TEXT_OUTCOMES, type TextOutcome } from '@long-gate/contracts';
import { CountPipe, MomentPipe } from '../../../parts/format';
import { ChoiceField } from '../../../parts/form/choice-field';
import { text } from '../../../parts/form/controls';
import { readOf } from '../../../parts/form/control-state';
import { IntakeStore } from './intake.store';

/** The recipients of an earlier dispatch, by what became of their texts, as a source of an intake. */
@Component({
  selector: 'lg-intake-dispatch',
  imports: [ChoiceField, CountPipe, MatButtonModule, MatCheckboxModule, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (intakes.dispatches().length > 0) {
      <h2>Or the recipients of an earlier dispatch</h2>
      <div class="row-fields">
        <lg-choice-field
          [control]="dispatch"
          label="Dispatch"
          name="from-dispatch"
          none="choose one…"
          [choices]="choices()"
        />
      </div>
      @if (chosen(); as d) {
        <div role="group" aria-label="Whose texts were">
          @for (o of outcomes(); track o.key) {
            <mat-checkbox [checked]="wanted().has(o.key)" (change)="want(o.key, $event.checked)"
              >{{ o.label }} <span class="soft">{{ o.n | count }}</span></mat-checkbox
            >
          }
        </div>
        <button type="button" matButton="outlined" [disabled]="reading() || count() === 0" (click)="take()">
          {{ reading() ? 'Fetching…' : 'Read these ' + (count() | count) }}
        </button>
        <span class="soft small"
          >sent {{ d.sentAt | moment: 'day' }}; whoever is a contact already stays one and comes onto the list</span
        >
      }
    }
  `,
  styles: `
    h2 {
      margin: 18px 0 6px;
    }
    mat-checkbox {
      margin-right: 14px;
    }
    button {
      margin: 8px 8px 8px 0;
    }
  `,
})
export class IntakeDispatch {
  /** What they are, and the file of them. */
  readonly taken = output<{ name: string; content: Blob }>();
  readonly refused = output<string>();
  protected readonly intakes = inject(IntakeStore);
  protected readonly dispatch = text();
  private readonly id = readOf(
    () => this.dispatch,
    () => this.dispatch.value,
  );
  protected readonly wanted = signal<ReadonlySet<TextOutcome['key']>>(new Set(['delivered']));
  protected readonly reading = signal(false);
  protected readonly choices = computed(() => this.intakes.dispatches().map((d) => ({ value: d.id, label: d.title })));
  protected readonly chosen = computed(() => this.intakes.dispatches().find((d) => d.id === this.id()) ?? null);
  protected readonly outcomes = computed(() =>
    TEXT_OUTCOMES.map(({ key, label, states }) => ({
      key,
      label,
      states,
      n: [...states].reduce((n, s) => n + (this.chosen()?.counts[s] ?? 0), 0),
    })).filter((o) => o.n > 0),
  );
  private readonly picked = computed(() => this.outcomes().filter((o) => this.wanted().has(o.key)));
  protected readonly count = computed(() => this.picked().reduce((n, o) => n + o.n, 0));

  protected want(key: TextOutcome['key'], on: boolean): void {
    this.wanted.update((now) => new Set(on ? [...now, key] : [...now].filter((k) => k !== key)));
  }
  protected async take(): Promise<void> {
    const d = this.chosen();
    if (!d) return;
    this.reading.set(true);
    try {
      const file = await this.intakes.recipients(
        d.id,
        this.picked().flatMap((o) => o.states),
      );
      const names = this.picked().map((o) => o.label);
      this.taken.emit({ name: `${d.title}, ${names.join(', ')}.csv`, content: file });
    } catch (error) {
      this.refused.emit((error as Error).message);
    } finally {
      this.reading.set(false);
    }
  }
}
