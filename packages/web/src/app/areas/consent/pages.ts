import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { addPage, editPage, listNumbers, listPages, OptInPageEdit, type OptInPage } from '@long-gate/contracts';
import { Api, type ApiProblem } from '../../api/api';
import { CountPipe, PhonePipe } from '../../parts/format';
import { History } from '../../parts/history';
import { PageTitle } from '../../parts/page-title';
import { Say } from '../../parts/say';
import { checkWith, problemsInto } from '../../parts/schema-form';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';
import { ConsentTabs } from './consent-tabs';

interface Draft {
  id: string | null;
  version: number;
  slug: string;
  title: string;
  intro: string;
  informational: string;
  informationalOften: string;
  promotional: string;
  promotionalOften: string;
  numberId: string;
  privacyUrl: string;
  termsUrl: string;
  published: boolean;
}

/** Public opt-in pages: what they say, which number confirms, and their address. */
@Component({
  selector: 'lg-pages',
  imports: [MatCheckboxModule, MatInputModule, MatButtonModule, PageTitle, ConsentTabs, History, CountPipe, PhonePipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head">
          <lg-page-title what="opt-in pages" />
          @if (session.isAdministrator()) {
            <button type="button" matButton="filled" (click)="begin()">Make a page</button>
          }
        </div>
        <lg-consent-tabs />
        @if ((pages.value()?.items ?? []).length === 0 && pages.hasValue()) {
          <div class="empty">
            <h2>No opt-in page yet</h2>
            <p>
              A page of your own where people enter their number and choose, unticked, what they want. Every opt-in is
              kept with the exact words they saw.
            </p>
          </div>
        } @else {
          <table class="ledger">
            <thead>
              <tr>
                <th>Page</th>
                <th>Address</th>
                <th>Kinds of text</th>
                <th class="right">Opt-ins</th>
                <th>State</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              @for (p of pages.value()?.items ?? []; track p.id) {
                <tr [class.chosen]="draft()?.id === p.id">
                  <td class="strong">{{ p.title }}</td>
                  <td>
                    <a [href]="'/join/' + p.slug" target="_blank" rel="noopener">/join/{{ p.slug }}</a>
                  </td>
                  <td>{{ kinds(p) }}</td>
                  <td class="right">{{ p.optIns | count }}</td>
                  <td [class.hold]="!p.published">{{ p.published ? 'published' : 'not published' }}</td>
                  <td class="right">
                    @if (session.isAdministrator()) {
                      <button type="button" matButton class="plain" (click)="edit(p)">Edit</button>
                    }
                  </td>
                </tr>
              }
            </tbody>
          </table>
        }
      </div>
      @if (draft(); as d) {
        <aside class="docket">
          <div class="kind">
            <span>Opt-in page</span
            ><button type="button" matButton class="plain" (click)="draft.set(null)">Close</button>
          </div>
          <form (submit)="save(); $event.preventDefault()">
            @for (f of fields; track f.key) {
              <div class="field" [class.wrong]="errors()[f.at]">
                <label [for]="f.key"
                  >{{ f.label }} <span>{{ f.hint }}</span></label
                >
                @if (f.long) {
                  <mat-form-field>
                    <textarea matInput [id]="f.key" [value]="$any(d)[f.key]" (input)="set(f.key, $event)"></textarea>
                  </mat-form-field>
                } @else {
                  <mat-form-field
                    ><input matInput [id]="f.key" [value]="$any(d)[f.key]" (input)="set(f.key, $event)"
                  /></mat-form-field>
                }
                @if (errors()[f.at]) {
                  <p class="error" role="alert">{{ errors()[f.at] }}</p>
                }
              </div>
            }
            <div class="field" [class.wrong]="errors()['numberId']">
              <label for="numberId">Number that asks for YES</label>
              <mat-form-field
                ><select matNativeControl id="numberId" (change)="set('numberId', $event)">
                  <option value="">choose…</option>
                  @for (n of numbers.value()?.items ?? []; track n.id) {
                    @if (n.state === 'active' && n.kind !== 'sender ID') {
                      <option [value]="n.id" [selected]="n.id === d.numberId">
                        {{ n.e164 | phone }} {{ n.label }}{{ n.deciding ? ' (' + n.deciding.why + ')' : '' }}
                      </option>
                    }
                  }
                </select></mat-form-field
              >
              @if (errors()['numberId']) {
                <p class="error" role="alert">{{ errors()['numberId'] }}</p>
              }
            </div>
            <mat-checkbox class="check" [checked]="d.published" (change)="publish($event.checked)"
              >Published</mat-checkbox
            >
            @if (errors()['']) {
              <p class="error" role="alert">{{ errors()[''] }}</p>
            }
            <p class="soft small">
              Name, automated texts, no condition, rates, HELP, STOP and both pages are added to each kind. Changed
              words get a new version; whoever agreed keeps the words they saw.
            </p>
            <button type="submit" matButton="filled">Save</button>
            <button type="button" matButton="outlined" (click)="draft.set(null)">Cancel</button>
          </form>
          @if (d.id) {
            <lg-history kind="page" [object]="d.id" />
          }
        </aside>
      }
    </div>
  `,
  styles: `
    form > p {
      margin: 10px 0;
    }
  `,
})
export class PagesPage {
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly pages = liveResource(
    ['consent'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listPages, { params: { businessId } }),
  );
  protected readonly numbers = liveResource(
    ['numbers'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listNumbers, { params: { businessId } }),
  );
  protected readonly draft = signal<Draft | null>(null);
  protected readonly errors = signal<Record<string, string>>({});
  protected readonly fields = [
    { key: 'title', at: 'title', label: 'Title', hint: '', long: false },
    { key: 'slug', at: 'slug', label: 'Address after /join/', hint: '', long: false },
    { key: 'intro', at: 'intro', label: 'A line of welcome', hint: '', long: true },
    {
      key: 'informational',
      at: 'purposes',
      label: 'Notices: what is sent',
      hint: 'empty: not offered',
      long: true,
    },
    {
      key: 'informationalOften',
      at: 'informationalOften',
      label: 'Notices: how often',
      hint: 'as they happen',
      long: false,
    },
    {
      key: 'promotional',
      at: 'promotional',
      label: 'Offers: what is sent',
      hint: 'empty: not offered',
      long: true,
    },
    {
      key: 'promotionalOften',
      at: 'promotionalOften',
      label: 'Offers: how often',
      hint: 'about four a month',
      long: false,
    },
    { key: 'privacyUrl', at: 'privacyUrl', label: 'Privacy page', hint: '', long: false },
    { key: 'termsUrl', at: 'termsUrl', label: 'Terms page', hint: '', long: false },
  ];

  protected kinds(p: OptInPage): string {
    return p.purposes.map((x) => x.purpose).join(', ');
  }
  protected begin(): void {
    this.errors.set({});
    this.draft.set({
      id: null,
      version: 0,
      slug: '',
      title: '',
      intro: '',
      informational: '',
      informationalOften: '',
      promotional: '',
      promotionalOften: '',
      numberId: '',
      privacyUrl: '',
      termsUrl: '',
      published: true,
    });
  }
  protected edit(p: OptInPage): void {
    this.errors.set({});
    const [notices, offers] = ['informational', 'promotional'].map((k) => p.purposes.find((x) => x.purpose === k));
    this.draft.set({
      ...p,
      informational: notices?.label ?? '',
      informationalOften: notices?.frequency ?? '',
      promotional: offers?.label ?? '',
      promotionalOften: offers?.frequency ?? '',
    });
  }
  protected set(key: string, event: Event): void {
    const value = (event.target as HTMLInputElement).value;
    this.draft.update((d) => (d ? { ...d, [key]: value } : d));
  }
  protected publish(published: boolean): void {
    this.draft.update((d) => (d ? { ...d, published } : d));
  }
  protected async save(): Promise<void> {
    const d = this.draft();
    if (!d) return;
    const purposes = (['informational', 'promotional'] as const)
      .filter((p) => d[p].trim() !== '')
      .map((purpose) => ({ purpose, label: d[purpose], frequency: d[`${purpose}Often`] }));
    const body = {
      slug: d.slug,
      title: d.title,
      intro: d.intro,
      purposes,
      numberId: d.numberId,
      privacyUrl: d.privacyUrl,
      termsUrl: d.termsUrl,
      published: d.published,
    };
    const wrong = checkWith(OptInPageEdit, body);
    for (const [i, p] of purposes.entries()) {
      const [label, often] = [wrong[`purposes.${i}.label`], wrong[`purposes.${i}.frequency`]];
      if (label) wrong[p.purpose === 'informational' ? 'purposes' : 'promotional'] = label;
      if (often) wrong[`${p.purpose}Often`] = often;
    }
    this.errors.set(wrong);
    if (Object.keys(wrong).length > 0) return;
    const businessId = this.session.businessId();
    try {
      if (d.id) await this.api.call(editPage, { params: { businessId, id: d.id }, version: d.version, body });
      else await this.api.call(addPage, { params: { businessId }, body });
      this.draft.set(null);
      this.say.done('Saved.');
      this.pages.reload();
    } catch (error) {
      this.errors.set(problemsInto(error as ApiProblem));
    }
  }
}
