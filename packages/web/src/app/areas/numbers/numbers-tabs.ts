import { ChangeDetectionStrategy, Component } from '@angular/core';
import { Tabs } from '../../parts/tabs';

@Component({
  selector: 'lg-numbers-tabs',
  imports: [Tabs],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-tabs label="Numbers" area="numbers" [tabs]="tabs" />`,
})
export class NumbersTabs {
  protected readonly tabs = [
    { path: '', text: 'Inventory' },
    { path: 'acquire', text: 'Get a number' },
    { path: 'route', text: 'A number you have' },
    { path: 'ports', text: 'Port desk' },
    { path: 'hosted', text: 'Hosted numbers' },
    { path: 'senders', text: 'Sender IDs' },
    { path: 'countries', text: 'Countries' },
  ];
}
