import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { MatInputModule } from '@angular/material/input';
import { SEARCH_MOST } from '@long-gate/contracts';
import { AREAS } from './areas';
import { FrameStore } from './frame.store';
import { Theme } from './theme';

interface Hit {
  kind: string;
  title: string;
  detail: string;
  go: () => void;
}

/** Places, objects and actions by a few letters or digits. */
@Component({
  selector: 'lg-finder',
  imports: [MatInputModule],
  providers: [FrameStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="finder">
      <mat-form-field
        ><input
          matInput
          #field
          type="text"
          [attr.maxlength]="longest"
          placeholder="A place, a name, a number…"
          aria-label="Find a place, a name or a number"
          role="combobox"
          [attr.aria-expanded]="hits().length > 0"
          [attr.aria-controls]="hits().length > 0 ? 'found' : null"
          [attr.aria-activedescendant]="hits().length > 0 ? 'hit-' + at() : null"
          [value]="store.words()"
          (input)="type($event)"
          (keydown)="onKey($event)"
      /></mat-form-field>
      @if (hits().length > 0) {
        <ul id="found" role="listbox" aria-label="Found">
          @for (hit of hits(); track $index) {
            <li
              role="option"
              [id]="'hit-' + $index"
              [attr.aria-selected]="$index === at()"
              [class.at]="$index === at()"
              (click)="hit.go()"
              (keydown.enter)="hit.go()"
              (mouseenter)="at.set($index)"
              tabindex="-1"
            >
              <span class="soft kind">{{ hit.kind }}</span><span class="strong cut">{{ hit.title }}</span
              ><span class="soft cut">{{ hit.detail }}</span>
            </li>
          }
        </ul>
      } @else {
        <p class="soft none" role="status">{{ store.found.isLoading() ? 'Looking…' : 'Nothing by these words.' }}</p>
      }
    </div>
  `,
  styles: `
    .finder {
      padding: 14px;
    }
    ul {
      margin-top: 8px;
      max-height: 380px;
      overflow: auto;
    }
    li {
      display: grid;
      grid-template-columns: 92px minmax(0, 1.4fr) minmax(0, 1fr);
      gap: 8px;
      padding: 6px 8px;
      border-bottom: 1px solid var(--hairline);
      cursor: pointer;
    }
    li.at {
      background: var(--primary-wash);
    }
    .none {
      padding: 14px 8px 6px;
    }
    .kind {
      font-size: 12px;
    }
  `,
})
export class Finder {
  /** No more is asked for, and so no more can be typed. */
  protected readonly longest = SEARCH_MOST;
  protected readonly store = inject(FrameStore);
  private readonly router = inject(Router);
  private readonly session = this.store.session;
  private readonly theme = inject(Theme);
  private readonly ref = inject<MatDialogRef<Finder>>(MatDialogRef);
  protected readonly at = signal(0);
  private readonly fixed: Hit[] = [
    ...AREAS.map((a) => ({ kind: 'place', title: a.label, detail: '', go: () => this.open(a.path) })),
    { kind: 'action', title: 'Get a number', detail: 'Numbers', go: () => this.open('numbers/acquire') },
    { kind: 'action', title: 'Bring contacts in', detail: 'Contacts', go: () => this.open('contacts/intake') },
    { kind: 'action', title: 'Write a dispatch', detail: 'Dispatch', go: () => this.open('dispatch/new') },
    { kind: 'action', title: 'Verify the ledger', detail: 'Consent', go: () => this.open('consent') },
    { kind: 'action', title: 'Top up the balance', detail: 'Settings', go: () => this.open('settings/money') },
    { kind: 'action', title: 'Turn the theme', detail: 'light and dark', go: () => this.done(() => this.theme.turn()) },
  ];
  protected readonly hits = computed<Hit[]>(() => {
    const q = this.store.words().trim().toLowerCase();
    const businesses = (this.session.session()?.businesses ?? []).map((b) => ({
      kind: 'business',
      title: b.legalName,
      detail: '',
      go: () => this.done(() => void this.router.navigate(['/b', b.id, 'today'])),
    }));
    const places = [...this.fixed, ...businesses].filter((h) => `${h.title} ${h.detail}`.toLowerCase().includes(q));
    const objects = (this.store.found.hasValue() ? this.store.found.value() : []).map((f) => ({
      kind: f.kind,
      title: f.title,
      detail: f.detail,
      go: () => this.open(f.link),
    }));
    return [...objects, ...places].slice(0, 30);
  });

  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');

  constructor() {
    // Whoever opens it types at once.
    afterNextRender(() => this.field().nativeElement.focus());
  }

  protected type(event: Event): void {
    this.store.words.set((event.target as HTMLInputElement).value);
    this.at.set(0);
  }

  protected onKey(event: KeyboardEvent): void {
    const last = Math.max(0, this.hits().length - 1);
    if (event.key === 'ArrowDown') this.go(Math.min(last, this.at() + 1));
    else if (event.key === 'ArrowUp') this.go(Math.max(0, this.at() - 1));
    else if (event.key === 'Enter') this.hits()[this.at()]?.go();
    else return;
    event.preventDefault();
  }

  /** The list moves with it, where it is longer than its room. */
  private go(to: number): void {
    this.at.set(to);
    this.host.querySelectorAll('li')[to]?.scrollIntoView({ block: 'nearest' });
  }

  private open(link: string): void {
    this.done(() => void this.router.navigateByUrl(`/b/${this.session.businessId()}/${link}`));
  }

  private done(action: () => void): void {
    this.ref.close();
    action();
  }
}
