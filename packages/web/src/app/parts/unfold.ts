import { CdkAccordionModule } from '@angular/cdk/accordion';
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Icon } from './icon';

/** A line that unfolds what stands behind it. Slots: `line`, and the rest. */
@Component({
  selector: 'lg-unfold',
  imports: [CdkAccordionModule, MatButtonModule, Icon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div cdkAccordionItem #item="cdkAccordionItem">
      <button
        type="button"
        matButton
        class="plain"
        [attr.aria-expanded]="item.expanded"
        [attr.aria-controls]="item.id + '-more'"
        (click)="item.toggle()"
      >
        <span class="line"
          ><lg-icon [sign]="item.expanded ? 'down' : 'right'" /><span><ng-content select="[line]" /></span
        ></span>
      </button>
      <div class="more" [id]="item.id + '-more'" [hidden]="!item.expanded"><ng-content /></div>
    </div>
  `,
  styles: `
    :host {
      display: block;
      padding: 3px 0;
    }
    button {
      width: 100%;
      white-space: normal;
      --mat-button-text-label-text-color: var(--ink);
    }
    .line {
      display: grid;
      grid-template-columns: 16px 1fr;
      gap: 2px;
      margin-left: -4px;
      font-size: 13px;
    }
    .more {
      margin-left: 18px;
    }
  `,
})
export class Unfold {}
