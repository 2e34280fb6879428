import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Router } from '@angular/router';
import { DispatchStore } from './dispatch.store';

/** Begins a draft and goes to it, so that it has an address from its first word on. */
@Component({
  selector: 'lg-new-dispatch',
  providers: [DispatchStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<div class="page">
    <div class="work"><p class="soft">Opening a sheet…</p></div>
  </div>`,
})
export class NewDispatch {
  constructor() {
    const store = inject(DispatchStore);
    const router = inject(Router);
    void store.add().then((id) => {
      const to = ['/b', store.session.businessId(), 'dispatch', ...(id ? [id] : [])];
      void router.navigate(to, { replaceUrl: true });
    });
  }
}
