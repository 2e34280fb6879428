import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { ReactiveFormsModule, type FormControl } from '@angular/forms';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatInputModule } from '@angular/material/input';
import type { ContactList } from '@long-gate/contracts';
import { readOf } from './form/control-state';

/** A field for the name of a list or tag: those there are come up as one types. */
@Component({
  selector: 'lg-list-field',
  imports: [MatAutocompleteModule, MatInputModule, ReactiveFormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field
      ><input
        matInput
        [matAutocomplete]="names"
        [attr.aria-label]="label()"
        [placeholder]="placeholder()"
        maxlength="60"
        [formControl]="control()"
    /></mat-form-field>
    <mat-autocomplete #names="matAutocomplete" (optionSelected)="chosen.emit($event.option.value)">
      @for (l of fitting(); track l.id) {
        <mat-option [value]="l.name">{{ l.name }}</mat-option>
      }
    </mat-autocomplete>
  `,
})
export class ListField {
  readonly control = input.required<FormControl<string>>();
  /** Those that come up. */
  readonly lists = input.required<readonly ContactList[]>();
  readonly label = input.required<string>();
  readonly placeholder = input('');
  /** One of those there are was taken. */
  readonly chosen = output<string>();
  private readonly typed = readOf(
    () => this.control(),
    (c) => c.value,
  );
  protected readonly fitting = computed(() => {
    const words = this.typed().trim().toLowerCase();
    return this.lists().filter((l) => l.name.toLowerCase().includes(words));
  });
}
