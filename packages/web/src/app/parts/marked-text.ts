import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Finding } from '@long-gate/core';

/** A text with the words that findings speak of underlined, each with the number of its finding. */
@Component({
  selector: 'lg-marked-text',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `@for (piece of pieces(); track $index) {
    <span [class]="piece.class" [attr.title]="piece.title">{{ piece.text }}</span>
    @if (piece.no) {
      <sup [class]="piece.tone">{{ piece.no }}</sup>
    }
  }`,
  styles: `
    :host {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
    sup {
      font-weight: 700;
      font-size: 11px;
    }
  `,
})
export class MarkedText {
  readonly text = input.required<string>();
  readonly findings = input.required<readonly (Finding & { no: number })[]>();

  protected readonly pieces = computed(() => {
    const text = this.text();
    const marks = this.findings()
      .flatMap((f) => (f.span ? [{ ...f.span, f }] : []))
      .sort((a, b) => a.start - b.start || b.end - a.end);
    const out: { text: string; class: string; title: string | null; no: number; tone: string }[] = [];
    let at = 0;
    for (const m of marks) {
      if (m.start < at) continue;
      if (m.start > at) out.push({ text: text.slice(at, m.start), class: '', title: null, no: 0, tone: '' });
      out.push({
        text: text.slice(m.start, m.end),
        class: `mark ${m.f.severity}`,
        title: m.f.message,
        no: m.f.no,
        tone: m.f.severity === 'block' ? 'stop' : m.f.severity === 'risk' ? 'hold' : 'note',
      });
      at = m.end;
    }
    if (at < text.length) out.push({ text: text.slice(at), class: '', title: null, no: 0, tone: '' });
    return out;
  });
}
