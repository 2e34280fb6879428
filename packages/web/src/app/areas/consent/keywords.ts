import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Keyword } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { List } from '../../parts/list/list';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { ConsentTabs } from './consent-tabs';
import { KeywordDocket } from './keyword-docket';
import { KeywordsStore, NEW } from './keywords.store';

/** Programmes people join by texting a word: the words, the number, who came and what is answered. */
@Component({
  selector: 'lg-keywords',
  imports: [Cell, List, Table, MatButtonModule, ConsentTabs, KeywordDocket],
  providers: [KeywordsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="keywords" [store]="store" [filters]="false">
      <ng-container actions>
        @if (store.session.isAdministrator()) {
          <button type="button" matButton="filled" (click)="store.choose(making)">Begin a keyword</button>
        }
      </ng-container>
      <lg-consent-tabs tabs />
      <ng-container nothing>
        <h2>No keyword yet</h2>
        <p>
          People text a word they read on a sign or hear on the radio, and are asked for their YES. What they were told
          is kept with it, and each may get a code.
        </p>
      </ng-container>
      <lg-table
        name="keywords"
        label="Keywords"
        [rows]="store.all()"
        [columns]="columns()"
        [key]="id"
        opening
        [open]="store.open()"
        (opened)="store.choose($event)"
      >
        <ng-template lgCell="words" [of]="store.all()" let-k>
          <button
            type="button"
            matButton
            class="plain strong mono"
            (click)="store.choose(k.id); $event.stopPropagation()"
          >
            {{ k.words.join(', ') }}
          </button>
        </ng-template>
        <ng-container none>Reading…</ng-container>
      </lg-table>
      @if (store.chosen() !== null || (store.open() === making && store.session.isAdministrator())) {
        <lg-keyword-docket docket [keyword]="store.chosen()" />
      }
    </lg-list>
  `,
})
export class KeywordsPage {
  protected readonly store = inject(KeywordsStore);
  protected readonly making = NEW;
  protected readonly id = (k: Keyword): string => k.id;
  protected readonly columns = computed((): readonly Column<Keyword>[] => [
    { id: 'words', head: 'Text', least: 120, by: (k) => k.words[0] ?? '' },
    {
      id: 'number',
      head: 'To',
      width: 150,
      face: 'mono',
      text: (k) => {
        const e164 = this.store.numbers()?.get(k.numberId)?.e164;
        return e164 ? formatPhone(e164) : '';
      },
    },
    { id: 'title', head: 'Programme', least: 130, share: 1.3, by: (k) => k.title, text: (k) => k.title },
    {
      id: 'kinds',
      head: 'Kinds of text',
      least: 120,
      leaves: 2,
      text: (k) => k.purposes.map((x) => x.purpose).join(', '),
    },
    ...(
      [
        ['new', 'New'],
        ['back', 'Came back'],
        ['already', 'In already'],
      ] as const
    ).map(([comer, head]): Column<Keyword> => ({
      id: comer,
      head,
      width: 92,
      right: true,
      leaves: 1,
      by: (k) => k.came[comer],
      text: (k) => k.came[comer].toLocaleString('en-US'),
    })),
    {
      id: 'confirmed',
      head: 'Said YES',
      width: 92,
      right: true,
      text: (k) => (k.doubleOptIn ? k.confirmed.toLocaleString('en-US') : 'not asked'),
      face: (k) => (k.doubleOptIn ? '' : 'soft'),
    },
    {
      id: 'codes',
      head: 'Codes left',
      width: 100,
      right: true,
      leaves: 1,
      text: (k) => (k.codes.given + k.codes.left === 0 ? '–' : k.codes.left.toLocaleString('en-US')),
      face: (k) => (k.codes.given > 0 && k.codes.left === 0 ? 'hold' : ''),
    },
    {
      id: 'state',
      head: 'State',
      width: 110,
      by: (k) => String(k.active),
      text: (k) => (!k.active ? 'paused' : this.store.outOfService(k.numberId) ? 'out of service' : 'live'),
      face: (k) => (!k.active ? 'hold' : this.store.outOfService(k.numberId) ? 'stop' : ''),
    },
  ]);
}
