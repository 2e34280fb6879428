import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { beginHosted, listHosted, type HostedView } from '@long-gate/contracts';
import { Api, type ApiProblem } from '../../../api/api';
import { DocketKeys } from '../../../parts/docket-keys';
import { MomentPipe, PhonePipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { liveResource } from '../../../state/live-resource';
import { SessionFacade } from '../../../state/session.facade';
import { NumbersTabs } from '../numbers-tabs';
import { HostedDocket } from './hosted-docket';

const TONE: Record<HostedView['state'], string> = {
  draft: 'note',
  submitted: 'hold',
  refused: 'stop',
  on: 'pass',
  off: 'soft',
  cancelled: 'soft',
};

/** Numbers that keep their voice service where it is, with texting added here. */
@Component({
  selector: 'lg-hosted',
  imports: [MatInputModule, MatButtonModule, PageTitle, NumbersTabs, HostedDocket, DocketKeys, PhonePipe, MomentPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page" [lgDocketKeys]="ids()" [open]="open()" (chosen)="choose($event)">
      <div class="work">
        <div class="head"><lg-page-title what="hosted numbers" /></div>
        <lg-numbers-tabs />
        @if (session.isAdministrator()) {
          <form class="begin" (submit)="begin($event)">
            <div class="field" [class.wrong]="wrong()">
              <label for="number">A landline or toll-free number that shall text</label>
              <div class="line">
                <mat-form-field
                  ><input
                    matInput
                    id="number"
                    class="mono"
                    inputmode="tel"
                    autocomplete="off"
                    [value]="number()"
                    (input)="number.set($any($event.target).value)" /></mat-form-field
                ><button type="submit" matButton="filled" [disabled]="busy()">
                  {{ busy() ? 'Testing…' : 'Begin' }}
                </button>
              </div>
              @if (wrong()) {
                <p class="error" role="alert">{{ wrong() }}</p>
              }
            </div>
          </form>
        }
        @if (hosted.error()) {
          <div class="problem" role="alert">
            {{ hosted.error()?.message }}
            <button type="button" matButton class="plain" (click)="hosted.reload()">Try again</button>
          </div>
        } @else if (hosted.hasValue() && all().length === 0) {
          <div class="empty">
            <h2>No hosted number</h2>
            <p>
              A number people already call can text without leaving its carrier: calls go on as before, texts come here.
              It takes a signed letter, a code read out in a call to the line, and some days. Not possible for a mobile.
            </p>
          </div>
        } @else {
          <table class="ledger">
            <thead>
              <tr>
                <th>Number</th>
                <th>Voice stays with</th>
                <th>Texting</th>
                <th>Next step</th>
                <th>Submitted</th>
              </tr>
            </thead>
            <tbody>
              @for (h of all(); track h.id) {
                <tr class="go" [class.chosen]="h.id === open()" (click)="choose(h.id)">
                  <td>
                    <button type="button" matButton class="plain mono" (click)="choose(h.id); $event.stopPropagation()">
                      {{ h.e164 | phone }}
                    </button>
                  </td>
                  <td>{{ h.voiceCarrier || '–' }}</td>
                  <td [class]="tone[h.state]">{{ h.state }}</td>
                  <td>{{ h.nextStep.title }}</td>
                  <td class="soft">{{ h.submittedAt | moment: 'day' }}</td>
                </tr>
              } @empty {
                <tr>
                  <td colspan="5" class="soft">Reading…</td>
                </tr>
              }
            </tbody>
          </table>
        }
      </div>
      @if (chosen(); as h) {
        <lg-hosted-docket class="docket" [hosted]="h" (closed)="choose(null)" (changed)="hosted.reload()" />
      }
    </div>
  `,
  styles: `
    .begin {
      max-width: 420px;
    }
    .line {
      display: flex;
      gap: 8px;
    }
  `,
})
export class HostedPage {
  readonly open = input<string>();
  /** A number to begin with, as another page knows it. */
  readonly e164 = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionFacade);
  protected readonly tone = TONE;
  protected readonly hosted = liveResource(
    ['numbers'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listHosted, { params: { businessId } }),
  );
  protected readonly all = computed(() => (this.hosted.hasValue() ? (this.hosted.value()?.items ?? []) : []));
  protected readonly ids = computed(() => this.all().map((h) => h.id));
  protected readonly chosen = computed(() => this.all().find((h) => h.id === this.open()) ?? null);
  private readonly typed = signal<string | null>(null);
  protected readonly number = Object.assign(
    computed(() => this.typed() ?? this.e164() ?? ''),
    { set: (v: string) => this.typed.set(v) },
  );
  protected readonly wrong = signal('');
  protected readonly busy = signal(false);
  private key = crypto.randomUUID();

  protected choose(id: string | null): void {
    void this.router.navigate([], { queryParams: { open: id }, queryParamsHandling: 'merge' });
  }

  protected async begin(event: Event): Promise<void> {
    event.preventDefault();
    this.wrong.set(this.number().trim() === '' ? 'Write the number.' : '');
    if (this.wrong()) return;
    this.busy.set(true);
    try {
      const made = await this.api.call(beginHosted, {
        params: { businessId: this.session.businessId() },
        body: { number: this.number() },
        key: this.key,
      });
      this.key = crypto.randomUUID();
      this.number.set('');
      this.hosted.reload();
      this.choose(made.id);
    } catch (error) {
      this.wrong.set((error as ApiProblem).message);
    } finally {
      this.busy.set(false);
    }
  }
}
