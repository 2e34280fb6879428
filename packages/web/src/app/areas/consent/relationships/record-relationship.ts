import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { recordRelationship } from '@long-gate/contracts';
import { RELATIONSHIP_KINDS, type RelationshipKind } from '@long-gate/core';
import { ApiProblem } from '../../../api/api';
import { FileButton } from '../../../parts/file-button';
import { CheckedForm, faultOf } from '../../../parts/form/checked-form';
import { ChoiceField } from '../../../parts/form/choice-field';
import { readOf } from '../../../parts/form/control-state';
import { text } from '../../../parts/form/controls';
import { DateField } from '../../../parts/form/date-field';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { CountedPipe, CountPipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { RefusedLines } from '../../../parts/refused-lines';
import { RelationshipsStore } from './relationships.store';

const KIND_WORDS: Record<RelationshipKind, string> = {
  purchase: 'a purchase: eighteen months from its day',
  inquiry: 'an inquiry: three months from its day',
};

/** Records a purchase or an inquiry, or a whole file of them. */
@Component({
  selector: 'lg-record-relationship',
  imports: [
    ChoiceField,
    CountedPipe,
    CountPipe,
    DateField,
    Faults,
    FileButton,
    Form,
    MatButtonModule,
    MatProgressBarModule,
    PageTitle,
    RefusedLines,
    RouterLink,
    TextField,
  ],
  providers: [RelationshipsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="records purchases and inquiries" />
          @if (!store.handing()) {
            <a
              matButton="outlined"
              [routerLink]="['/b', store.session.businessId(), 'consent', 'suppression', 'relationships']"
              >{{ store.brought() ? 'Look at them' : 'Not now' }}</a
            >
          }
        </div>
        @if (!store.session.isAdministrator()) {
          <div class="empty">
            <h2>An administrator records them</h2>
            <p>They change who can be texted. Ask an administrator of the business.</p>
          </div>
        } @else {
          <div class="columns">
            <form [lgForm]="form" (sent)="record()">
              <h2>One</h2>
              <lg-text-field [control]="form.controls.phone" label="Number" name="phone" inputmode="tel" />
              <lg-choice-field [control]="form.controls.kind" label="What it was" name="kind" [choices]="kinds" />
              <lg-date-field
                label="The day it happened"
                name="happenedOn"
                [wrong]="dayWrong()"
                [value]="form.controls.happenedOn.value"
                (changed)="form.controls.happenedOn.setValue($event)"
              />
              <lg-text-field
                [control]="form.controls.reference"
                label="What it was about"
                hint="a ticket’s number, say; if you like"
                name="reference"
              />
              <lg-faults [form]="form" />
              <button type="submit" matButton="filled" [disabled]="form.busy()">Record it</button>
              <p class="soft small after">
                It excepts them from do-not-call registries until its time is over, they say no, or the number is
                somebody else’s. It is not consent.
              </p>
            </form>
            <section aria-label="A file of them">
              <h2>A file of them</h2>
              <p>
                Text or CSV of any size. On each line the number, the day, purchase or inquiry, and what it was about,
                if you like:
              </p>
              <p class="mono small line">201-555-0142, 2027-01-04, purchase, ticket 4411</p>
              @if (store.handing(); as h) {
                <p class="strong">Stay on this page until the file is read.</p>
                <mat-progress-bar mode="determinate" [value]="100 * h.share" aria-label="Lines read" />
                <p role="status">{{ h.so?.lines ?? 0 | counted: 'line' }} read</p>
              } @else {
                <lg-file-button accept=".txt,.csv,.tsv,text/plain,text/csv" (chosen)="bring($event)">{{
                  store.brought() ? 'Another file' : 'Choose the file'
                }}</lg-file-button>
              }
              @if (wrong(); as w) {
                <p class="stop" role="alert">
                  {{ w }}
                  @if (store.brought(); as so) {
                    {{ so.lines | counted: 'line' }} of it came and stay. Choose the same file again for the rest.
                  }
                </p>
              } @else if (store.handing() === null) {
                @if (store.brought(); as so) {
                  <p role="status">
                    <span class="strong">{{ so.taken | counted: 'line' }} of “{{ name() }}” recorded</span>;
                    {{ so.known | count }} on record already,
                    <span [class.hold]="so.refused > 0">{{ so.refused | count }} not taken</span>.
                  </p>
                  @if (so.refusals.length > 0) {
                    <lg-refused-lines [all]="so.refused" [first]="so.refusals" />
                  }
                }
              }
            </section>
          </div>
        }
      </div>
    </div>
  `,
  styles: `
    form {
      max-width: 460px;
    }
    h2 {
      margin: 0 0 10px;
    }
    .after {
      margin-top: 12px;
    }
    .line {
      margin: 6px 0 12px;
    }
  `,
})
export class RecordRelationshipPage {
  protected readonly store = inject(RelationshipsStore);
  private readonly router = inject(Router);
  protected readonly kinds = RELATIONSHIP_KINDS.map((value) => ({ value, label: KIND_WORDS[value] }));
  /** The file that was brought in last. */
  protected readonly name = signal('');
  protected readonly wrong = signal('');
  protected readonly form = new CheckedForm(
    {
      phone: text(),
      kind: new FormControl<RelationshipKind>('purchase', { nonNullable: true }),
      happenedOn: text(),
      reference: text(),
    },
    recordRelationship.body,
  );
  protected readonly dayWrong = readOf(() => this.form.controls.happenedOn, faultOf);

  protected async record(): Promise<void> {
    const made = await this.form.send((wish) => this.store.record(wish));
    if (!made) return;
    this.store.acting.done('It is on record.');
    await this.router.navigate(['/b', this.store.session.businessId(), 'consent', 'suppression', 'relationships'], {
      queryParams: { open: made.id },
    });
  }

  protected async bring(file: File): Promise<void> {
    this.name.set(file.name);
    this.wrong.set('');
    try {
      await this.store.bring(file);
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      this.wrong.set(error.message);
    }
  }
}
