import { FormControl } from '@angular/forms';

/** A control that holds words and is never null. */
export const text = (value = ''): FormControl<string> => new FormControl(value, { nonNullable: true });

/** A control that holds yes or no. */
export const flag = (value = false): FormControl<boolean> => new FormControl(value, { nonNullable: true });
