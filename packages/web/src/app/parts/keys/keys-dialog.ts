import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import { Shortcuts } from './shortcuts';

/** The keys that work on the page below. */
@Component({
  selector: 'lg-keys-dialog',
  imports: [MatButtonModule, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="dialog">
      <h2>Keys</h2>
      <dl class="facts">
        @for (s of shortcuts.table(); track s.shown + s.words) {
          <dt class="mono">{{ s.shown }}</dt>
          <dd>{{ s.words }}</dd>
        }
      </dl>
      <div class="ends"><button type="button" matButton="outlined" mat-dialog-close>Close</button></div>
    </div>
  `,
})
export class KeysDialog {
  protected readonly shortcuts = inject(Shortcuts);
}
