import { inject, Injectable } from '@angular/core';
import { Title } from '@angular/platform-browser';
import { TitleStrategy, type ActivatedRouteSnapshot, type RouterStateSnapshot } from '@angular/router';
import { SessionFacade } from '../state/session.facade';

const OWN = ' · Long Gate';

/** The browser's tab says the place, and in a business which one: several may be open beside each other. */
@Injectable()
export class TabTitle extends TitleStrategy {
  private readonly title = inject(Title);
  private readonly facade = inject(SessionFacade);

  override updateTitle(state: RouterStateSnapshot): void {
    const title = this.buildTitle(state);
    if (title === undefined) return;
    const name = this.facade.session()?.businesses.find((b) => b.id === businessIn(state.root))?.nameLine;
    this.title.setTitle(name ? title.replace(OWN, ` · ${name}${OWN}`) : title);
  }
}

function businessIn(at: ActivatedRouteSnapshot | null): string | null {
  if (!at) return null;
  return at.paramMap.get('businessId') ?? businessIn(at.firstChild);
}
