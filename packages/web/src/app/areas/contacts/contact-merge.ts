import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { MergePreview } from '@long-gate/contracts';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { ContactStore } from './contact.store';

/** Who may be the same person, what merging would make of the two, and taking a merge back. */
@Component({
  selector: 'lg-contact-merge',
  imports: [MatButtonModule, MomentPipe, PhonePipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.known(); as c) {
      @if (c.merged; as m) {
        <p class="small">
          {{ m.name }} was merged into it, {{ m.at | moment }}, {{ m.by }}.
          @if (store.session.mayEdit()) {
            <button
              type="button"
              matButton
              class="plain"
              [disabled]="store.acting.busy()"
              (click)="store.undoMerge(m.id)"
            >
              Take it back
            </button>
          }
        </p>
      }
      @for (a of c.alike; track a.id) {
        <p class="hold-note">
          {{ a.name || 'A contact without a name' }}, <span class="mono">{{ a.e164 | phone }}</span>, has the same
          e-mail.
          @if (store.session.mayEdit()) {
            <button type="button" matButton class="plain" [disabled]="store.acting.busy()" (click)="look(c.id, a.id)">
              Merge…
            </button>
          }
        </p>
      }
      @if (preview(); as p) {
        <section aria-label="What merging makes of them">
          <h3>One contact of two</h3>
          <dl class="facts">
            @for (f of p.facts; track f.what) {
              <dt>{{ f.what }}</dt>
              <dd>
                {{ f.then }}
                @if (f.gone && f.gone !== f.then) {
                  <span class="soft small">“{{ f.gone }}” goes</span>
                }
              </dd>
            }
            <dt>Numbers</dt>
            <dd>
              @for (n of p.numbers; track n.e164) {
                <div>
                  <span class="mono">{{ n.e164 | phone }}</span>
                  <span class="soft small">{{ n.preferred ? 'texts go here' : '' }}</span>
                </div>
              }
            </dd>
            <dt>Lists, tags</dt>
            <dd>{{ p.lists.join(', ') || 'none' }}</dd>
          </dl>
          @for (b of p.bars; track b) {
            <p class="stop small">{{ b }}</p>
          }
          <p class="soft small">No cost. It can be taken back; the ledger is not changed by it.</p>
          <button type="button" matButton="filled" [disabled]="store.acting.busy()" (click)="merge(p)">
            Merge them
          </button>
          <button type="button" matButton="outlined" (click)="turn(p)">Keep the other’s facts</button>
          <button type="button" matButton="outlined" (click)="preview.set(null)">Cancel</button>
        </section>
      }
    }
  `,
  styles: `
    section {
      padding: 10px 12px;
      margin: 8px 0;
      border: 1px solid var(--hairline);
      border-left: 3px solid var(--primary);
    }
    h3 {
      margin: 0 0 6px;
    }
    p {
      margin: 6px 0;
    }
    button {
      margin-right: 8px;
    }
    .hold-note {
      padding-left: 10px;
      border-left: 3px solid var(--hold);
    }
  `,
})
export class ContactMerge {
  /** The contact that is left, which may be the other one. */
  readonly kept = output<string>();
  protected readonly store = inject(ContactStore);
  private readonly id = computed(() => this.store.known()?.id);
  protected readonly preview = linkedSignal<string | undefined, MergePreview | null>({
    source: this.id,
    computation: () => null,
  });

  protected async look(kept: string, gone: string): Promise<void> {
    this.preview.set((await this.store.acting.run(() => this.store.previewMerge(kept, gone))) ?? null);
  }
  /** The other way round: the contact that is not open is kept. */
  protected turn(p: MergePreview): Promise<void> {
    return this.look(p.goneId, p.keptId);
  }
  protected async merge(p: MergePreview): Promise<void> {
    if (await this.store.merge(p)) {
      this.preview.set(null);
      this.kept.emit(p.keptId);
    }
  }
}
