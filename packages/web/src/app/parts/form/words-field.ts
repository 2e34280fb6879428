import { ChangeDetectionStrategy, Component, effect, input } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { FormControl } from '@angular/forms';
import { switchMap } from 'rxjs';
import { faultOf } from './checked-form';
import { readOf } from './control-state';
import { text } from './controls';
import { TextField } from './text-field';

/** Several short words in one line, separated by commas. */
@Component({
  selector: 'lg-words-field',
  imports: [TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-text-field
    [control]="line"
    [label]="label()"
    [hint]="hint() || 'separated by commas'"
    [name]="name()"
    [troubled]="troubled()"
    [wrong]="troubled() ? '' : said()"
  />`,
})
export class WordsField {
  readonly control = input.required<FormControl<string[]>>();
  readonly label = input.required<string>();
  readonly hint = input('');
  readonly name = input('');
  /** Whether each word is written in capitals. */
  readonly capitals = input(false);
  readonly troubled = input(false);
  protected readonly line = text();
  protected readonly said = readOf(this.control, faultOf);

  constructor() {
    this.line.valueChanges.pipe(takeUntilDestroyed()).subscribe((typed) => {
      const words = this.read(typed);
      if (words.join() !== this.control().value.join()) this.control().setValue(words);
    });
    const show = (): void => {
      // What is being typed stays as it is typed.
      if (this.read(this.line.value).join() !== this.control().value.join())
        this.line.setValue(this.control().value.join(', '), { emitEvent: false });
      if (this.control().disabled !== this.line.disabled)
        if (this.control().disabled) this.line.disable({ emitEvent: false });
        else this.line.enable({ emitEvent: false });
    };
    toObservable(this.control)
      .pipe(
        switchMap((control) => control.events),
        takeUntilDestroyed(),
      )
      .subscribe(show);
    effect(() => {
      this.control();
      show();
    });
  }

  private read(typed: string): string[] {
    return typed
      .split(',')
      .map((word) => (this.capitals() ? word.trim().toUpperCase() : word.trim()))
      .filter(Boolean);
  }
}
