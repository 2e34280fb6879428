import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatIconModule, MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { mdiChevronDown, mdiChevronRight, mdiClose } from '@mdi/js';

/** The signs of the interface, drawn in a square of 24: each beside words, or with a name for whoever does not see it. */
const SIGNS = { close: mdiClose, down: mdiChevronDown, right: mdiChevronRight };
export type Sign = keyof typeof SIGNS;

/** A sign as tall as the line it stands in. It says nothing by itself: what it stands in has words or a label. */
@Component({
  selector: 'lg-icon',
  imports: [MatIconModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<mat-icon inline aria-hidden="true" [svgIcon]="known()" />`,
  styles: `
    :host {
      display: inline-block;
      width: 1em;
      height: 1em;
      vertical-align: -0.15em;
      line-height: 1;
    }
    mat-icon {
      display: block;
      line-height: 1;
    }
  `,
})
export class Icon {
  readonly sign = input.required<Sign>();
  private readonly registry = inject(MatIconRegistry);
  private readonly sanitizer = inject(DomSanitizer);
  /** Made known to Material where it is first drawn: only what is drawn is. */
  protected readonly known = computed(() => {
    const name = `lg-${this.sign()}`;
    const drawing = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="${SIGNS[this.sign()]}"/></svg>`;
    this.registry.addSvgIconLiteral(name, this.sanitizer.bypassSecurityTrustHtml(drawing));
    return name;
  });
}
