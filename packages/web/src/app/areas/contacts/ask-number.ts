import { ChangeDetectionStrategy, Component, computed, effect, inject, resource, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef, type MatDialog } from '@angular/material/dialog';
import { previewNumberRequest } from '@long-gate/contracts';
import { firstValueFrom } from 'rxjs';
import type * as z from 'zod';
import { SessionFacade } from '../../state/session.facade';
import { CheckedForm } from '../../parts/form/checked-form';
import { ChoiceField } from '../../parts/form/choice-field';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { Faults } from '../../parts/form/faults';
import { Form } from '../../parts/form/form';
import { TextField } from '../../parts/form/text-field';
import { CountedPipe, CountPipe } from '../../parts/format';
import { LetterSample } from '../../parts/letter-sample';
import { AskNumberStore } from './ask-number.store';

export type Asking = z.input<typeof previewNumberRequest.body>['whom'];
/** Opens the dialog. @returns whether anybody was asked. */
export async function askNumbers(dialog: MatDialog, whom: Asking): Promise<boolean> {
  const open = dialog.open<AskNumber, Asking, boolean>(AskNumber, { data: whom, width: '680px' });
  return (await firstValueFrom(open.afterClosed())) ?? false;
}

/** Asking people by e-mail for a number that texts reach: the letter, who gets it, and what one of them reads. */
@Component({
  selector: 'lg-ask-number',
  imports: [
    ChoiceField,
    CountedPipe,
    CountPipe,
    Faults,
    Form,
    LetterSample,
    MatButtonModule,
    MatDialogModule,
    TextField,
  ],
  providers: [AskNumberStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2>Ask for another number</h2>
      @if (store.pages(); as pages) {
        @if (pages.length === 0) {
          <p>
            People agree to texts on an opt-in page, and none is published. Publish one under Consent, Opt-in pages;
            then ask.
          </p>
          <div class="ends"><button type="button" matButton="outlined" mat-dialog-close>Close</button></div>
        } @else {
          <form [lgForm]="form" (sent)="send()">
            <lg-choice-field [control]="form.controls.pageId" label="They agree on" [choices]="choices()" />
            <lg-text-field [control]="form.controls.subject" label="Subject" name="subject" [most]="150" />
            <lg-text-field
              [control]="form.controls.text"
              label="E-mail"
              hint="[link] is their personal link, [firstName|there] their name or “there”"
              name="letter"
              [lines]="9"
            />
            <lg-faults [form]="form" />
            @if (preview.value(); as p) {
              <p role="status">
                <span class="strong">{{ p.asked | counted: 'person gets' : 'people get' }}</span> this e-mail.
                @if (p.noEmail > 0) {
                  <span class="hold">{{ p.noEmail | count }} have no e-mail here.</span>
                }
                @if (p.noMore > 0) {
                  {{ p.noMore | count }} get no such e-mail any more: it came back, or they ended it.
                }
                @if (p.already > 0) {
                  {{ p.already | count }} were asked in the last 30 days and are not asked again.
                }
              </p>
              @if (p.sample; as s) {
                <lg-letter-sample [letter]="s" />
              }
            } @else if (preview.error(); as e) {
              <p class="stop" role="alert">{{ e.message }}</p>
            }
            <p class="soft small">
              No cost now; each number they give is looked up for 0.55 cents. The link is good for 30 days. Texts go to
              the new number once its handset said YES. What was sent cannot be called back.
            </p>
            <div class="ends">
              <button type="button" matButton="outlined" mat-dialog-close>Not now</button>
              <button
                type="submit"
                matButton="filled"
                [disabled]="store.acting.busy() || !(preview.value()?.asked ?? 0)"
              >
                Send {{ preview.value()?.asked ?? 0 | counted: 'e-mail' : 'e-mails' }}
              </button>
            </div>
          </form>
        }
      } @else {
        <p class="soft">Reading…</p>
      }
    </div>
  `,
})
export class AskNumber {
  protected readonly store = inject(AskNumberStore);
  /** Who is asked: named one by one, or all that a filter leaves. */
  private readonly whom = inject<Asking>(MAT_DIALOG_DATA);
  private readonly ref = inject<MatDialogRef<AskNumber, boolean>>(MatDialogRef);
  private readonly name = inject(SessionFacade).business()?.nameLine ?? 'us';
  /** One wish, however often it is pressed. */
  private readonly key = crypto.randomUUID();
  protected readonly form = new CheckedForm(
    {
      pageId: text(''),
      subject: text(`A mobile number for texts from ${this.name}`),
      text: text(
        `Hello [firstName|there],\n\nwe cannot reach you by text at the number we have for you. If you would like our texts, tell us a mobile number on this page:\n\n[link]\n\nOne text goes to that number then; reply YES to it. If you want no texts, do nothing.\n\n${this.name}`,
      ),
    },
    previewNumberRequest.body,
    { body: (value) => ({ ...value, whom: this.whom }) },
  );
  protected readonly choices = computed(() => (this.store.pages() ?? []).map((p) => ({ value: p.id, label: p.title })));
  private readonly typed = readOf(
    () => this.form.group,
    () => this.form.body(),
  );
  protected readonly preview = resource({
    params: () => this.typed(),
    loader: ({ params }) => this.store.preview(params),
  });

  constructor() {
    effect(() => {
      const first = this.store.pages()?.[0];
      if (first) untracked(() => this.form.controls.pageId.setValue(first.id));
    });
  }

  protected async send(): Promise<void> {
    const body = this.form.body();
    const seen = this.preview.value()?.asked ?? 0;
    if (body && seen > 0 && (await this.store.start(body, seen, this.key))) this.ref.close(true);
  }
}
