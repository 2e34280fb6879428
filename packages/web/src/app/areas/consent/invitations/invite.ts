import { ChangeDetectionStrategy, Component, computed, effect, inject, resource, untracked } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef, type MatDialog } from '@angular/material/dialog';
import { INVITE_AGAIN_DAYS, OptInInvitationEdit, type OptInInvitation } from '@long-gate/contracts';
import { firstValueFrom } from 'rxjs';
import { CheckedForm } from '../../../parts/form/checked-form';
import { ChoiceField } from '../../../parts/form/choice-field';
import { readOf } from '../../../parts/form/control-state';
import { flag, text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { CountedPipe, CountPipe } from '../../../parts/format';
import { LetterSample } from '../../../parts/letter-sample';
import { InvitationsStore, type InvitationPreview, type Whom } from './invitations.store';

export interface Inviting {
  /** Who was chosen; where nobody was, that is chosen with the letter. */
  whom: Whom | null;
  /** A letter that is kept already. */
  invitation: OptInInvitation | null;
}
/** Opens the dialog. @returns whether anybody was written to. */
export async function invitePeople(dialog: MatDialog, inviting: Inviting): Promise<boolean> {
  const open = dialog.open<Invite, Inviting, boolean>(Invite, { data: inviting, width: '720px' });
  return (await firstValueFrom(open.afterClosed())) ?? false;
}

/** Why others of those who are meant are not written to. */
const NOT_INVITED: readonly { of: keyof InvitationPreview; words: string }[] = [
  { of: 'noEmail', words: 'have no e-mail here' },
  { of: 'inAlready', words: 'get all the page offers' },
  { of: 'left', words: 'said they want no texts; coming back is theirs' },
  { of: 'lately', words: 'were invited lately' },
  { of: 'noMore', words: 'get no such e-mail any more: it came back, or they ended it' },
];

/** Inviting people by e-mail: the letter, who gets it and who does not, and what one of them reads. */
@Component({
  selector: 'lg-invite',
  imports: [
    ChoiceField,
    CountedPipe,
    CountPipe,
    Faults,
    Form,
    LetterSample,
    MatButtonModule,
    MatCheckboxModule,
    MatDialogModule,
    ReactiveFormsModule,
    TextField,
  ],
  providers: [InvitationsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2>Invite to texts by e-mail</h2>
      @if (store.pages(); as pages) {
        @if (pages.length === 0) {
          <p>
            People agree to the words of an opt-in page, and none is live. Make one under Consent, Opt-in pages; then
            invite.
          </p>
          <div class="ends"><button type="button" matButton="outlined" mat-dialog-close>Close</button></div>
        } @else {
          <form [lgForm]="form" (sent)="send()">
            <div class="two">
              <lg-text-field [control]="form.controls.title" label="Name, for you" name="title" />
              <lg-choice-field
                [control]="form.controls.pageId"
                label="They agree to the words of"
                name="pageId"
                [choices]="pageChoices()"
              />
            </div>
            <div [class.two]="letters().length > 1">
              @if (letters().length > 1) {
                <lg-choice-field
                  [control]="form.controls.like"
                  label="Begin with the words of"
                  name="like"
                  [choices]="letters()"
                />
              }
              <lg-text-field [control]="form.controls.subject" label="Subject" name="subject" [most]="150" />
            </div>
            <lg-text-field
              [control]="form.controls.text"
              label="E-mail"
              hint="[link] is their own link, [firstName|there] their name or “there”"
              name="letter"
              [lines]="7"
            />
            <div class="two">
              @if (!inviting.whom) {
                <lg-choice-field [control]="form.controls.to" label="To" name="to" [choices]="audiences()" />
              }
              <lg-text-field
                [control]="form.controls.againDays"
                label="Nobody again within days"
                name="againDays"
                inputmode="numeric"
              />
            </div>
            @if (!inviting.whom && store.session.isAdministrator()) {
              <mat-checkbox [formControl]="form.controls.standing"
                >Invite who is new by itself, once a day</mat-checkbox
              >
            }
            <lg-faults [form]="form" />
            @if (preview.value(); as p) {
              <p role="status">
                <span class="strong">{{ p.invited | counted: 'person gets' : 'people get' }}</span> this e-mail.
                @for (n of notInvited(); track n.words) {
                  <span class="soft">{{ n.n | count }} {{ n.words }}. </span>
                }
              </p>
              @if (p.sample; as s) {
                <lg-letter-sample [letter]="s" />
              }
            } @else if (preview.error(); as e) {
              <p class="stop" role="alert">{{ e.message }}</p>
            }
            <p class="soft small">
              No cost. Nobody is opted in by it: each says on a page of their own what they want, and their handset
              confirms it. The link is good for 30 days. What was sent cannot be called back; links can.
            </p>
            <div class="ends">
              <button type="button" matButton="outlined" mat-dialog-close>Not now</button>
              <button type="button" matButton="outlined" [disabled]="store.acting.busy()" (click)="keep()">
                Keep the letter
              </button>
              <button
                type="submit"
                matButton="filled"
                [disabled]="store.acting.busy() || !(preview.value()?.invited ?? 0)"
              >
                Send {{ preview.value()?.invited ?? 0 | counted: 'e-mail' : 'e-mails' }}
              </button>
            </div>
          </form>
        }
      } @else {
        <p class="soft">Reading…</p>
      }
    </div>
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: repeat(2, minmax(0, 1fr));
      gap: 0 18px;
    }
    @media (max-width: 600px) {
      .two {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class Invite {
  protected readonly store = inject(InvitationsStore);
  protected readonly inviting = inject<Inviting>(MAT_DIALOG_DATA);
  private readonly ref = inject<MatDialogRef<Invite, boolean>>(MatDialogRef);
  private readonly name = this.store.session.business()?.nameLine ?? 'us';
  /** One wish, however often it is pressed. */
  private readonly key = crypto.randomUUID();
  /** The letter as it is kept: written once, so that a second press after a lost answer writes no other. */
  private kept: OptInInvitation | null = this.inviting.invitation;
  /** A letter as anybody may begin with it. */
  private readonly ours = {
    subject: `Would you like texts from ${this.name}?`,
    text: `Hello [firstName|there],\n\nyou can hear from us by text, and you decide about what. On your own page you see what stands now, and change it at any time:\n\n[link]\n\nIf you want no texts, do nothing.\n\n${this.name}`,
  };
  protected readonly form = new CheckedForm(
    {
      title: text(this.kept?.title ?? 'Texts, by your choice'),
      pageId: text(this.kept?.pageId ?? ''),
      subject: text((this.kept ?? this.ours).subject),
      text: text((this.kept ?? this.ours).text),
      againDays: text(String(this.kept?.againDays ?? INVITE_AGAIN_DAYS.usual)),
      like: text(),
      to: text(this.kept?.standing?.listId ?? ''),
      standing: flag(Boolean(this.kept?.standing)),
    },
    OptInInvitationEdit,
    {
      body: ({ to, standing, againDays, like: _, ...letter }) => ({
        ...letter,
        againDays: Number(againDays),
        standing: standing && !this.inviting.whom ? audienceOf(to) : null,
      }),
    },
  );
  /** Letters that are kept, for whoever writes a new one. */
  protected readonly letters = computed(() =>
    this.inviting.invitation
      ? []
      : [
          { value: '', label: 'our usual letter' },
          ...this.store.all().map((x) => ({ value: x.id, label: `“${x.title}”` })),
        ],
  );
  private readonly like = readOf(
    () => this.form.controls.like,
    (c) => c.value,
  );
  protected readonly pageChoices = computed(() =>
    (this.store.pages() ?? []).map((p) => ({ value: p.id, label: p.title })),
  );
  protected readonly audiences = computed(() => [
    { value: '', label: 'all contacts with an e-mail' },
    ...this.store.lists().map((l) => ({ value: l.id, label: `${l.kind === 'tag' ? 'tag' : 'list'} “${l.name}”` })),
  ]);
  private readonly typed = readOf(
    () => this.form.group,
    () => this.form.body(),
  );
  private readonly to = readOf(
    () => this.form.controls.to,
    (c) => c.value,
  );
  private readonly whom = computed((): Whom => this.inviting.whom ?? audienceOf(this.to()));
  protected readonly preview = resource({
    params: () => {
      const body = this.typed();
      if (!body) return undefined;
      const { pageId, subject, text: letter, againDays } = body;
      return { pageId, subject, text: letter, againDays, whom: this.whom() };
    },
    loader: ({ params }) => this.store.preview(params),
  });
  protected readonly notInvited = computed(() => {
    const p = this.preview.value();
    return p ? NOT_INVITED.map((x) => ({ words: x.words, n: Number(p[x.of]) })).filter((x) => x.n > 0) : [];
  });

  constructor() {
    let begun = '';
    effect(() => {
      const like = this.like();
      untracked(() => {
        if (like === begun) return;
        begun = like;
        const { subject, text: words } = this.store.all().find((x) => x.id === like) ?? this.ours;
        this.form.group.patchValue({ subject, text: words });
      });
    });
    effect(() => {
      const first = this.store.pages()?.[0];
      untracked(() => {
        if (first && this.form.controls.pageId.value === '') this.form.controls.pageId.setValue(first.id);
      });
    });
  }

  private async saved(): Promise<OptInInvitation | null> {
    const body = this.form.body();
    if (!body) return null;
    const now = await this.store.keep(body, this.kept);
    if (now) this.kept = now;
    return now ?? null;
  }
  protected async keep(): Promise<void> {
    await this.form.send(async () => {
      if (!(await this.saved())) return;
      this.store.acting.done('The letter is kept; nobody was written to.');
      this.ref.close(false);
    });
  }
  protected async send(): Promise<void> {
    const seen = this.preview.value()?.invited ?? 0;
    const kept = seen > 0 ? await this.saved() : null;
    if (kept && (await this.store.send(kept.id, this.whom(), seen, this.key))) this.ref.close(true);
  }
}

/** All contacts, or those on a list or with a tag. */
const audienceOf = (listId: string): Whom =>
  listId ? { listId, filter: null, e164s: null } : { listId: null, filter: {}, e164s: null };
