import { ChangeDetectionStrategy, Component, computed, CSP_NONCE, inject, input, signal } from '@angular/core';
import { MatButtonToggleModule } from '@angular/material/button-toggle';
import { DomSanitizer } from '@angular/platform-browser';
import { afterOptInPage, optInPage, type PageSeen } from '@long-gate/core';

type Screen = 'phone' | 'desk';
const SCREENS: Record<Screen, { width: number; height: number; scale: number }> = {
  phone: { width: 360, height: 640, scale: 1 },
  desk: { width: 1100, height: 780, scale: 0.36 },
};

/** An opt-in page as it will be seen, drawn by what draws the page itself; nothing in it does anything. */
@Component({
  selector: 'lg-page-preview',
  imports: [MatButtonToggleModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="choices">
      <mat-button-toggle-group
        hideSingleSelectionIndicator
        aria-label="Screen"
        [value]="screen()"
        (change)="screen.set($event.value)"
      >
        <mat-button-toggle value="phone">On a phone</mat-button-toggle>
        <mat-button-toggle value="desk">On a desk</mat-button-toggle>
      </mat-button-toggle-group>
      <mat-button-toggle-group
        hideSingleSelectionIndicator
        aria-label="Moment"
        [value]="after()"
        (change)="after.set($event.value)"
      >
        <mat-button-toggle [value]="false">Before</mat-button-toggle>
        <mat-button-toggle [value]="true">After</mat-button-toggle>
      </mat-button-toggle-group>
    </div>
    <div class="glass" [style.width.px]="size().width * size().scale" [style.height.px]="size().height * size().scale">
      <iframe
        sandbox=""
        title="The page as people see it"
        [srcdoc]="html()"
        [style.width.px]="size().width"
        [style.height.px]="size().height"
        [style.transform]="'scale(' + size().scale + ')'"
      ></iframe>
    </div>
  `,
  styles: `
    .choices {
      display: flex;
      flex-wrap: wrap;
      gap: 10px;
      margin-bottom: 12px;
    }
    mat-button-toggle-group {
      gap: 12px;
    }
    .glass {
      overflow: hidden;
      max-width: 100%;
      border: 1px solid var(--hairline);
      border-radius: 2px;
    }
    iframe {
      display: block;
      border: 0;
      transform-origin: 0 0;
    }
  `,
})
export class PagePreview {
  readonly page = input.required<PageSeen>();
  /** The number that asks for YES, as people see it. */
  readonly from = input('');
  protected readonly screen = signal<Screen>('phone');
  protected readonly after = signal(false);
  protected readonly size = computed(() => SCREENS[this.screen()]);
  private readonly sanitizer = inject(DomSanitizer);
  private readonly nonce = inject(CSP_NONCE, { optional: true }) ?? '';
  protected readonly html = computed(() => {
    const shown = { as: 'preview', nonce: this.nonce } as const;
    const asked = { what: 'asked', shown: '+1 212-555-0123', from: this.from() || '…' } as const;
    const html = this.after() ? afterOptInPage(this.page(), asked, shown) : optInPage(this.page(), shown);
    // Everything that was written is escaped where the page is drawn, and a frame with an empty sandbox runs nothing.
    return this.sanitizer.bypassSecurityTrustHtml(html);
  });
}
