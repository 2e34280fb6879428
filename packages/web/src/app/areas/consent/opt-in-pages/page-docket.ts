import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { OptInPage } from '@long-gate/contracts';
import { formatPhone, PURPOSE_WORDS, reviewPage } from '@long-gate/core';
import { Docket } from '../../../parts/docket/docket';
import { CountPipe, MomentPipe } from '../../../parts/format';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { PagesStore } from './pages.store';

/** What comes of a page, step by step. */
const STEPS = [
  { key: 'seen', name: 'seen' },
  { key: 'begun', name: 'begun' },
  { key: 'agreed', name: 'agreed' },
  { key: 'confirmed', name: 'confirmed' },
] as const;
type Version = OptInPage['versions'][number];

/** An opt-in page: what came of it, where it is shown, what can be printed, and how it was. */
@Component({
  selector: 'lg-page-docket',
  imports: [CountPipe, Docket, MatButtonModule, MomentPipe, RouterLink, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-docket
      kind="Opt-in page"
      [name]="page().title"
      [next]="next()"
      history="page"
      [object]="page().id"
      (closed)="store.choose(null)"
    >
      <ng-container step>
        @if (store.session.isAdministrator() && mustMend() > 0) {
          <a [routerLink]="editor()" [queryParams]="{ open: page().id }">Mend it</a>
        }
      </ng-container>
      <p class="ends">
        @if (store.session.isAdministrator()) {
          <a matButton="filled" [routerLink]="editor()" [queryParams]="{ open: page().id }">Write it</a>
        }
        <a matButton="outlined" [href]="'/join/' + page().slug" target="_blank" rel="noopener">Open the page</a>
      </p>
      <p>
        <span class="soft small">{{ stands() }} at</span>
        <span class="mono small address">{{ page().address }}</span>
        <span class="soft small">asks for YES from {{ from() }}</span>
      </p>
      <h3>In 26 weeks</h3>
      <dl>
        @for (s of funnel(); track s.name) {
          <dt>{{ s.name }}</dt>
          <dd>
            <span class="bar" [style.width.%]="s.share"></span> <span class="mono">{{ s.n | count }}</span>
          </dd>
        }
      </dl>
      <p class="soft small">
        Seen and begun are visits; agreed and confirmed are kinds of text, of which a visit may choose two.
        <a
          [routerLink]="['/b', store.session.businessId(), 'consent', 'sources']"
          [queryParams]="{ open: 'web page|' + page().slug, purpose: page().purposes[0]?.purpose }"
          >Who stayed, and who left</a
        >
      </p>
      @if (page().versions.length > 0) {
        <h3>By version of its words</h3>
        <lg-table label="By version of its words" [rows]="page().versions" [columns]="columns" [key]="no" />
      }
      @for (k of page().purposes; track k.purpose) {
        <h3>{{ kind(k.purpose) }}</h3>
        <p>
          {{ k.label }} <span class="soft">{{ k.frequency }}</span>
        </p>
      }
      @if (page().onSite; as on) {
        <h3>On your own site</h3>
        <p class="soft small">
          {{ on.place }}, on {{ on.devices === 'all' ? 'phones and desks' : on.devices }}, shown by
          {{ on.sites.join(', ') }}. Put this line where the form shall stand, or at the end of each page:
        </p>
        <p class="mono small snippet">{{ snippet() }}</p>
        <p>
          <button type="button" matButton class="plain" (click)="copy()">Copy the line</button>
          <span class="pass small" role="status">{{ copied() ? 'On your clipboard.' : '' }}</span>
          @if (trial(); as url) {
            <a class="small" [href]="url" target="_blank" rel="noopener">See it on the simulated site</a>
          }
        </p>
      }
      <h3>For print</h3>
      <p>
        QR code as <a [href]="store.code(page().id, 'svg')" download>SVG</a> or
        <a [href]="store.code(page().id, 'png')" download>PNG</a>
      </p>
      <p>
        Form to be signed as <a [href]="store.paper(page().id, 1)" download>PDF</a>, or a
        <a [href]="store.paper(page().id, STACK)" download>stack of {{ STACK }}</a
        >; what is signed is filed by its scan
      </p>
      @if (store.versions().length > 0) {
        <h3>As it was</h3>
        <ul class="versions">
          @for (v of store.versions(); track v.sha256) {
            <li>
              <a [href]="store.version(v.sha256)" download>{{ v.firstAt | moment }}</a>
              <span class="soft small">“{{ v.title }}”, words of version {{ v.pageVersion }}</span>
            </li>
          }
        </ul>
      }
    </lg-docket>
  `,
  styles: `
    p {
      margin: 8px 0;
    }
    h3 {
      margin: 16px 0 4px;
    }
    .address,
    .snippet {
      display: block;
      overflow-wrap: anywhere;
    }
    .snippet {
      padding: 8px;
      border: 1px solid var(--hairline);
      border-radius: 2px;
      user-select: all;
    }
    dl {
      display: grid;
      grid-template-columns: 84px 1fr;
      gap: 4px 10px;
      margin: 0;
    }
    dd {
      display: flex;
      gap: 8px;
      align-items: center;
      margin: 0;
    }
    .bar {
      flex: none;
      max-width: calc(100% - 70px);
      height: 10px;
      min-width: 1px;
      background: var(--primary);
    }
    .versions a {
      margin-right: 6px;
    }
    .versions {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    .ends {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
    }
  `,
})
export class PageDocket {
  readonly page = input.required<OptInPage>();
  protected readonly store = inject(PagesStore);
  /** Sheets for a counter. */
  protected readonly STACK = 50;
  protected readonly copied = signal(false);
  protected readonly editor = computed(() => ['/b', this.store.session.businessId(), 'consent', 'pages', 'write']);
  protected readonly snippet = computed(() => `<script src="${this.page().address}/form.js" async></script>`);
  /** The site that the simulated outside plays, where it is one of those that may show the form. */
  protected readonly trial = computed(() => {
    const site = this.store.session.simulatedSite();
    return site && this.page().onSite?.sites.includes(new URL(site).origin)
      ? `${site}/${this.page().slug}?app=${encodeURIComponent(new URL(this.page().address).origin)}`
      : '';
  });
  protected readonly from = computed(() => {
    const number = this.store.numbers()?.get(this.page().numberId);
    return number ? formatPhone(number.e164) : 'a number that is no longer active';
  });
  protected readonly stands = computed(() =>
    !this.page().published ? 'Paused' : this.store.outOfService(this.page().numberId) ? 'Out of service' : 'Live',
  );
  protected readonly mustMend = computed(() => {
    const [p, b] = [this.page(), this.store.session.business()];
    const draft = {
      ...p,
      purposes: p.purposes.map((k) => ({ ...k, language: p.language })),
      picture: p.picture ? { words: p.pictureWords } : null,
    };
    const names = { legalName: b?.legalName ?? '', nameLine: b?.nameLine ?? '' };
    return reviewPage(draft, names).filter((f) => f.severity === 'block').length;
  });
  protected readonly next = computed(() => {
    const n = this.mustMend();
    if (n > 0) return { title: `${n} to mend`, why: 'in its words.', tone: 'stop' as const };
    if (!this.page().published) return { title: 'Paused.', why: 'Nobody can join by it.', tone: 'hold' as const };
    if (this.store.outOfService(this.page().numberId))
      return {
        title: 'Nobody can join.',
        why: `${this.from()}, which asks for the YES, is not in service. Choose another number, or pause the page.`,
        tone: 'stop' as const,
      };
    return null;
  });
  protected readonly funnel = computed(() => {
    const all = STEPS.map((s) => ({ name: s.name, n: this.page().weeks.reduce((sum, w) => sum + w[s.key], 0) }));
    const most = Math.max(1, ...all.map((s) => s.n));
    return all.map((s) => ({ ...s, share: (s.n / most) * 100 }));
  });
  protected readonly no = (v: Version): string => String(v.pageVersion);
  protected readonly columns: readonly Column<Version>[] = [
    { id: 'version', head: 'Words', width: 54, text: (v) => (v.pageVersion === 0 ? '?' : String(v.pageVersion)) },
    ...STEPS.map((s): Column<Version> => ({
      id: s.key,
      head: s.name,
      least: 60,
      right: true,
      text: (v) => v[s.key].toLocaleString('en-US'),
    })),
  ];
  protected kind(purpose: OptInPage['purposes'][number]['purpose']): string {
    const words = PURPOSE_WORDS[purpose];
    return words.charAt(0).toUpperCase() + words.slice(1);
  }
  protected async copy(): Promise<void> {
    await navigator.clipboard.writeText(this.snippet());
    this.copied.set(true);
  }
}
