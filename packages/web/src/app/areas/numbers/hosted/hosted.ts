import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { beginHosted, type HostedView } from '@long-gate/contracts';
import { CheckedForm } from '../../../parts/form/checked-form';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { MomentPipe, PhonePipe } from '../../../parts/format';
import { List } from '../../../parts/list/list';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { NumbersTabs } from '../numbers-tabs';
import { HostedDocket } from './hosted-docket';
import { HostedStore } from './hosted.store';

const TONE: Record<HostedView['state'], string> = {
  draft: 'note',
  submitted: 'hold',
  refused: 'stop',
  on: 'pass',
  off: 'soft',
  cancelled: 'soft',
};

/** Numbers that keep their voice service where it is, with texting added here. */
@Component({
  selector: 'lg-hosted',
  imports: [
    Cell,
    Faults,
    Form,
    List,
    Table,
    TextField,
    MatButtonModule,
    NumbersTabs,
    HostedDocket,
    PhonePipe,
    MomentPipe,
  ],
  providers: [HostedStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="hosted numbers" [store]="store" [filters]="false">
      <lg-numbers-tabs tabs />
      @if (store.session.isAdministrator()) {
        <form above class="with-button" [lgForm]="form" (sent)="begin()">
          <lg-text-field
            [control]="form.controls.number"
            label="A landline or toll-free number that shall text"
            name="number"
            inputmode="tel"
            mono
          />
          <button type="submit" matButton="filled" [disabled]="form.busy()">
            {{ form.busy() ? 'Testing…' : 'Begin' }}
          </button>
          <lg-faults [form]="form" />
        </form>
      }
      <ng-container nothing>
        <h2>No hosted number</h2>
        <p>
          A number people already call can text without leaving its carrier: calls go on as before, texts come here. It
          takes a signed letter, a code read out in a call to the line, and some days. Not possible for a mobile.
        </p>
      </ng-container>
      <lg-table
        name="hosted"
        label="Hosted numbers"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-template lgCell="number" [of]="store.all()" let-h>
          <button type="button" matButton class="plain mono" (click)="store.choose(h.id); $event.stopPropagation()">
            {{ h.e164 | phone }}
          </button>
        </ng-template>
        <ng-template lgCell="submitted" [of]="store.all()" let-h>{{ h.submittedAt | moment: 'day' }}</ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.chosen(); as h) {
        <lg-hosted-docket docket [hosted]="h" (closed)="store.choose(null)" (changed)="store.list.reload()" />
      }
    </lg-list>
  `,
})
export class HostedPage {
  protected readonly store = inject(HostedStore);
  protected readonly id = (h: HostedView): string => h.id;
  protected readonly columns: readonly Column<HostedView>[] = [
    { id: 'number', head: 'Number', width: 160, by: (h) => h.e164 },
    {
      id: 'carrier',
      head: 'Voice stays with',
      least: 120,
      by: (h) => h.voiceCarrier || null,
      text: (h) => h.voiceCarrier || '–',
    },
    { id: 'state', head: 'Texting', width: 110, by: (h) => h.state, text: (h) => h.state, face: (h) => TONE[h.state] },
    { id: 'next', head: 'Next step', least: 160, share: 2, text: (h) => h.nextStep.title },
    { id: 'submitted', head: 'Submitted', width: 120, leaves: 1, by: (h) => h.submittedAt, face: 'soft' },
  ];
  protected readonly form = new CheckedForm({ number: text(this.store.address().e164 ?? '') }, beginHosted.body);

  protected async begin(): Promise<void> {
    if (await this.form.send((body) => this.store.begin(body.number))) this.form.group.reset();
  }
}
