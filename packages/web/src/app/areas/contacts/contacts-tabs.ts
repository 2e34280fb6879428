import { ChangeDetectionStrategy, Component } from '@angular/core';
import { Tabs } from '../../parts/tabs';

@Component({
  selector: 'lg-contacts-tabs',
  imports: [Tabs],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-tabs label="Contacts" area="contacts" [tabs]="tabs" />`,
})
export class ContactsTabs {
  protected readonly tabs = [
    { path: '', text: 'List' },
    { path: 'unreached', text: 'Cannot be reached' },
    { path: 'duplicates', text: 'Duplicates' },
    { path: 'fields', text: 'Own fields' },
    { path: 'intake', text: 'Bring in' },
  ];
}
