import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { FormControl } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { askEvidence, ASKERS, type Asker, type EvidenceOnFile } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { DateField } from '../../parts/form/date-field';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { CountedPipe, CountPipe, MomentPipe } from '../../parts/format';
import { PageTitle } from '../../parts/page-title';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { AskEvidenceStore } from './ask-evidence.store';

const ASKER_WORDS: Record<Asker, string> = {
  carrier: 'a carrier or aggregator',
  regulator: 'an authority',
  lawyer: 'a lawyer or a court',
  'the person': 'the person themselves',
  'our own file': 'nobody: for our own file',
};
/** What stands on file for a purpose, and by what. */
const restsOn = ({ state, by }: EvidenceOnFile['promotional']): string => {
  if (by === null) return 'nothing on file';
  const words = by.disclosed ? '' : ', without the words';
  return state === by.kind || state === 'granted' ? `${by.kind} by ${by.how}${words}` : `${state}, by ${by.how}`;
};

/** Notes who asks for proof and makes the pack: the numbers are pasted, and what is proven of each is said before. */
@Component({
  selector: 'lg-ask-evidence',
  imports: [
    Cell,
    ChoiceField,
    CountedPipe,
    CountPipe,
    DateField,
    Faults,
    Form,
    MatButtonModule,
    MomentPipe,
    PageTitle,
    RouterLink,
    Table,
    TextField,
  ],
  providers: [AskEvidenceStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="makes an evidence pack" />
          <a matButton="outlined" [routerLink]="['/b', store.session.businessId(), 'consent', 'evidence']">Not now</a>
        </div>
        <div class="pair">
          <form [lgForm]="form" (sent)="make()">
            <lg-choice-field [control]="form.controls.asker" label="Who asks" name="asker" [choices]="askers" />
            @if (asked()) {
              <lg-text-field
                [control]="form.controls.who"
                label="Name"
                [hint]="form.controls.asker.value === 'the person' ? 'if you like' : ''"
                name="who"
              />
              <lg-text-field
                [control]="form.controls.reference"
                label="Their reference"
                hint="if there is one"
                name="reference"
              />
              <lg-date-field
                label="To be answered by"
                name="dueOn"
                [value]="form.controls.dueOn.value ?? ''"
                (changed)="form.controls.dueOn.setValue($event || null)"
              />
            }
            <lg-text-field
              [control]="form.controls.question"
              label="What it is for"
              hint="stands in the pack"
              name="question"
              [lines]="2"
            />
            <lg-text-field
              [control]="form.controls.numbers"
              label="Numbers"
              hint="pasted as they are, up to 2,000"
              name="numbers"
              [lines]="5"
            />
            <lg-faults [form]="form" />
            <button type="submit" matButton="filled" [disabled]="form.busy()">
              {{ form.busy() ? 'Making…' : 'Make the pack' }}
            </button>
            <p class="soft small after">
              It holds what these people wrote, so it is kept here for thirty days only. That it was made, and each time
              it is saved, stands on the audit trail.
            </p>
          </form>
          <section aria-label="What is on file" aria-live="polite">
            @if (store.review.error(); as e) {
              <p class="stop" role="alert">{{ e.message }}</p>
            } @else if (store.onFile(); as r) {
              <h2>What is on file</h2>
              @if (r.items.length > 0) {
                <p>
                  Of {{ r.items.length | counted: 'number' }}:
                  <span class="strong">{{ proven('informational') | count }}</span> proven for notices,
                  <span class="strong">{{ proven('promotional') | count }}</span> for offers.
                  @if (nothing() > 0) {
                    <span class="hold">{{ nothing() | count }} with nothing on file at all; the pack says so.</span>
                  }
                </p>
                <lg-table label="What is on file" [rows]="r.items" [columns]="columns" [key]="id">
                  <ng-template lgCell="informational" [of]="r.items" let-x>
                    <span [class.pass]="x.informational.proven">{{ rests(x.informational) }}</span>
                    @if (x.informational.by; as by) {
                      <span class="soft small on">{{ by.happenedAt | moment: 'day' }}</span>
                    }
                  </ng-template>
                  <ng-template lgCell="promotional" [of]="r.items" let-x>
                    <span [class.pass]="x.promotional.proven">{{ rests(x.promotional) }}</span>
                    @if (x.promotional.by; as by) {
                      <span class="soft small on">{{ by.happenedAt | moment: 'day' }}</span>
                    }
                  </ng-template>
                  <ng-container none>No number yet.</ng-container>
                </lg-table>
              }
              @if (r.unread.length > 0) {
                <h3>No telephone numbers</h3>
                <ul>
                  @for (u of r.unread; track $index) {
                    <li>
                      <span class="mono">{{ u.raw }}</span> <span class="stop">{{ u.why }}</span>
                    </li>
                  }
                </ul>
              }
            } @else {
              <p class="soft">What is proven of each number stands here as soon as you paste them.</p>
            }
          </section>
        </div>
      </div>
    </div>
  `,
  styles: `
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 400px) minmax(0, 1fr);
      gap: 36px;
    }
    .on {
      margin-left: 6px;
    }
    .after {
      margin-top: 10px;
    }
    h2 {
      margin: 0 0 6px;
    }
    @media (max-width: 900px) {
      .pair {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class AskEvidencePage {
  protected readonly store = inject(AskEvidenceStore);
  private readonly router = inject(Router);
  protected readonly rests = restsOn;
  protected readonly askers = ASKERS.map((value) => ({ value, label: ASKER_WORDS[value] }));
  protected readonly form = new CheckedForm(
    {
      asker: new FormControl<Asker>('our own file', { nonNullable: true }),
      who: text(),
      reference: text(),
      question: text(),
      dueOn: new FormControl<string | null>(null),
      numbers: text(this.store.named),
    },
    askEvidence.body,
  );
  private readonly asker = readOf(
    () => this.form.controls.asker,
    (c) => c.value,
  );
  private readonly numbers = readOf(
    () => this.form.controls.numbers,
    (c) => c.value,
  );
  protected readonly asked = computed(() => this.asker() !== 'our own file');
  protected readonly nothing = computed(
    () => this.store.onFile()?.items.filter((x) => x.events === 0 && x.texts === 0).length ?? 0,
  );
  protected readonly id = (x: EvidenceOnFile): string => x.e164;
  protected readonly columns: readonly Column<EvidenceOnFile>[] = [
    { id: 'number', head: 'Number', width: 130, text: (x) => formatPhone(x.e164), face: 'mono' },
    { id: 'name', head: 'Contact', least: 90, text: (x) => x.name || '–' },
    { id: 'informational', head: 'Notices', least: 150 },
    { id: 'promotional', head: 'Offers', least: 150 },
    { id: 'events', head: 'Events', width: 66, right: true, text: (x) => x.events.toLocaleString('en-US') },
    { id: 'texts', head: 'Texts', width: 66, right: true, text: (x) => x.texts.toLocaleString('en-US') },
  ];

  constructor() {
    effect((onCleanup) => {
      const pasted = this.numbers();
      const wait = setTimeout(() => untracked(() => this.store.pasted.set(pasted)), 300);
      onCleanup(() => {
        clearTimeout(wait);
      });
    });
  }

  protected proven(purpose: 'informational' | 'promotional'): number {
    return this.store.onFile()?.items.filter((x) => x[purpose].proven).length ?? 0;
  }

  protected async make(): Promise<void> {
    const made = await this.form.send((wish) => this.store.ask(wish));
    if (!made) return;
    await this.router.navigate(['/b', this.store.session.businessId(), 'consent', 'evidence'], {
      queryParams: { open: made.id },
    });
  }
}
