import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { ReactiveFormsModule } from '@angular/forms';
import { DateTime } from 'luxon';
import { readOf } from '../../parts/form/control-state';
import { text } from '../../parts/form/controls';
import { TextField } from '../../parts/form/text-field';
import { SessionFacade } from '../../state/session.facade';
import type { PeopleBehindStore, ReasonCount } from './people-behind.store';

/** How people are asked whom no text may ask: words with the address of an opt-in page, their addresses, and a tag. */
@Component({
  selector: 'lg-ask-people',
  imports: [MatButtonModule, MatInputModule, ReactiveFormsModule, RouterLink, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p>
      No text may ask them, and nobody here can agree for them. Ask where you meet them, by post or by e-mail: with
      these words they can agree themselves.
    </p>
    @if (words(); as w) {
      <mat-form-field>
        <textarea matInput readonly rows="3" [value]="w" aria-label="Words to ask with"></textarea>
      </mat-form-field>
      <p>
        <button type="button" matButton="outlined" (click)="copy(w)">Copy the words</button>
        <span class="pass small" role="status">{{ copied() === w ? 'On your clipboard.' : '' }}</span>
      </p>
    } @else {
      <p class="hold">
        No opt-in page is published on which they could.
        <a [routerLink]="['/b', session.businessId(), 'consent', 'pages']">To the opt-in pages</a>
      </p>
    }
    <form (submit)="tag(); $event.preventDefault()">
      <lg-text-field [control]="name" label="Put them on a tag, to come back to" name="tag" [most]="60" />
      <button type="submit" matButton="outlined" [disabled]="store().acting.busy() || typed().trim() === ''">
        Put {{ of().n.toLocaleString('en-US') }} on the tag
      </button>
      <button
        type="button"
        matButton="outlined"
        [disabled]="store().acting.busy()"
        (click)="store().export(of().reason)"
      >
        Export their e-mail addresses
      </button>
      <button type="button" matButton class="plain" (click)="closed.emit()">Done</button>
    </form>
    @if (tagged(); as id) {
      <p class="pass small" role="status">
        They are on the tag.
        <a [routerLink]="['/b', session.businessId(), 'contacts']" [queryParams]="{ list: id }">See them</a>
      </p>
    }
  `,
  styles: `
    :host {
      display: block;
      max-width: 720px;
      padding: 4px 0 12px 14px;
      border-left: 3px solid var(--hairline);
    }
    mat-form-field {
      width: 100%;
    }
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: end;
    }
    lg-text-field {
      width: 260px;
    }
    form button {
      margin-bottom: 14px;
    }
    p {
      margin: 6px 0;
    }
  `,
})
export class AskPeople {
  readonly store = input.required<InstanceType<typeof PeopleBehindStore>>();
  readonly of = input.required<ReasonCount>();
  readonly closed = output();
  protected readonly session = inject(SessionFacade);
  protected readonly copied = signal('');
  protected readonly tagged = signal<string | undefined>(undefined);
  protected readonly name = text(
    `to be asked, ${DateTime.fromMillis(this.session.now(), { zone: this.session.business()?.timeZone }).toFormat('d LLL yyyy', { locale: 'en-US' })}`,
  );
  protected readonly typed = readOf(
    () => this.name,
    (c) => c.value,
  );
  protected readonly words = computed(() => {
    const [page] = this.store().pages();
    if (!page) return '';
    const us = this.session.business()?.nameLine ?? '';
    return `Would you like texts from ${us}? You decide: agree on ${location.origin}/join/${page.slug}, and end them at any time by replying STOP. ${page.intro}`.trim();
  });

  protected async copy(words: string): Promise<void> {
    await navigator.clipboard.writeText(words);
    this.copied.set(words);
  }
  protected async tag(): Promise<void> {
    if (this.typed().trim() !== '') this.tagged.set(await this.store().tag(this.of().reason, this.typed().trim()));
  }
}
