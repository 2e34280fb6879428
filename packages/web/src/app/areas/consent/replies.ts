import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { decideReview, listReviews } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { PageTitle } from '../../parts/page-title';
import { Say } from '../../parts/say';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';
import { ConsentTabs } from './consent-tabs';

/** Replies in the person's own words that may be a wish to stop. */
@Component({
  selector: 'lg-replies',
  imports: [PageTitle, ConsentTabs, RouterLink, MomentPipe, PhonePipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <div class="work">
        <div class="head"><lg-page-title what="replies to read" /></div>
        <lg-consent-tabs />
        <p class="soft">
          A missed wish to stop costs far more than a false one. Promotional texts to these people are held until
          somebody has read them; the law’s outer limit is ten business days.
        </p>
        @for (r of reviews.value()?.items ?? []; track r.id) {
          <div class="review">
            <div>
              <a class="mono" [routerLink]="['/b', session.businessId(), 'inbox']" [queryParams]="{ open: r.e164 }">{{
                r.e164 | phone
              }}</a>
              {{ r.contactName }} <span class="soft small">{{ r.at | moment }}</span>
            </div>
            <p class="words">“{{ r.text }}”</p>
            <p class="small soft">
              {{ r.stopped ? 'Stopped at once' : 'Held' }}, because of “{{ r.matched }}”,
              {{ (r.confidence * 100).toFixed(0) }}% sure.
            </p>
            @if (session.mayEdit()) {
              <button type="button" class="do main" (click)="decide(r.id, true)">
                {{ r.stopped ? 'Yes, they want to stop' : 'A wish to stop: stop it' }}
              </button>
              @if (!r.stopped) {
                <button type="button" class="do" (click)="decide(r.id, false)">No wish to stop</button>
              }
            }
          </div>
        } @empty {
          <div class="empty">
            <h2>{{ reviews.isLoading() ? 'Reading…' : 'Nothing to read' }}</h2>
            <p>Plain STOP words work by themselves; only doubtful replies come here.</p>
          </div>
        }
      </div>
    </div>
  `,
  styles: `
    .review {
      padding: 14px 0;
      border-bottom: 1px solid var(--hairline);
      max-width: 720px;
    }
    .words {
      font-size: 16px;
      margin: 4px 0;
    }
    button {
      margin: 8px 8px 0 0;
    }
  `,
})
export class RepliesPage {
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly session = inject(SessionFacade);
  protected readonly reviews = liveResource(
    ['consent', 'inbox'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listReviews, { params: { businessId } }),
  );

  protected async decide(id: string, stop: boolean): Promise<void> {
    try {
      await this.api.call(decideReview, { params: { businessId: this.session.businessId(), id }, body: { stop } });
      this.say.done(stop ? 'Stopped, counting from when they wrote.' : 'Read as no wish to stop.');
      this.reviews.reload();
    } catch (error) {
      this.say.problem(error);
    }
  }
}
