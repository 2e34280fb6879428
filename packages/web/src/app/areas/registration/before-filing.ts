import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { DEFAULT_PRICES, formatAmount } from '@long-gate/core';
import { Weight } from '../../parts/weight';
import { SessionFacade } from '../../state/session.facade';
import { DossierStore } from './dossier.store';

/** What account, identity, brand and money still lack before anything more can be filed, each with its place. */
@Component({
  selector: 'lg-before-filing',
  imports: [RouterLink, Weight],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (lacking().length > 0) {
      <div class="plaque">
        <h2>First</h2>
        <ul>
          @for (l of lacking(); track l.words) {
            <li>
              <lg-weight weight="hold" />
              <a [routerLink]="['/b', session.businessId()].concat(l.place)">{{ l.words }}</a>
              <span class="soft">{{ l.why }}</span>
            </li>
          }
        </ul>
      </div>
    }
  `,
  styles: `
    .plaque {
      margin-bottom: 14px;
    }
    ul {
      margin: 6px 0 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      gap: 8px;
      align-items: baseline;
      padding: 3px 0;
      flex-wrap: wrap;
    }
  `,
})
export class BeforeFiling {
  protected readonly session = inject(SessionFacade);
  private readonly store = inject(DossierStore);
  protected readonly lacking = computed(() => {
    const d = this.store.dossier.value();
    const business = this.session.business();
    if (!d || !business) return [];
    const out: { words: string; why: string; place: string[] }[] = [];
    if (business.accountState !== 'open')
      out.push({
        words: 'Open the account',
        why: `It is ${business.accountState}; the registrar takes filings of open accounts alone.`,
        place: ['settings', 'business'],
      });
    const blocking = d.brand.findings.filter((f) => f.severity === 'block').length;
    const filed = d.brand.state === 'registered' || d.brand.state === 'in review';
    if (!filed && blocking > 0)
      out.push({
        words: 'Complete the legal identity',
        why: `${blocking} ${blocking === 1 ? 'thing is' : 'things are'} to mend before the brand can be submitted.`,
        place: ['registration', 'brand'],
      });
    const campaignsWait = d.campaigns.some((c) => c.state === 'draft' || c.state === 'declined');
    if (d.brand.state !== 'registered' && (campaignsWait || d.tollFree.length > 0))
      out.push({
        words: d.brand.state === 'in review' ? 'Wait for the brand' : 'Register the brand',
        why: 'Campaigns and toll-free numbers are filed under a registered brand.',
        place: ['registration', 'brand'],
      });
    // What is filed next costs so much.
    const next = !filed ? DEFAULT_PRICES.brand : campaignsWait ? DEFAULT_PRICES.campaignReview : 0;
    const short = next - business.balance;
    if (short > 0)
      out.push({
        words: `Top up ${formatAmount(short)}`,
        why: `${!filed ? 'The brand' : 'A campaign'} costs ${formatAmount(next)}; ${formatAmount(business.balance)} is there.`,
        place: ['settings', 'money'],
      });
    return out;
  });
}
