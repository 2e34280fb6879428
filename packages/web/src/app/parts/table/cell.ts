import { Directive, inject, input, TemplateRef } from '@angular/core';

/**
 * What stands in a column's cells: `<ng-template lgCell="number" [of]="rows()" let-row>`. The rows are named only so that
 * the compiler knows what one is.
 */
@Directive({ selector: 'ng-template[lgCell]' })
export class Cell<T> {
  readonly column = input.required<string>({ alias: 'lgCell' });
  readonly of = input<readonly T[]>();
  readonly template = inject<TemplateRef<{ $implicit: T }>>(TemplateRef);

  static ngTemplateContextGuard<T>(_: Cell<T>, _context: unknown): _context is { $implicit: T } {
    return true;
  }
}
