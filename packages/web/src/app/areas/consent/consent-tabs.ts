import { ChangeDetectionStrategy, Component } from '@angular/core';
import { Tabs } from '../../parts/tabs';

@Component({
  selector: 'lg-consent-tabs',
  imports: [Tabs],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-tabs label="Consent" area="consent" [tabs]="tabs" />`,
})
export class ConsentTabs {
  protected readonly tabs = [
    { path: '', text: 'Ledger' },
    { path: 'coverage', text: 'Coverage' },
    { path: 'sources', text: 'Ways in and out' },
    { path: 'pages', text: 'Opt-in pages' },
    { path: 'keywords', text: 'Keywords' },
    { path: 'invitations', text: 'Invitations' },
    { path: 'text-links', text: 'Links in texts' },
    { path: 'expiry', text: 'Expiry' },
    { path: 'claims', text: 'Claims' },
    { path: 'forms', text: 'Filed forms' },
    { path: 'replies', text: 'Replies to read' },
    { path: 'suppression', text: 'Suppression lists' },
    { path: 'evidence', text: 'Evidence' },
    { path: 'as-of', text: 'As of a day' },
  ];
}
