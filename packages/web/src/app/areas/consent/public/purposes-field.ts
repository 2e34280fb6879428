import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { FormControl } from '@angular/forms';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { PublicPage } from '@long-gate/contracts';
import { faultOf } from '../../../parts/form/checked-form';
import { readOf } from '../../../parts/form/control-state';

export type Purpose = PublicPage['purposes'][number]['purpose'];

/** Each kind of text a page offers, with its disclosure to the letter, chosen separately. */
@Component({
  selector: 'lg-purposes-field',
  imports: [MatCheckboxModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>What may we text you?</legend>
      @for (x of purposes(); track x.purpose) {
        <mat-checkbox
          class="check"
          [name]="x.purpose"
          [checked]="chosen().includes(x.purpose)"
          (change)="toggle(x.purpose, $event.checked)"
        >
          @for (part of parts(x.disclosure); track $index) {
            @if (part.link) {
              <a [href]="part.text" target="_blank" rel="noopener">{{ part.text }}</a>
            } @else {
              {{ part.text }}
            }
          }
        </mat-checkbox>
      }
    </fieldset>
    @if (wrong(); as words) {
      <p class="error" role="alert">{{ words }}</p>
    }
  `,
  styles: `
    fieldset {
      border: 0;
      margin: 0 0 16px;
      display: grid;
      gap: 14px;
    }
    legend {
      font-weight: 600;
      padding: 0;
      margin-bottom: 8px;
    }
    .check a {
      overflow-wrap: anywhere;
    }
  `,
})
export class PurposesField {
  readonly control = input.required<FormControl<Purpose[]>>();
  readonly purposes = input.required<PublicPage['purposes']>();
  protected readonly chosen = readOf(this.control, (c) => c.value);
  protected readonly wrong = readOf(
    computed(() => this.control()),
    faultOf,
  );

  /** The disclosure to the letter, with its pages as links. */
  protected parts(disclosure: string): { text: string; link: boolean }[] {
    return disclosure
      .split(/(https?:\/\/\S+)/)
      .filter((text) => text !== '')
      .map((text) => ({ text, link: /^https?:/.test(text) }));
  }
  protected toggle(purpose: Purpose, on: boolean): void {
    const others = this.control().value.filter((x) => x !== purpose);
    this.control().setValue(on ? [...others, purpose] : others);
  }
}
