import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Router } from '@angular/router';
import { addDispatch } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import { Api } from '../../api/api';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';

/** Begins a draft and goes to it, so that it has an address from its first word on. */
@Component({
  selector: 'lg-new-dispatch',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<div class="page">
    <div class="work"><p class="soft">Opening a sheet…</p></div>
  </div>`,
})
export class NewDispatch {
  constructor() {
    const session = inject(SessionFacade);
    const router = inject(Router);
    const say = inject(Say);
    const title = `Dispatch of ${DateTime.fromMillis(session.now(), { zone: session.business()?.timeZone ?? 'America/New_York' }).toFormat('d LLL, HH:mm', { locale: 'en-US' })}`;
    inject(Api)
      .call(addDispatch, {
        params: { businessId: session.businessId() },
        body: {
          title,
          text: '',
          purpose: null,
          transactional: false,
          stopLine: true,
          numberId: null,
          audience: { include: [], exclude: [] },
        },
      })
      .then(
        (d) => void router.navigate(['/b', session.businessId(), 'dispatch', d.id], { replaceUrl: true }),
        (error: unknown) => {
          say.problem(error);
          void router.navigate(['/b', session.businessId(), 'dispatch'], { replaceUrl: true });
        },
      );
  }
}
