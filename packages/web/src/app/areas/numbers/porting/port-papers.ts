import { base64Of } from '../../../parts/base64-of';
import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { PortView } from '@long-gate/contracts';
import type { ApiProblem } from '../../../api/api';
import { Confirm } from '../../../parts/confirm';
import { FileButton } from '../../../parts/file-button';
import { Findings, type NumberedFinding } from '../../../parts/findings';
import { text } from '../../../parts/form/controls';
import { DateField } from '../../../parts/form/date-field';
import { MomentPipe } from '../../../parts/format';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { Unfold } from '../../../parts/unfold';
import { DayPipe } from './port-words';
import { PortStore } from './port.store';

type Paper = PortView['documents'][number];

/** The letter of authorisation and the latest bill: signed by link, or uploaded; kept sealed with their digest. */
@Component({
  selector: 'lg-port-papers',
  imports: [
    MatTooltipModule,
    Unfold,
    Cell,
    DateField,
    ReactiveFormsModule,
    FileButton,
    Table,
    MatInputModule,
    MatButtonModule,
    Findings,
    MomentPipe,
    DayPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Letter and bill</h2>
    <div class="pair">
      <div>
        <h3>Letter of authorisation</h3>
        @switch (port().letter.state) {
          @case ('none') {
            <p class="soft">Not signed yet. It is made from this request and names every number.</p>
          }
          @case ('link out') {
            <p class="hold">
              A link is out, good until {{ port().letter.linkExpiresAt | moment }}. Making another ends it.
            </p>
          }
          @case ('link ended') {
            <p class="stop">
              The link that was out has ended: what the letter says was changed after it was made. Make a new one; the
              holder has to read the letter again.
            </p>
          }
          @default {
            <p>
              <span class="pass strong">Signed</span> by {{ port().letter.signedBy }}, {{ port().letter.signedOn | day
              }}{{ port().letter.ip ? ', from ' + port().letter.ip : ', uploaded' }}.
            </p>
          }
        }
        @if (port().letter.state === 'link out' && link(); as l) {
          <p class="link">
            <mat-form-field
              ><input matInput class="mono" readonly [value]="l" aria-label="Signing link" #field
            /></mat-form-field>
          </p>
        }
        @if (editable()) {
          <p class="ends">
            <button type="button" matButton="outlined" (click)="makeLink()">Make a signing link</button>
            <a matButton="outlined" [href]="store.letterFile()" download>The letter as a PDF</a>
          </p>
          <lg-unfold>
            <span line>Upload a signed one</span>
            <div class="row-fields">
              <div class="field">
                <label for="signedBy">Signed by</label
                ><mat-form-field
                  ><input matInput id="signedBy" [formControl]="form.controls.signedBy" (change)="goOn()"
                /></mat-form-field>
              </div>
              <lg-date-field
                label="On"
                name="signedOn"
                [value]="form.controls.signedOn.value"
                (changed)="form.controls.signedOn.setValue($event); goOn()"
              />
            </div>
            <lg-file-button accept="application/pdf,image/png,image/jpeg" (chosen)="upload('letter', $event)"
              >Choose the file</lg-file-button
            >
          </lg-unfold>
        }
      </div>
      <lg-findings [findings]="findings()" field="letter" />
    </div>
    <div class="pair">
      <div>
        <h3>Latest bill</h3>
        <p class="soft">
          All pages that show name, address, account and numbers; at most 30 days old. A phone picture will do if every
          letter can be read. For a wireless number none is asked for.
        </p>
        @if (editable()) {
          <div class="row-fields">
            <lg-date-field
              label="Date printed on it"
              name="billDated"
              [value]="form.controls.billDated.value || port().billDated"
              (changed)="form.controls.billDated.setValue($event); goOn()"
            />
            <div class="field">
              <span class="label">PDF, PNG or JPEG up to 10 MB</span>
              <lg-file-button accept="application/pdf,image/png,image/jpeg" (chosen)="upload('bill', $event)"
                >Choose the bill</lg-file-button
              >
            </div>
          </div>
        }
        @if (waiting(); as w) {
          <p class="hold" role="status">
            “{{ w.file.name }}” is chosen. Fill in
            {{ w.what === 'bill' ? 'the date printed on it' : 'who signed it, and when' }}, and it is uploaded.
            <button type="button" matButton class="plain" (click)="waiting.set(null)">not this one</button>
          </p>
        }
        @if (wrong()) {
          <p class="error" role="alert">{{ wrong() }}</p>
        }
      </div>
      <lg-findings [findings]="findings()" field="bill" />
    </div>
    @if (port().documents.length > 0) {
      <lg-table label="Papers" headless [rows]="port().documents" [columns]="columns" [key]="key">
        <ng-template lgCell="name" [of]="port().documents" let-d>
          <a [href]="store.file(d.id)">{{ d.name }}</a>
        </ng-template>
        <ng-template lgCell="what" [of]="port().documents" let-d>
          {{ d.what }}, {{ size(d.size) }}, by {{ d.by }} {{ d.at | moment: 'short' }}
          @if (editable() && !(d.what === 'letter' && port().letter.state === 'signed')) {
            <button
              type="button"
              matButton
              class="plain"
              [attr.aria-label]="'Take ' + d.name + ' away'"
              (click)="drop(d)"
            >
              take away
            </button>
          }
        </ng-template>
        <ng-template lgCell="digest" [of]="port().documents" let-d>
          <span [matTooltip]="'SHA-256 ' + d.sha256" tabindex="0">{{ d.sha256.slice(0, 12) }}…</span>
        </ng-template>
      </lg-table>
      <p class="soft small">Kept encrypted. Each look is on the record.</p>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    h2 {
      margin: 18px 0 8px;
    }
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 230px;
      gap: 22px;
      margin-bottom: 10px;
    }
    .ends {
      display: flex;
      gap: 8px;
      flex-wrap: wrap;
      margin: 6px 0;
    }
    lg-unfold .row-fields {
      margin-top: 8px;
    }
    .link {
      margin: 6px 0;
    }
  `,
})
export class PortPapers {
  readonly port = input.required<PortView>();
  readonly editable = input(false);
  readonly findings = input.required<readonly NumberedFinding[]>();
  /** Saves what is typed before anything is made from it. */
  readonly before = input.required<() => Promise<boolean>>();
  protected readonly store = inject(PortStore);
  protected readonly key = (d: Paper): string => d.id;
  protected readonly columns: readonly Column<Paper>[] = [
    { id: 'name', head: 'Name' },
    { id: 'what', head: 'What it is', face: 'soft' },
    { id: 'digest', head: 'Digest', face: 'mono soft' },
  ];
  protected readonly link = signal('');
  /** What stands on the papers. */
  protected readonly form = new FormGroup({ signedBy: text(), signedOn: text(), billDated: text() });
  protected readonly wrong = signal('');
  /** A file that was chosen before its date was filled in. */
  protected readonly waiting = signal<{ what: 'letter' | 'bill'; file: File } | null>(null);
  private readonly confirm = inject(Confirm);

  /** Uploads what waited, once nothing is missing. */
  protected async goOn(): Promise<void> {
    const w = this.waiting();
    if (w) await this.upload(w.what, w.file);
  }

  protected async drop(d: Paper): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Take “${d.name}” away?`,
      line: 'It is deleted and cannot be brought back; that it was here stays in the history.',
      yes: 'Take it away',
      no: 'Keep it',
    });
    if (yes) await this.store.drop(d.id);
  }

  protected size(bytes: number): string {
    return bytes >= 1_048_576 ? `${(bytes / 1_048_576).toFixed(1)} MB` : `${Math.ceil(bytes / 1024)} kB`;
  }

  protected async makeLink(): Promise<void> {
    if (!(await this.before()())) return;
    const link = await this.store.signingLink();
    if (!link) return;
    this.link.set(link);
    await navigator.clipboard.writeText(link).then(
      () => this.store.acting.done('The link is copied. Hand it to the account holder; it is good for 14 days.'),
      () => this.store.acting.done('Copy the link and hand it to the account holder; it is good for 14 days.'),
    );
  }

  protected async upload(what: 'letter' | 'bill', file: File): Promise<void> {
    this.wrong.set('');
    const { signedBy, signedOn, billDated } = this.form.getRawValue();
    const dated = what === 'bill' ? billDated || this.port().billDated : signedOn;
    // A file may be chosen before its day is known: it waits for it.
    if (dated === '' || (what === 'letter' && signedBy.trim() === '')) {
      this.waiting.set({ what, file });
      return;
    }
    this.waiting.set(null);
    if (!(await this.before()())) return;
    try {
      await this.store.upload({
        what,
        name: file.name,
        base64: await base64Of(file),
        dated,
        signedBy,
      });
    } catch (error) {
      this.wrong.set((error as ApiProblem).message);
    }
  }
}
