import { FormControl, type AbstractControl } from '@angular/forms';

/**
 * The control at which a fault is shown, by the path the contract gives it; null where there is none. What is sent may
 * hold the form as its `body`. A fault of one of several words belongs to the field in which they all stand.
 */
export function controlAt(group: AbstractControl, path: string): AbstractControl | null {
  const names = path.split('.').filter((name) => name !== '');
  if (names[0] === 'body' && group.get('body') === null) names.shift();
  for (let end = names.length; end > 0; end--) {
    const found = group.get(names.slice(0, end));
    if (found && (end === names.length || found instanceof FormControl)) return found;
  }
  return null;
}
