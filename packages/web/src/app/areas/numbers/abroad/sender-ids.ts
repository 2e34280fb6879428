import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { addSenderId, saveSenderId, type SenderIdView } from '@long-gate/contracts';
import { formatAmount, reviewSenderId, reviewSignature, segmentText, SENDER_ID_LENGTH } from '@long-gate/core';
import { Confirm } from '../../../parts/confirm';
import { Docket } from '../../../parts/docket/docket';
import { Findings, numbered } from '../../../parts/findings';
import { CheckedForm } from '../../../parts/form/checked-form';
import { Faults } from '../../../parts/form/faults';
import { filledFrom } from '../../../parts/form/filled-from';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { MoneyPipe } from '../../../parts/format';
import { List } from '../../../parts/list/list';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { NumbersTabs } from '../numbers-tabs';
import { SenderIdsStore, type SenderUse } from './sender-ids.store';
import { text } from '../../../parts/form/controls';

const TONE: Record<SenderUse['state'], string> = {
  'not asked': 'soft',
  free: 'pass',
  'in review': 'hold',
  registered: 'pass',
  refused: 'stop',
  'not allowed': 'soft',
};
const usable = (s: SenderIdView): number =>
  s.countries.filter((c) => c.state === 'free' || c.state === 'registered').length;

/** Alphanumeric sender IDs: made with a live check, used country by country. */
@Component({
  selector: 'lg-sender-ids',
  imports: [
    Cell,
    Docket,
    Faults,
    Findings,
    Form,
    List,
    Table,
    TextField,
    MatButtonModule,
    NumbersTabs,
    RouterLink,
    MoneyPipe,
  ],
  providers: [SenderIdsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="sender IDs" [store]="store" [filters]="false">
      <lg-numbers-tabs tabs />
      @if (store.session.isAdministrator()) {
        <form above class="pair" [lgForm]="making" (sent)="add()">
          <div>
            <lg-text-field
              [control]="making.controls.text"
              label="New sender ID"
              [hint]="wished().text?.length + ' of ' + limit"
              name="text"
              mono
            />
            <lg-text-field
              [control]="making.controls.signature"
              label="Signature"
              [hint]="segments(wished().signature ?? '')"
              name="signature"
              [most]="120"
            />
            <p class="soft small">
              One-way: nobody can reply to it, so each text ends with the signature, which names another way to reply
              and to stop. It is counted in the length.
            </p>
            <lg-faults [form]="making" />
            <button type="submit" matButton="filled" [disabled]="making.busy()">Make the sender ID</button>
          </div>
          <div>
            @if (wished().text || wished().signature) {
              <lg-findings [findings]="newFindings()" field="text" />
              <lg-findings [findings]="newFindings()" field="signature" />
            }
          </div>
        </form>
      }
      <ng-container nothing>
        <h2>No sender ID yet</h2>
        <p>
          Abroad, texts may come from a name instead of a number: free in some countries, after registration in others,
          in some (the United States and Canada among them) not at all.
        </p>
      </ng-container>
      <lg-table
        name="sender-ids"
        label="Sender IDs"
        [rows]="store.all()"
        [columns]="columns"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-template lgCell="text" [of]="store.all()" let-s>
          <button type="button" matButton class="plain mono" (click)="store.choose(s.id); $event.stopPropagation()">
            {{ s.text }}
          </button>
        </ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.chosen(); as s) {
        <lg-docket
          docket
          kind="Sender ID"
          [name]="s.text"
          mono
          [next]="next(s)"
          history="number"
          [object]="s.id"
          (closed)="store.choose(null)"
        >
          <p name>One-way: replies cannot arrive.</p>
          @if (store.session.isAdministrator()) {
            <form [lgForm]="editing" (sent)="save(s)">
              <lg-text-field [control]="editing.controls.label" label="Label" name="s-label" />
              <lg-text-field [control]="editing.controls.signature" label="Signature" name="s-signature" />
              <lg-faults [form]="editing" />
              <button type="submit" matButton="outlined" [disabled]="editing.busy()">Save</button>
            </form>
          }
          <h3>Countries</h3>
          @for (c of s.countries; track c.code) {
            <div class="country">
              <span>{{ c.name }}</span>
              <span class="small" [class]="tone[c.state]"
                >{{ c.state === 'not asked' ? c.rule : c.state }}{{ c.note ? ': ' + c.note : '' }}</span
              >
              <span class="end">
                @if (
                  (c.state === 'not asked' || c.state === 'refused') && store.session.isAdministrator() && !blocked(c)
                ) {
                  <button type="button" matButton class="plain" [disabled]="store.acting.busy()" (click)="use(s, c)">
                    {{ c.rule === 'free' ? 'use here' : 'register, ' + (c.cost | money) }}
                  </button>
                } @else if ((c.state === 'free' || c.state === 'registered') && !c.open) {
                  <a
                    [routerLink]="['/b', store.session.businessId(), 'numbers', 'countries']"
                    [queryParams]="{ open: c.code }"
                    >open the country</a
                  >
                }
              </span>
              @if ((c.state === 'not asked' || c.state === 'refused') && blocked(c); as f) {
                <p class="small stop">{{ f.message }} {{ f.fix }}</p>
              }
            </div>
          }
          @if (store.session.isAdministrator()) {
            <p class="end-row">
              <button
                type="button"
                matButton="outlined"
                class="danger"
                [disabled]="store.acting.busy()"
                (click)="drop(s)"
              >
                Give it up…
              </button>
            </p>
          }
        </lg-docket>
      }
    </lg-list>
  `,
  styles: `
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 460px) 260px;
      gap: 22px;
      margin-bottom: 18px;
    }
    h3 {
      margin: 14px 0 6px;
    }
    .country p {
      grid-column: 1 / -1;
    }
    .country {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 96px 92px;
      gap: 8px;
      padding: 4px 0;
      border-bottom: 1px solid var(--hairline);
    }
    .end-row {
      margin-top: 12px;
    }
    button[type='submit'] {
      margin-top: 6px;
    }
  `,
})
export class SenderIdsPage {
  protected readonly store = inject(SenderIdsStore);
  private readonly confirm = inject(Confirm);
  protected readonly tone = TONE;
  protected readonly limit = SENDER_ID_LENGTH;
  protected readonly id = (s: SenderIdView): string => s.id;
  protected readonly columns: readonly Column<SenderIdView>[] = [
    { id: 'text', head: 'Sender ID', width: 160, by: (s) => s.text },
    { id: 'label', head: 'Label', least: 120, by: (s) => s.label || null, text: (s) => s.label || '–' },
    { id: 'used', head: 'Used in', least: 160, share: 2, by: (s) => usable(s), text: (s) => this.usedIn(s) },
    { id: 'signature', head: 'Signature', least: 160, share: 2, leaves: 1, text: (s) => s.signature, face: 'soft' },
  ];
  protected readonly making = new CheckedForm({ text: text(), signature: text() }, addSenderId.body);
  protected readonly editing = new CheckedForm({ label: text(), signature: text() }, saveSenderId.body);
  protected readonly wished = toSignal(this.making.group.valueChanges, { initialValue: this.making.group.value });
  protected readonly newFindings = computed(() =>
    numbered(
      [...reviewSenderId(this.wished().text ?? ''), ...reviewSignature(this.wished().signature ?? '')],
      ['text', 'signature'],
    ),
  );

  constructor() {
    filledFrom(this.editing, () => {
      const s = this.store.chosen();
      return s ? { of: s.id, values: { label: s.label, signature: s.signature } } : undefined;
    });
  }

  protected segments(words: string): string {
    const s = segmentText(words);
    return s.units === 0 ? '' : `takes ${s.units} of ${s.encoding === 'GSM-7' ? 160 : 70}`;
  }
  protected next(s: SenderIdView): { title: string; why: string; tone: 'pass' | 'hold' } {
    const n = usable(s);
    return n > 0
      ? { title: 'Nothing to do.', why: `It may be used in ${n} ${n === 1 ? 'country' : 'countries'}.`, tone: 'pass' }
      : { title: 'Choose where it is used.', why: 'A sender ID can be used nowhere until then.', tone: 'hold' };
  }
  private usedIn(s: SenderIdView): string {
    const names = s.countries.filter((c) => ['free', 'registered', 'in review'].includes(c.state));
    return names.map((c) => (c.state === 'in review' ? `${c.name} (in review)` : c.name)).join(', ') || 'nowhere yet';
  }

  protected async add(): Promise<void> {
    if (await this.making.send((body) => this.store.add(body))) this.making.group.reset();
  }
  protected async save(s: SenderIdView): Promise<void> {
    if (!(await this.editing.send((body) => this.store.save(s, body)))) return;
    this.editing.group.markAsPristine();
    this.store.acting.done('Saved.');
  }
  /** What this country would refuse; undefined where nothing is found. */
  protected blocked(c: SenderIdView['countries'][number]) {
    return c.findings.find((f) => f.severity === 'block');
  }

  protected async use(s: SenderIdView, c: SenderUse): Promise<void> {
    if (
      c.cost > 0 &&
      !(await this.confirm.ask({
        title: `Register ${s.text} in ${c.name}?`,
        line: `${formatAmount(c.cost)} now, nothing monthly. The registry answers in two to six days. Not refunded when refused.`,
        yes: `Register for ${formatAmount(c.cost)}`,
      }))
    )
      return;
    await this.store.use(s, c);
  }
  protected async drop(s: SenderIdView): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Give ${s.text} up?`,
      line: 'At once nothing is sent from it any more, and somebody else may take it. Registrations are lost and not refunded.',
      yes: 'Give it up',
      no: 'Keep it',
    });
    if (yes) await this.store.drop(s);
  }
}
