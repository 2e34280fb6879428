import { afterNextRender, Directive, effect, ElementRef, inject, Injector, input, output } from '@angular/core';
import type { CheckedForm } from './checked-form';

/** A form that is sent when it fits its contract; where it does not, or is refused, the first fault takes the focus. */
@Directive({ selector: 'form[lgForm]', host: { '(submit)': 'submit($event)', novalidate: '' } })
export class Form {
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- whatever its controls
  readonly form = input.required<CheckedForm<any>>({ alias: 'lgForm' });
  readonly sent = output();
  private readonly host = inject<ElementRef<HTMLFormElement>>(ElementRef);
  private readonly injector = inject(Injector);

  constructor() {
    let seen: number | null = null;
    let of: unknown = null;
    effect(() => {
      const n = this.form().refused();
      if (seen !== null && of === this.form() && n !== seen)
        afterNextRender(() => this.first()?.focus(), { injector: this.injector });
      seen = n;
      of = this.form();
    });
  }

  protected submit(event: Event): void {
    event.preventDefault();
    if (this.form().fits()) this.sent.emit();
  }
  private first(): HTMLElement | null {
    return this.host.nativeElement.querySelector<HTMLElement>(
      'input.ng-invalid, textarea.ng-invalid, select.ng-invalid, .ng-invalid input, .ng-invalid [contenteditable]',
    );
  }
}
