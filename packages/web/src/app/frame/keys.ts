import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatDialogModule } from '@angular/material/dialog';
import { MatButtonModule } from '@angular/material/button';

@Component({
  selector: 'lg-keys',
  imports: [MatButtonModule, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2 id="keys-title">Keys</h2>
      <dl class="facts">
        @for (k of keys; track k[0]) {
          <dt class="mono">{{ k[0] }}</dt>
          <dd>{{ k[1] }}</dd>
        }
      </dl>
      <div class="ends"><button type="button" matButton="outlined" mat-dialog-close>Close</button></div>
    </div>
  `,
})
export class Keys {
  protected readonly keys = [
    ['Ctrl+K', 'find a place, an object or an action'],
    ['Alt+1…9', 'go to an area'],
    ['/', 'filter the list'],
    ['↑ ↓', 'move in the list'],
    ['Enter', 'open the docket'],
    ['Esc', 'close the docket or dialog'],
    ['?', 'these keys'],
  ] as const;
}
