import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { TextLinkPolicyShape, type TextLinksOfDispatch, type TextLinksRead } from '@long-gate/contracts';
import { ownPageLink, readLinkDomain, segmentText } from '@long-gate/core';
import { Confirm } from '../../../parts/confirm';
import { CheckedForm } from '../../../parts/form/checked-form';
import { ChoiceField } from '../../../parts/form/choice-field';
import { readOf } from '../../../parts/form/control-state';
import { text } from '../../../parts/form/controls';
import { Faults } from '../../../parts/form/faults';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { CountedPipe, CountPipe, MomentPipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { TextLinksStore } from './text-links.store';

const counting = (of: 'sent' | 'joined' | 'awaited' | 'kept' | 'ended') => ({
  id: of,
  width: 84,
  face: 'mono',
  right: true,
  text: (x: TextLinksOfDispatch): string => x[of].toLocaleString('en-US'),
});

/** Links in texts to each reader's own page: where they stand, which page is behind them, and what came of them. */
@Component({
  selector: 'lg-text-links',
  imports: [
    Cell,
    ChoiceField,
    ConsentTabs,
    CountedPipe,
    CountPipe,
    Faults,
    Form,
    MatButtonModule,
    MomentPipe,
    PageTitle,
    RouterLink,
    Table,
    TextField,
  ],
  providers: [TextLinksStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="links in texts" /></div>
        <lg-consent-tabs />
        @if (store.policy.error(); as e) {
          <div class="problem" role="alert">
            {{ e.message }}
            <button type="button" matButton class="plain" (click)="store.policy.reload()">Try again</button>
          </div>
        }
        <form [lgForm]="form" (sent)="save()" class="narrow">
          <p class="soft small">
            A text can carry a link to its reader’s own page: what they get from you, what they could get, and a way to
            end it. Each text has another link, and only the handset gets it whole; here it is shown without its key.
            What somebody joins within a day of the text counts like the YES of their handset; later a YES is asked for.
            The domain is one of yours that its DNS leads to this server.
          </p>
          @if (store.policy.value()?.pages?.length === 0) {
            <p class="problem">
              There is no opt-in page yet whose kinds of text could be offered.
              <a [routerLink]="['/b', store.session.businessId(), 'consent', 'pages']">Make one</a>
            </p>
          }
          <div class="row-fields">
            <lg-text-field
              [control]="form.controls.domain"
              label="Domain of the links"
              name="domain"
              placeholder="texts.ferries.example"
            />
            <lg-choice-field
              [control]="form.controls.pageId"
              label="Offers the kinds of text of"
              name="page"
              none="choose…"
              [choices]="pages()"
            />
          </div>
          @if (sample(); as s) {
            <p class="small sample">
              Each text carries <span class="mono small">{{ s.link }}</span><span class="soft"
                >, {{ s.units | counted: 'character' }}</span
              >
            </p>
          }
          <lg-faults [form]="form" />
          @if (store.session.isAdministrator()) {
            <button type="submit" matButton="filled" [disabled]="!changed() || form.busy()">Save</button>
            <button type="button" matButton="outlined" [disabled]="!changed()" (click)="again()">As it was</button>
          } @else {
            <p class="soft small">An administrator changes it.</p>
          }
        </form>
        <section>
          <h2>What came of them</h2>
          @if (store.problem(); as e) {
            <div class="problem" role="alert">
              {{ e.message }}
              <button type="button" matButton class="plain" (click)="store.again()">Try again</button>
            </div>
          }
          @if (store.rows().length > 0) {
            <lg-table
              name="text-links"
              label="What came of links in texts, by dispatch"
              [rows]="store.rows()"
              [columns]="columns()"
              [key]="id"
              (near)="store.more()"
            >
              <ng-template lgCell="title" [of]="store.rows()" let-x>
                @if (x.dispatchId) {
                  <a [routerLink]="['/b', store.session.businessId(), 'dispatch', x.dispatchId]">{{ x.title }}</a>
                } @else {
                  <span class="soft">answers and tests, of no dispatch</span>
                }
              </ng-template>
              <ng-template lgCell="last" [of]="store.rows()" let-x>{{ x.lastAt | moment: 'short' }}</ng-template>
              <ng-template lgCell="opened" [of]="store.rows()" let-x>
                {{ x.opened | count }} <span class="bar" [style.width.px]="share(x)"></span>
              </ng-template>
              <ng-template lgCell="open" [of]="store.rows()" let-x>
                @if (x.open > 0) {
                  <button
                    type="button"
                    matButton
                    class="plain"
                    [disabled]="store.acting.busy()"
                    [attr.aria-label]="'Take back ' + x.open + ' links of ' + (x.title || 'answers and tests')"
                    (click)="withdraw(x)"
                  >
                    Take back {{ x.open | count }}…
                  </button>
                }
              </ng-template>
            </lg-table>
            <p class="soft small">
              By what each chose last. Networks may look at a link before they deliver it: more can be opened than
              people opened; nothing is chosen by that.
            </p>
          } @else if (!store.loading() && !store.problem()) {
            <p class="soft">
              No text has carried one yet. In a dispatch, put the caret where it shall stand and choose “Insert link to
              their page”.
            </p>
          }
        </section>
      </div>
    </div>
  `,
  styles: `
    .narrow {
      max-width: 680px;
    }
    .row-fields {
      margin-top: 10px;
    }
    .sample {
      overflow-wrap: anywhere;
    }
    h2 {
      margin: 24px 0 6px;
    }
    .narrow button {
      margin: 12px 8px 0 0;
    }
    .bar {
      display: inline-block;
      height: 6px;
      background: var(--primary);
      vertical-align: middle;
    }
  `,
})
export class TextLinksPage {
  protected readonly store = inject(TextLinksStore);
  private readonly confirm = inject(Confirm);
  protected readonly form = new CheckedForm({ domain: text(), pageId: text() }, TextLinkPolicyShape);
  private readonly typed = readOf(
    () => this.form.group,
    () => this.form.group.getRawValue(),
  );
  /** What stood in the form before anything was typed. */
  private readonly shown = signal<TextLinksRead | null>(null);
  protected readonly changed = computed(() => {
    const [typed, shown] = [this.typed(), this.shown()];
    return !!typed && !!shown && (typed.domain !== shown.domain || typed.pageId !== shown.pageId);
  });
  protected readonly pages = computed(() =>
    (this.store.policy.value()?.pages ?? []).map((x) => ({
      value: x.id,
      label: x.live ? x.title : `${x.title} (paused)`,
    })),
  );
  /** The link as it stands in every text, and what of the text it takes. */
  protected readonly sample = computed(() => {
    const read = readLinkDomain(this.typed()?.domain ?? '');
    if (!read.ok) return null;
    const link = ownPageLink(read.domain);
    return { link, units: segmentText(link).units };
  });
  protected readonly id = (x: TextLinksOfDispatch): string => x.dispatchId;
  protected readonly columns = computed((): readonly Column<TextLinksOfDispatch>[] => [
    { id: 'title', head: 'Dispatch', least: 150 },
    { id: 'last', head: 'Left last', width: 120, leaves: 3 },
    { head: 'Sent', ...counting('sent') },
    { id: 'opened', head: 'Opened', width: 130, face: 'mono' },
    { head: 'Joined', ...counting('joined') },
    { head: 'YES awaited', ...counting('awaited'), width: 100, leaves: 2 },
    { head: 'Kept', ...counting('kept'), leaves: 1 },
    { head: 'Ended', ...counting('ended') },
    ...(this.store.session.isAdministrator() ? [{ id: 'open', head: 'Not answered', width: 130, leaves: 4 }] : []),
  ]);

  constructor() {
    effect(() => {
      // What others do meanwhile is no reason to lose what is being typed; saving says so.
      if (this.store.policy.hasValue())
        untracked(() => {
          if (!this.changed()) this.again();
        });
    });
  }

  /** How wide the bar is of those who opened theirs, in pixels. */
  protected share(x: TextLinksOfDispatch): number {
    return x.sent > 0 ? Math.round((60 * x.opened) / x.sent) : 0;
  }
  /** What is kept stands in the form again. */
  protected again(): void {
    const kept = this.store.policy.value();
    if (!kept) return;
    this.shown.set(kept);
    this.form.group.reset({ domain: kept.domain, pageId: kept.pageId });
    if (this.store.session.isAdministrator()) this.form.group.enable();
    else this.form.group.disable();
  }
  protected async save(): Promise<void> {
    const version = this.shown()?.version ?? 0;
    if (await this.form.send((body) => this.store.save(body, version))) this.again();
  }
  protected async withdraw(x: TextLinksOfDispatch): Promise<void> {
    const links = x.open === 1 ? 'One link' : `${x.open.toLocaleString('en-US')} links`;
    const yes = await this.confirm.ask({
      title: 'Take back the links nobody answered',
      line: `No cost. ${links} of “${x.title || 'answers and tests'}” will lead nowhere; whoever answered keeps theirs. It cannot be undone.`,
      yes: 'Take them back',
    });
    if (yes) await this.store.withdraw(x.dispatchId);
  }
}
