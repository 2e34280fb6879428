import { inject, Injectable, signal } from '@angular/core';
import { keepTable, type TableName } from '@long-gate/contracts';
import { Api } from '../api/api';
import { SessionFacade } from './session.facade';
import { AS_IT_WAS, type Kept } from '../parts/table/column';

/** How long nothing is changed before it is sent: an edge that is drawn changes with every pixel. */
const REST_MS = 600;

/** How each person has each table: kept with their account, so that it is the same wherever they sign in. */
@Injectable({ providedIn: 'root' })
export class KeptTables {
  private readonly session = inject(SessionFacade);
  private readonly api = inject(Api);
  /** What was changed since the session was read, by person and table. */
  private readonly changed = signal<Readonly<Record<string, Kept>>>({});
  private readonly waiting = new Map<string, ReturnType<typeof setTimeout>>();

  of(table: TableName): Kept {
    return this.changed()[this.key(table)] ?? this.session.session()?.tables[table] ?? AS_IT_WAS;
  }

  /** Where the server does not answer, the table stays so until the page is left, and is sent with the next change. */
  keep(table: TableName, kept: Kept): void {
    const key = this.key(table);
    this.changed.update((all) => ({ ...all, [key]: kept }));
    clearTimeout(this.waiting.get(key));
    const send = (): void =>
      void this.api.call(keepTable, { params: { name: table }, body: kept }).catch(() => undefined);
    this.waiting.set(key, setTimeout(send, REST_MS));
  }

  private key(table: TableName): string {
    return `${this.session.session()?.user?.id ?? ''} ${table}`;
  }
}
