import {
  afterNextRender,
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
  ViewEncapsulation,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatInputModule } from '@angular/material/input';
import { MERGE_FIELDS, takesFallback, type MergeField } from '@long-gate/core';
import { firstValueFrom } from 'rxjs';
import type { Editing, FieldAt } from './editing';

/** Writes a text in which merge fields are chips; gives out the written form, such as `Hello [firstName|friend]`. */
@Component({
  selector: 'lg-text-editor',
  imports: [MatButtonModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  // What the editor draws is not of this template: its styles name the element instead.
  encapsulation: ViewEncapsulation.None,
  template: `
    <div #sheet class="place" [class.bare]="bare()"></div>
    @if (field(); as f) {
      @if (takesFallback(f.name)) {
        <form class="fallback tight" (submit)="setFallback(words.value); $event.preventDefault()">
          <label for="fallback">Where a contact has no {{ labels[f.name] ?? f.name }}</label>
          <mat-form-field
            ><input
              #words
              matInput
              id="fallback"
              maxlength="60"
              placeholder="friend"
              [value]="f.fallback"
              (keydown.escape)="leave(); $event.stopPropagation()"
          /></mat-form-field>
          <button type="submit" matButton="outlined">Use it</button>
          <button type="button" matButton class="plain" (click)="takeOut()">Take the field out</button>
        </form>
      } @else {
        <div class="fallback" (keydown.escape)="leave(); $event.stopPropagation()">
          <span>Each gets a link of their own, to the page on which they say which texts they want.</span>
          <button type="button" matButton class="plain" (click)="takeOut()">Take the link out</button>
          <button type="button" matButton class="plain" (click)="leave()">Close</button>
        </div>
      }
    }
    @if (!disabled()) {
      <div class="insert">
        @for (f of fields; track f.name) {
          <button
            type="button"
            matButton
            class="plain small"
            [disabled]="!ready()"
            (mousedown)="$event.preventDefault()"
            (click)="insert(f.name)"
          >
            Insert {{ f.label }}
          </button>
        }
        <button type="button" matButton class="plain small" [disabled]="!ready()" (click)="emoji()">Emoji…</button>
      </div>
    }
  `,
  styles: `
    lg-text-editor {
      .sheet {
        min-height: 88px;
        padding: 9px 12px;
        background: var(--surface);
        border: 1px solid var(--hairline);
        border-radius: 2px;
        white-space: pre-wrap;
        overflow-wrap: anywhere;
      }
      .sheet:focus {
        outline: 2px solid var(--primary);
        outline-offset: -1px;
      }
      .bare .sheet p:first-child::before {
        content: 'Write what the contacts shall read…';
        color: var(--ink-soft);
        float: left;
        height: 0;
        pointer-events: none;
      }
      .insert {
        display: flex;
        flex-wrap: wrap;
        gap: 4px 16px;
        margin-top: 4px;
      }
      .fallback {
        display: flex;
        flex-wrap: wrap;
        gap: 8px;
        align-items: center;
        padding: 8px 12px;
        background: var(--primary-wash);
        border: 1px solid var(--hairline);
        border-top: 0;
        .mat-mdc-form-field {
          width: 180px;
        }
      }
      .merge {
        display: inline-block;
        padding: 0 6px;
        margin: 0 1px;
        background: var(--primary-wash);
        border: 1px solid var(--hairline);
        border-radius: 2px;
        cursor: pointer;
      }
      .merge.lacks {
        border-color: var(--stop);
        color: var(--stop);
      }
      .merge.ProseMirror-selectednode {
        outline: 2px solid var(--primary);
      }
    }
  `,
})
export class TextEditor {
  readonly text = input.required<string>();
  readonly disabled = input(false);
  readonly written = output<string>();
  private readonly dialog = inject(MatDialog);
  private readonly sheet = viewChild.required<ElementRef<HTMLDivElement>>('sheet');
  private readonly words = viewChild<ElementRef<HTMLInputElement>>('words');
  private readonly editing = signal<Editing | null>(null);
  protected readonly ready = signal(false);
  /** The field whose fallback is asked for. */
  protected readonly field = signal<FieldAt | null>(null);
  protected readonly bare = signal(false);
  protected readonly takesFallback = takesFallback;
  protected readonly labels: Readonly<Record<string, string | undefined>> = MERGE_FIELDS;
  protected readonly fields = Object.entries(MERGE_FIELDS).map(([name, label]) => ({
    name: name as MergeField,
    label,
  }));
  /** What stands in the editor: drawing it again would move the caret. */
  private shown = '';
  private gone = false;

  constructor() {
    afterNextRender(() => void this.begin());
    effect(() => {
      const [text, editing] = [this.text(), this.editing()];
      if (!editing || text.trim() === this.shown.trim()) return;
      this.take(text);
      editing.show(text);
    });
    effect(() => {
      const disabled = this.disabled();
      this.editing()?.editor.setEditable(!disabled, false);
    });
    // Whoever is asked for a fallback writes it at once.
    afterRenderEffect(() => {
      if (this.field()) this.words()?.nativeElement.focus();
    });
    inject(DestroyRef).onDestroy(() => {
      this.gone = true;
      this.editing()?.destroy();
    });
  }

  private async begin(): Promise<void> {
    const { edit } = await import('./editing');
    if (this.gone) return;
    const text = untracked(this.text);
    this.take(text);
    this.editing.set(
      edit(this.sheet().nativeElement, text, !untracked(this.disabled), {
        written: (now) => {
          this.take(now);
          this.written.emit(now);
        },
        field: (field) => {
          this.field.set(field);
        },
      }),
    );
    this.ready.set(true);
  }
  private take(text: string): void {
    this.shown = text;
    this.bare.set(text === '');
  }

  protected insert(name: MergeField): void {
    this.editing()?.insertField(name);
  }
  protected setFallback(words: string): void {
    const field = this.field();
    if (field) this.editing()?.setFallback(field, words);
    this.leave();
  }
  protected takeOut(): void {
    const field = this.field();
    if (field) this.editing()?.remove(field);
    this.leave();
  }
  /** Back to the text. */
  protected leave(): void {
    this.field.set(null);
    this.editing()?.editor.commands.focus();
  }

  protected async emoji(): Promise<void> {
    const { EmojiDialog } = await import('./emoji-dialog');
    const ref = this.dialog.open<unknown, undefined, string>(EmojiDialog, {
      width: '420px',
      ariaLabel: 'Choose an emoji',
      autoFocus: 'input',
      restoreFocus: false,
    });
    const chosen = await firstValueFrom(ref.afterClosed());
    if (chosen) this.editing()?.insertText(chosen);
    else this.editing()?.editor.commands.focus();
  }
}
