import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { DateField } from '../../parts/form/date-field';
import type { AuditEntry } from '@long-gate/contracts';
import { ChoiceFacet } from '../../parts/choice-facet';
import { CountedPipe, MomentPipe } from '../../parts/format';
import { differencesOf } from '../../parts/history';
import { zoneOf } from '../../state/zone';
import { Cell } from '../../parts/table/cell';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { placeOf, type Place } from './audit-places';
import { AuditStore } from './audit.store';

/** Who did what, when, before and after. Nothing here is ever changed or deleted. */
@Component({
  selector: 'lg-audit-settings',
  imports: [Cell, ChoiceFacet, DateField, Table, MatButtonModule, MatInputModule, MomentPipe, CountedPipe, RouterLink],
  providers: [AuditStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="narrow" role="group" aria-label="What is shown">
      <lg-choice-facet
        label="Who"
        [values]="people()"
        [chosen]="store.address().actor"
        (picked)="store.set({ actor: $event })"
      />
      <lg-choice-facet
        label="Thing"
        name="Kind of thing"
        [values]="kinds()"
        [chosen]="store.address().objectKind"
        (picked)="store.set({ objectKind: $event, objectId: null, whole: null })"
      />
      <mat-form-field
        ><input
          matInput
          #words
          data-filter
          type="search"
          placeholder="words of what was done"
          aria-label="Words of what was done"
          maxlength="80"
          [value]="store.address().action ?? ''"
          (change)="store.set({ action: words.value.trim() || null })"
      /></mat-form-field>
      <div class="days">
        <lg-date-field
          label="From day"
          narrowing
          name="from-day"
          empty="any day"
          [value]="store.address().from ?? ''"
          (changed)="store.set({ from: $event || null })"
        />
        <lg-date-field
          label="To day"
          narrowing
          name="to-day"
          empty="any day"
          [value]="store.address().to ?? ''"
          (changed)="store.set({ to: $event || null })"
        />
      </div>
    </div>
    <p class="ends">
      <a matButton="outlined" [href]="store.file()" download>Export</a>
      @if (store.address().objectId) {
        <button
          type="button"
          matButton
          class="plain"
          (click)="store.set({ objectKind: null, objectId: null, whole: null })"
        >
          of all, not of {{ narrowed() }}
        </button>
      }
      <span class="soft"
        >{{ store.total() | counted: 'entry' : 'entries' }}, newest first. Nothing here is ever changed or
        deleted.</span
      >
    </p>
    @if (store.problem(); as p) {
      <div class="problem" role="alert">
        {{ p.message }} <button type="button" matButton class="plain" (click)="store.again()">Try again</button>
      </div>
    }
    <lg-table label="Changes" [rows]="store.rows()" [columns]="columns" [key]="id">
      <ng-template lgCell="when" [of]="store.rows()" let-e>{{ e.at | moment }}</ng-template>
      <ng-template lgCell="what" [of]="store.rows()" let-e>
        {{ e.action }}
        @if (e.saves > 1) {
          <span class="soft small">{{ e.saves }} saves since {{ e.since | moment: 'short' }}</span>
        }
      </ng-template>
      <ng-template lgCell="thing" [of]="store.rows()" let-e>
        @if (placeOf(e); as to) {
          <a [routerLink]="to.link" [queryParams]="to.query">{{ e.objectName || e.objectKind }}</a>
        } @else {
          {{ e.objectName }}
        }
        <div class="small soft">
          @if (e.objectName) {
            {{ e.objectKind }}
          }
          <button
            type="button"
            matButton
            class="plain"
            [attr.aria-label]="'only this ' + e.objectKind + ' ' + e.objectName"
            (click)="store.set({ objectKind: e.objectKind, objectId: e.objectId, whole: 'yes' })"
          >
            only this
          </button>
        </div>
      </ng-template>
      <ng-template lgCell="changed" [of]="store.rows()" let-e>
        @for (d of differences(e); track d.what) {
          <div>
            <span class="soft">{{ d.what }}</span>
            @if (d.before) {
              <del class="stop">{{ d.before }}</del>
            }
            {{ d.after }}
          </div>
        }
      </ng-template>
      <ng-container none>{{
        store.loading() ? 'Reading…' : narrowedBy() ? 'Nothing on record is like that.' : 'Nothing yet.'
      }}</ng-container>
    </lg-table>
    @if (!store.ended() && store.total()) {
      <p><button type="button" matButton="outlined" (click)="store.more()">Show more</button></p>
    }
  `,
  styles: `
    .narrow {
      display: flex;
      flex-wrap: wrap;
      gap: 10px 24px;
      align-items: center;
    }
    .narrow mat-form-field {
      width: 230px;
    }
    .days {
      display: flex;
      flex-wrap: wrap;
      gap: 16px;
    }
    .days lg-date-field {
      width: 170px;
    }
    .ends {
      display: flex;
      flex-wrap: wrap;
      gap: 10px;
      align-items: center;
      margin: 4px 0 12px;
    }
    .small {
      margin-right: 6px;
    }
    del {
      margin: 0 4px;
    }
  `,
})
export class AuditSettings {
  protected readonly store = inject(AuditStore);
  protected readonly id = (e: AuditEntry): string => e.id;
  protected readonly columns: readonly Column<AuditEntry>[] = [
    { id: 'when', head: 'When', face: 'soft nowrap', width: 140 },
    { id: 'who', head: 'Who', text: (e) => e.actor, width: 130 },
    { id: 'what', head: 'What', face: 'strong', least: 140, share: 1.2 },
    { id: 'thing', head: 'Of what', face: 'anywhere', least: 140, share: 1.2 },
    { id: 'changed', head: 'Changed', face: 'small anywhere', least: 160, share: 1.4 },
  ];

  protected placeOf(e: AuditEntry): Place | null {
    return placeOf(e, this.store.session.businessId());
  }

  protected readonly people = computed(() => this.store.people().map((value) => ({ value, label: value })));
  protected readonly kinds = computed(() => this.store.kinds().map((value) => ({ value, label: value })));

  protected readonly narrowedBy = computed(() => Object.keys(this.store.filters()).length > 0);
  /** The one thing that is shown, by its name. */
  protected readonly narrowed = computed(() => {
    const { objectId, objectKind } = this.store.address();
    return this.store.rows().find((e) => e.objectId === objectId)?.objectName || `one ${objectKind ?? 'thing'}`;
  });

  protected differences(e: AuditEntry) {
    return differencesOf(e, zoneOf(this.store.session.business())).slice(0, 6);
  }
}
