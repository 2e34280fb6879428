import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  linkedSignal,
  viewChildren,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { PURPOSE_WORDS, wilson, type Purpose } from '@long-gate/core';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { plain, Shortcuts } from '../../parts/keys/shortcuts';
import { PageTitle } from '../../parts/page-title';
import { SessionFacade } from '../../state/session.facade';
import { ConsentTabs } from './consent-tabs';
import { RepliesStore, type ReadAs } from './replies.store';

/** The keys that decide, as they stand on the buttons. */
const KEYS: readonly { key: string; readAs: ReadAs; words: string }[] = [
  { key: 's', readAs: 'stop', words: 'read it as a wish to stop' },
  { key: 'o', readAs: 'offers', words: 'read it as a wish for no more offers' },
  { key: 'n', readAs: 'no wish', words: 'read it as no wish to stop' },
];

/** Replies in the person's own words that may be a wish to stop: read and decided in one place, by keys. */
@Component({
  selector: 'lg-replies',
  imports: [MatButtonModule, PageTitle, ConsentTabs, RouterLink, MomentPipe, PhonePipe],
  providers: [RepliesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="replies to read" /></div>
        <lg-consent-tabs />
        <p class="soft">
          A missed wish to stop costs far more than a false one. Promotional texts to these people are held until
          somebody has read them; the law’s outer limit is ten business days.
          @if (store.decided() > 0) {
            <span class="right">{{ rightness() }}</span>
          }
        </p>
        @for (r of store.items(); track r.id) {
          <div
            #row
            class="review"
            tabindex="0"
            [class.chosen]="r.id === chosen()"
            [attr.aria-current]="r.id === chosen()"
            (focus)="chosen.set(r.id)"
          >
            <div>
              <a class="mono" [routerLink]="['/b', session.businessId(), 'inbox']" [queryParams]="{ open: r.e164 }">{{
                r.e164 | phone
              }}</a>
              {{ r.contactName }} <span class="soft small">{{ r.at | moment }}</span>
              <span class="small" [class.stop]="session.now() > r.dueBy" [class.soft]="session.now() <= r.dueBy">
                · to be decided by {{ r.dueBy | moment }}</span
              >
            </div>
            @for (t of r.before; track t.at) {
              <p class="before small soft">{{ t.direction === 'out' ? 'We' : 'They' }}: {{ t.text }}</p>
            }
            <p class="words">“{{ r.text }}”</p>
            @if (r.about === 'yes') {
              <p class="small soft">
                A YES, but not to a text of ours that asked for one. It brings nobody back in: they can say START, or
                join on the page and answer its text.
              </p>
            } @else {
              <p class="small soft">
                {{ r.stopped ? 'Stopped at once' : 'Offers held' }}, because of “{{ r.matched }}”,
                {{ (r.confidence * 100).toFixed(0) }}% sure{{ about(r.purposes) }}.
              </p>
            }
            @if (session.mayEdit()) {
              @if (r.about === 'yes') {
                @if (session.isAdministrator()) {
                  <button type="button" matButton="outlined" (click)="store.decide(r.id, 'no wish')">
                    Seen <kbd>N</kbd>
                  </button>
                }
              } @else if (r.stopped) {
                <button type="button" matButton="filled" (click)="store.decide(r.id, 'stop')">
                  Yes, they want to stop <kbd>S</kbd>
                </button>
              } @else {
                <button type="button" matButton="filled" (click)="store.decide(r.id, 'stop')">
                  A wish to stop: stop it <kbd>S</kbd>
                </button>
                <button type="button" matButton="outlined" (click)="store.decide(r.id, 'offers')">
                  No more offers <kbd>O</kbd>
                </button>
                @if (session.isAdministrator()) {
                  <button type="button" matButton="outlined" (click)="store.decide(r.id, 'no wish')">
                    No wish to stop <kbd>N</kbd>
                  </button>
                } @else {
                  <span class="soft small">That it is no wish, an administrator says: it lifts a hold.</span>
                }
              }
            }
          </div>
        } @empty {
          <div class="empty">
            <h2>{{ store.reviews.isLoading() ? 'Reading…' : 'Nothing to read' }}</h2>
            <p>Plain STOP words work by themselves; only doubtful replies come here.</p>
          </div>
        }
      </div>
    </div>
  `,
  styles: `
    .review {
      padding: 14px 0 14px 12px;
      border-bottom: 1px solid var(--hairline);
      border-left: 3px solid transparent;
      max-width: 760px;
    }
    .review.chosen {
      border-left-color: var(--primary);
    }
    .work > p {
      margin-bottom: 12px;
    }
    .before {
      margin: 2px 0;
    }
    .words {
      font-size: 16px;
      margin: 4px 0;
    }
    .right {
      margin-left: 6px;
    }
    button {
      margin: 8px 8px 0 0;
    }
    kbd {
      font: 12px var(--mono);
      opacity: 0.75;
      margin-left: 4px;
    }
  `,
})
export class RepliesPage {
  protected readonly store = inject(RepliesStore);
  protected readonly session = inject(SessionFacade);
  private readonly rows = viewChildren<ElementRef<HTMLElement>>('row');
  /** The one the keys speak of: the first, until another is chosen. */
  protected readonly chosen = linkedSignal<string[], string>({
    source: () => this.store.items().map((r) => r.id),
    computation: (ids, before) => (before && ids.includes(before.value) ? before.value : (ids[0] ?? '')),
  });
  protected readonly rightness = computed(() => {
    const [k, n] = [this.store.right(), this.store.decided()];
    const w = wilson(k, n);
    const percent = (x: number): string => `${Math.round(x * 100)}%`;
    return `Of ${n} decided so far ${k} were wishes (${percent(k / n)}${w ? `, likely ${percent(w.low)} to ${percent(w.high)}` : ''}).`;
  });

  protected about(purposes: readonly Purpose[]): string {
    return purposes.length === 3 ? '' : `; it may speak of ${purposes.map((p) => PURPOSE_WORDS[p]).join(' and ')}`;
  }

  constructor() {
    inject(Shortcuts).add(
      ...KEYS.map(({ key, readAs, words }) => ({
        shown: key.toUpperCase(),
        words,
        is: plain(key, key.toUpperCase()),
        act: () => this.decide(readAs),
      })),
      { shown: '↑ ↓', words: 'to the next reply', is: plain('ArrowUp', 'k'), act: () => this.move(-1) },
      { shown: 'j k', words: 'the same', is: plain('ArrowDown', 'j'), act: () => this.move(1) },
    );
  }

  private move(by: number): boolean {
    const items = this.store.items();
    const at = items.findIndex((r) => r.id === this.chosen());
    const next = items[Math.max(0, Math.min(items.length - 1, at + by))];
    if (!next) return false;
    this.chosen.set(next.id);
    this.rows()[items.indexOf(next)]?.nativeElement.focus();
    return true;
  }

  private decide(readAs: ReadAs): boolean {
    const r = this.store.items().find((x) => x.id === this.chosen());
    if (!r || !this.session.mayEdit() || this.store.acting.busy()) return false;
    if (readAs === 'no wish' && !this.session.isAdministrator()) return false;
    const open: ReadAs[] = r.about === 'yes' ? ['no wish'] : r.stopped ? ['stop'] : ['stop', 'offers', 'no wish'];
    if (!open.includes(readAs)) return false;
    void this.store.decide(r.id, readAs);
    return true;
  }
}
