import { inject, Injectable } from '@angular/core';
import { SessionFacade } from '../../state/session.facade';
import { AS_IT_WAS, type Kept } from './column';

/** How each person has each table, kept in this browser. */
@Injectable({ providedIn: 'root' })
export class KeptTables {
  private readonly session = inject(SessionFacade);

  of(table: string): Kept {
    try {
      const kept = localStorage.getItem(this.name(table));
      return kept === null ? AS_IT_WAS : { ...AS_IT_WAS, ...(JSON.parse(kept) as Partial<Kept>) };
    } catch {
      return AS_IT_WAS;
    }
  }

  keep(table: string, kept: Kept): void {
    try {
      localStorage.setItem(this.name(table), JSON.stringify(kept));
    } catch {
      // A browser that keeps nothing: until the page is left it stays as it is now.
    }
  }

  private name(table: string): string {
    return `table ${this.session.session()?.user?.id ?? ''} ${table}`;
  }
}
