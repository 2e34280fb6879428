import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { FormControl } from '@angular/forms';
import type { SiteDevice, SitePlace } from '@long-gate/core';
import { ChoiceField } from '../../../parts/form/choice-field';
import { readOf } from '../../../parts/form/control-state';
import { TextField } from '../../../parts/form/text-field';
import { WordsField } from '../../../parts/form/words-field';
import { FIELD_NAMES } from './page-form';

/** The lines of a page's form that say how its form is shown on the business's own site. */
interface SiteControls {
  sites: FormControl<string[]>;
  place: FormControl<SitePlace>;
  devices: FormControl<SiteDevice>;
  paths: FormControl<string[]>;
  afterSeconds: FormControl<string>;
  afterDown: FormControl<string>;
  againDays: FormControl<string>;
}

/** Which sites show a page's form, where in them, on what, and when. */
@Component({
  selector: 'lg-site-fields',
  imports: [ChoiceField, TextField, WordsField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-words-field
      [control]="form().controls.sites"
      [label]="names.sites"
      hint="https://www.….example, commas between"
      name="sites"
    />
    <div class="two">
      <lg-choice-field [control]="form().controls.place" [label]="names.place" name="place" [choices]="places" />
      <lg-choice-field [control]="form().controls.devices" [label]="names.devices" name="devices" [choices]="devices" />
    </div>
    <lg-words-field
      [control]="form().controls.paths"
      [label]="names.paths"
      hint="as /shop/*, commas between; empty: everywhere"
      name="paths"
    />
    @if (above()) {
      <div class="three">
        @for (f of moments; track f) {
          <lg-text-field [control]="form().controls[f]" [label]="names[f]" [name]="f" inputmode="numeric" />
        }
      </div>
      <p class="soft small">Whichever comes first; 0 leaves it out, and where both are 0 it is there at once.</p>
    }
  `,
  styles: `
    .two,
    .three {
      display: grid;
      grid-template-columns: repeat(2, minmax(0, 1fr));
      gap: 0 18px;
    }
    .three {
      grid-template-columns: repeat(3, minmax(0, 1fr));
      align-items: end;
    }
    @media (max-width: 1000px) {
      .three {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class SiteFields {
  readonly form = input.required<{ controls: SiteControls }>();
  protected readonly names = FIELD_NAMES;
  protected readonly moments = ['afterSeconds', 'afterDown', 'againDays'] as const;
  protected readonly places = [
    { value: 'in the page', label: 'in the page, where the line stands' },
    { value: 'above it', label: 'above the page, as a sheet' },
  ];
  protected readonly devices = [
    { value: 'all', label: 'phones and desks' },
    { value: 'phones', label: 'phones only' },
    { value: 'desks', label: 'desks only' },
  ];
  private readonly place = readOf(
    computed(() => this.form().controls.place),
    (c) => c.value,
  );
  protected readonly above = computed(() => this.place() === 'above it');
}
