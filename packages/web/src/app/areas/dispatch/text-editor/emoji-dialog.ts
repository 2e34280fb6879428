import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatInputModule } from '@angular/material/input';
import { MatTooltipModule } from '@angular/material/tooltip';
import emojis from 'emojibase-data/en/compact.json';
import versions from 'emojibase-data/versions/emoji.json';
import { text } from '../../../parts/form/controls';

/** How many are drawn at once; more are found by a word. */
const SHOWN = 96;
/** Neither the font that ships nor a phone of some years knows those that came later. */
const KNOWN_UP_TO = 15;
const NEWER = new Set(
  Object.entries(versions).flatMap(([version, hexcodes]) => (Number(version) > KNOWN_UP_TO ? hexcodes : [])),
);
/** Of parts such as skin tones nobody sends a text. */
const ALL = emojis.filter((e) => e.group !== undefined && e.group !== 2 && !NEWER.has(e.hexcode));

/** Chooses an emoji by a word. Whoever sends one sends shorter segments, which the count beside the text says. */
@Component({
  selector: 'lg-emoji-dialog',
  imports: [MatButtonModule, MatDialogModule, MatInputModule, MatTooltipModule, ReactiveFormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2>Emoji</h2>
      <p class="soft small">With one of them a segment has room for 70 characters instead of 160.</p>
      <mat-form-field
        ><input
          matInput
          type="search"
          placeholder="ferry, heart, thank you…"
          aria-label="Find an emoji by a word"
          [formControl]="words"
          (keydown.enter)="first()"
      /></mat-form-field>
      <div class="grid" role="group" aria-label="Emoji">
        @for (e of found(); track e.hexcode) {
          <button
            type="button"
            matButton
            class="plain"
            [attr.aria-label]="e.label"
            [matTooltip]="e.label"
            (click)="ref.close(e.unicode)"
          >
            {{ e.unicode }}
          </button>
        } @empty {
          <p class="soft">None by this word.</p>
        }
      </div>
      <div class="ends"><button type="button" matButton="outlined" mat-dialog-close>Cancel</button></div>
    </div>
  `,
  styles: `
    .grid {
      display: grid;
      grid-template-columns: repeat(12, 1fr);
      gap: 2px;
      max-height: 260px;
      overflow: auto;
      margin-top: 10px;
      font-size: 20px;
    }
    .grid .plain {
      font-size: 20px;
      justify-content: center;
      padding: 3px 0;
    }
  `,
})
export class EmojiDialog {
  protected readonly ref = inject<MatDialogRef<EmojiDialog, string>>(MatDialogRef);
  protected readonly words = text();
  private readonly typed = toSignal(this.words.valueChanges, { initialValue: '' });
  protected readonly found = computed(() => {
    const words = this.typed().trim().toLowerCase().split(/\s+/).filter(Boolean);
    return ALL.filter((e) => {
      const said = `${e.label} ${(e.tags ?? []).join(' ')}`.toLowerCase();
      return words.every((w) => said.includes(w));
    }).slice(0, SHOWN);
  });

  protected first(): void {
    const [first] = this.found();
    if (first && this.words.value.trim()) this.ref.close(first.unicode);
  }
}
