import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { faultOf, leaves, type CheckedForm } from './checked-form';
import { readOf } from './control-state';

/** How many fields are wrong, and what is wrong with the whole; nothing while nothing is. */
@Component({
  selector: 'lg-faults',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (words(); as w) {
      <p class="error" role="alert">{{ w }}</p>
    }
  `,
})
export class Faults {
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- whatever its controls
  readonly form = input.required<CheckedForm<any>>();
  private readonly group = computed(() => this.form().group);
  private readonly state = readOf(this.group, (group) => ({
    wrong: leaves(group).filter((c) => faultOf(c) !== '').length,
    whole: group.touched || this.form().refused() > 0 ? ((group.errors?.['wrong'] as string | undefined) ?? '') : '',
  }));
  protected readonly words = computed(() => {
    const { wrong, whole } = this.state();
    const fields = wrong > 1 ? `${wrong} fields are to be mended.` : '';
    return [whole, fields].filter(Boolean).join(' ');
  });
}
