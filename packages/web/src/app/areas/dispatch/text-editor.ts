import { ChangeDetectionStrategy, Component, effect, ElementRef, input, output, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MERGE_FIELDS, parseMerge, type MergeField } from '@long-gate/core';

/** Writes a text in which merge fields are chips; gives out the written form, such as `Hello [firstName|friend]`. */
@Component({
  selector: 'lg-text-editor',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      #sheet
      class="sheet"
      [attr.contenteditable]="disabled() ? null : 'true'"
      role="textbox"
      aria-multiline="true"
      aria-label="Text"
      (input)="changed()"
      (blur)="changed()"
      (paste)="paste($event)"
      (keydown.enter)="line($event)"
    ></div>
    @if (!disabled()) {
      <div class="insert">
        @for (f of fields; track f.name) {
          <button
            type="button"
            matButton
            class="plain small"
            (mousedown)="$event.preventDefault()"
            (click)="insert(f.name)"
          >
            Insert {{ f.label }}
          </button>
        }
      </div>
    }
  `,
  styles: `
    .sheet {
      min-height: 88px;
      padding: 9px 12px;
      background: var(--surface);
      border: 1px solid var(--hairline);
      border-radius: 2px;
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
    .sheet:focus {
      outline: 2px solid var(--primary);
      outline-offset: -1px;
    }
    .sheet:empty::before {
      content: 'Write what the contacts shall read…';
      color: var(--ink-soft);
    }
    .insert {
      display: flex;
      gap: 16px;
      margin-top: 4px;
    }
    :host ::ng-deep .merge {
      display: inline-block;
      padding: 0 6px;
      margin: 0 1px;
      background: var(--primary-wash);
      border: 1px solid var(--hairline);
      border-radius: 2px;
      cursor: pointer;
    }
    :host ::ng-deep .merge.lacks {
      border-color: var(--stop);
      color: var(--stop);
    }
  `,
})
export class TextEditor {
  readonly text = input.required<string>();
  readonly disabled = input(false);
  readonly written = output<string>();
  private readonly sheet = viewChild.required<ElementRef<HTMLDivElement>>('sheet');
  protected readonly fields = Object.entries(MERGE_FIELDS).map(([name, label]) => ({
    name: name as MergeField,
    label,
  }));
  private shown: string | null = null;

  constructor() {
    effect(() => {
      const text = this.text();
      // What was just typed stands already; drawing it again would move the caret.
      if (text === this.shown) return;
      this.draw(text);
    });
  }

  private draw(text: string): void {
    const el = this.sheet().nativeElement;
    el.replaceChildren(
      ...parseMerge(text).map((p) =>
        p.kind === 'text' ? document.createTextNode(p.text) : this.chip(p.name, p.fallback),
      ),
    );
    this.shown = text;
  }

  private chip(name: string, fallback: string | null): HTMLElement {
    const span = document.createElement('span');
    span.className = fallback ? 'merge' : 'merge lacks';
    span.contentEditable = 'false';
    span.dataset['name'] = name;
    span.dataset['fallback'] = fallback ?? '';
    const label = name in MERGE_FIELDS ? MERGE_FIELDS[name as MergeField] : name;
    span.textContent = fallback ? `${label}, else “${fallback}”` : `${label}, no fallback`;
    span.title = 'Change the fallback';
    span.tabIndex = 0;
    span.setAttribute('role', 'button');
    const ask = (): void => this.askFallback(span);
    span.addEventListener('click', ask);
    span.addEventListener('keydown', (e) => {
      if (e.key === 'Enter') {
        e.preventDefault();
        e.stopPropagation();
        ask();
      }
    });
    return span;
  }

  /** The chip becomes a small field for its fallback. */
  private askFallback(span: HTMLElement): void {
    if (this.disabled()) return;
    const field = document.createElement('input');
    field.className = 'text';
    field.style.width = '140px';
    field.style.display = 'inline-block';
    field.value = span.dataset['fallback'] ?? '';
    field.placeholder = 'fallback';
    field.setAttribute('aria-label', 'Fallback when the contact has none');
    // Taking the field out of the page blurs it once more.
    let finished = false;
    const done = (): void => {
      if (finished) return;
      finished = true;
      field.replaceWith(this.chip(span.dataset['name'] ?? '', field.value.replace(/[\][|]/g, '').trim() || null));
      this.changed();
    };
    field.addEventListener('blur', done);
    field.addEventListener('keydown', (e) => {
      if (e.key === 'Enter' || e.key === 'Escape') {
        e.preventDefault();
        e.stopPropagation();
        done();
      }
    });
    span.replaceWith(field);
    field.focus();
  }

  protected insert(name: MergeField): void {
    const el = this.sheet().nativeElement;
    const chip = this.chip(name, null);
    const selection = getSelection();
    if (selection && selection.rangeCount > 0 && el.contains(selection.anchorNode)) {
      const range = selection.getRangeAt(0);
      range.deleteContents();
      range.insertNode(chip);
    } else el.append(chip);
    this.changed();
    this.askFallback(chip);
  }

  protected line(event: Event): void {
    event.preventDefault();
    this.insertPlain('\n');
  }

  protected paste(event: ClipboardEvent): void {
    event.preventDefault();
    this.insertPlain(event.clipboardData?.getData('text/plain') ?? '');
  }

  /** Puts plain text in place of the selection and the caret behind it. */
  private insertPlain(text: string): void {
    const selection = getSelection();
    if (!selection || selection.rangeCount === 0) return;
    const range = selection.getRangeAt(0);
    range.deleteContents();
    range.insertNode(document.createTextNode(text));
    range.collapse(false);
    this.changed();
  }

  protected changed(): void {
    const text = this.read(this.sheet().nativeElement);
    if (text === this.shown) return;
    this.shown = text;
    this.written.emit(text);
  }

  private read(node: Node): string {
    let out = '';
    node.childNodes.forEach((n) => {
      if (n instanceof HTMLElement && n.dataset['name'])
        out += n.dataset['fallback'] ? `[${n.dataset['name']}|${n.dataset['fallback']}]` : `[${n.dataset['name']}]`;
      else if (n instanceof HTMLInputElement) return;
      else if (n.nodeName === 'BR') out += '\n';
      else if (n instanceof HTMLElement) out += this.read(n);
      else out += (n.textContent ?? '').replaceAll('\u00a0', ' ');
    });
    return out;
  }
}
