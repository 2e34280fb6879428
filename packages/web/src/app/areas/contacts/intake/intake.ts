import { ChangeDetectionStrategy, Component, computed, inject, signal, type OnDestroy } from '@angular/core';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { beginIntake, cancelIntake, listIntakes, listLists, sendIntakeRows, storeIntake } from '@long-gate/contracts';
import { Api } from '../../../api/api';
import { FileButton } from '../../../parts/file-button';
import { CountPipe, MomentPipe, PhonePipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { Say } from '../../../parts/say';
import { liveResource } from '../../../state/live-resource';
import { SessionFacade } from '../../../state/session.facade';
import { COLUMN_USES, USE_LABELS, type ColumnUse, type Group, type ReadRow } from './reading';
import type { FromWorker, ToWorker } from './intake.worker';

const MAX_BYTES = 200 * 1024 * 1024;
const CHUNK = 2000;

/** Bringing contacts in: read, map, check, decide, store. */
@Component({
  selector: 'lg-intake',
  imports: [
    FileButton,
    MatCheckboxModule,
    MatInputModule,
    MatButtonModule,
    PageTitle,
    RouterLink,
    MatProgressBarModule,
    CountPipe,
    MomentPipe,
    PhonePipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './intake.html',
  styles: `
    .drop {
      border: 1px dashed var(--ink-soft);
      padding: 18px 20px;
      background: var(--surface);
    }
    .drop.over {
      border-color: var(--primary);
      background: var(--primary-wash);
    }
    .drop textarea {
      margin: 8px 0;
      font-family: var(--mono);
      font-size: 13px;
    }
    .map {
      display: flex;
      gap: 12px;
      overflow-x: auto;
      padding: 6px 0 12px;
    }
    .map > div {
      min-width: 150px;
    }
    .map .eg {
      font-family: var(--mono);
      font-size: 12px;
      color: var(--ink-soft);
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      max-width: 170px;
    }
    h2 {
      margin: 18px 0 6px;
    }
    .store {
      display: flex;
      flex-wrap: wrap;
      gap: 16px;
      align-items: end;
      max-width: 760px;
    }
    .store .field {
      flex: 1;
      min-width: 220px;
      margin: 0;
    }
    td {
      height: auto !important;
      padding-block: 6px !important;
    }
    tr.member {
      background: var(--surface);
    }
    td:nth-child(3) {
      white-space: nowrap;
    }
  `,
})
export class IntakePage implements OnDestroy {
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionFacade);
  private worker: Worker | null = null;
  protected readonly uses = COLUMN_USES;
  protected readonly labels = USE_LABELS;
  protected readonly fileName = signal('');
  protected readonly pasted = signal('');
  protected readonly over = signal(false);
  protected readonly refusal = signal('');
  protected readonly opened = signal<Extract<FromWorker, { kind: 'opened' }> | null>(null);
  protected readonly mapping = signal<ColumnUse[]>([]);
  protected readonly progress = signal<{ done: number; total: number; what: string } | null>(null);
  protected readonly read = signal<{ total: number; groups: Group[]; kept: number } | null>(null);
  protected readonly opener = signal('');
  protected readonly members = signal<{ rows: ReadRow[]; more: boolean } | null>(null);
  protected readonly listName = signal('');
  protected readonly claim = signal('');
  protected readonly sending = signal(false);
  private stop = false;
  private answered: ((rows: ReadRow[]) => void) | null = null;
  protected readonly lists = liveResource(
    ['contacts'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listLists, { params: { businessId } }),
  );
  protected readonly earlier = liveResource(
    ['contacts', 'jobs'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(listIntakes, { params: { businessId } }),
  );
  protected readonly sums = computed(() => {
    const groups = this.read()?.groups ?? [];
    const sum = (test: (g: Group) => boolean): number => groups.filter(test).reduce((n, g) => n + g.count, 0);
    return {
      ok: sum((g) => g.outcome === 'ok'),
      look: sum((g) => g.outcome === 'look'),
      repeat: sum((g) => g.outcome === 'repeat'),
      refused: sum((g) => g.outcome === 'refused'),
      dropped: sum((g) => !g.keep && g.outcome !== 'refused'),
    };
  });

  protected words(outcome: Group['outcome']): string {
    return { ok: 'ok', look: 'to look at', repeat: 'repeat', refused: 'refused' }[outcome];
  }

  protected async take(file: File | undefined): Promise<void> {
    if (!file) return;
    if (file.size > MAX_BYTES) {
      this.refusal.set(
        `${file.name} has ${(file.size / 1024 / 1024).toFixed(0)} MB; at most 200 MB are taken at once. Split the file.`,
      );
      return;
    }
    this.start(file.name, await file.arrayBuffer());
  }

  protected drop(event: DragEvent): void {
    event.preventDefault();
    this.over.set(false);
    void this.take(event.dataTransfer?.files[0]);
  }

  protected choose(file: File): void {
    void this.take(file);
  }

  protected paste(): void {
    if (this.pasted().trim() === '') {
      this.refusal.set('Paste some lines first: one contact a line, the number anywhere in it.');
      return;
    }
    const bytes = new TextEncoder().encode(this.pasted());
    this.start('pasted lines', bytes.buffer);
  }

  private start(name: string, bytes: ArrayBuffer): void {
    this.worker?.terminate();
    this.refusal.set('');
    this.opened.set(null);
    this.read.set(null);
    this.fileName.set(name);
    this.progress.set({ done: 0, total: 0, what: `Reading ${name}` });
    this.worker = new Worker(new URL('./intake.worker', import.meta.url), { type: 'module' });
    this.worker.onmessage = (m: MessageEvent<FromWorker>) => this.hear(m.data);
    this.worker.onerror = () => {
      this.progress.set(null);
      this.refusal.set('This file could not be read. Export the list as CSV and try that.');
    };
    this.ask({ kind: 'open', bytes, name }, [bytes]);
  }

  private ask(message: ToWorker, transfer: Transferable[] = []): void {
    this.worker?.postMessage(message, transfer);
  }

  private hear(m: FromWorker): void {
    switch (m.kind) {
      case 'refused':
        this.progress.set(null);
        this.refusal.set(m.message);
        break;
      case 'opened':
        this.opened.set(m);
        this.remap(m.uses);
        break;
      case 'progress':
        this.progress.set({ done: m.done, total: m.total, what: 'Checking rows' });
        break;
      case 'read':
        this.progress.set(null);
        this.read.set(m);
        break;
      case 'group':
        this.members.set(m);
        break;
      case 'rows':
        this.answered?.(m.rows);
    }
  }

  protected use(i: number, event: Event): void {
    const use = (event.target as HTMLSelectElement).value as ColumnUse;
    this.remap(this.mapping().map((u, k) => (k === i ? use : u === use && use !== 'ignore' ? 'ignore' : u)));
  }

  private remap(uses: ColumnUse[]): void {
    this.mapping.set(uses);
    if (!uses.includes('phone')) {
      this.progress.set(null);
      this.read.set(null);
      return;
    }
    this.progress.set({ done: 0, total: this.opened()?.total ?? 0, what: 'Checking rows' });
    this.ask({ kind: 'map', uses, header: this.opened()?.header ?? false });
  }

  protected keepRow(r: ReadRow, keep: boolean): void {
    this.members.update((m) => (m ? { ...m, rows: m.rows.map((x) => (x.row === r.row ? { ...x, keep } : x)) } : m));
    this.ask({ kind: 'keepRow', row: r.row, keep });
  }

  /** Every row of a group, one by one. */
  protected openGroup(g: Group): void {
    const key = `${g.outcome}|${g.reason}`;
    this.members.set(null);
    this.opener.set(this.opener() === key ? '' : key);
    if (this.opener() !== '') this.ask({ kind: 'group', outcome: g.outcome, reason: g.reason });
  }

  protected keep(g: Group, keep: boolean): void {
    this.opener.set('');
    this.ask({ kind: 'keep', outcome: g.outcome, reason: g.reason, keep });
  }

  private rows(from: number): Promise<ReadRow[]> {
    return new Promise((resolve) => {
      this.answered = resolve;
      this.ask({ kind: 'rows', from, count: CHUNK });
    });
  }

  /** Hands every row in, kept or not, so that the totals add up to the rows of the file; the server checks each again. */
  protected async store(): Promise<void> {
    const total = this.read()?.total ?? 0;
    const businessId = this.session.businessId();
    this.sending.set(true);
    this.stop = false;
    let id = '';
    try {
      id = (
        await this.api.call(beginIntake, {
          params: { businessId },
          body: { fileName: this.fileName(), total, listName: this.listName(), consentClaim: this.claim() },
        })
      ).id;
      for (let from = 0; from < total; from += CHUNK) {
        if (this.stop) {
          await this.api.call(cancelIntake, { params: { businessId, id } });
          this.say.done('Cancelled; nothing was stored.');
          return;
        }
        this.progress.set({ done: from, total, what: 'Handing in' });
        const rows = (await this.rows(from)).map(({ row, phone, firstName, lastName, email, stateCode, keep }) => ({
          row,
          phone,
          firstName,
          lastName,
          email,
          stateCode,
          keep,
        }));
        await this.api.call(sendIntakeRows, { params: { businessId, id }, body: { rows } });
      }
      await this.api.call(storeIntake, { params: { businessId, id } });
      this.say.done('Stored by a job; it goes on by itself.');
      this.restart();
      this.earlier.reload();
    } catch (error) {
      this.say.problem(error);
    } finally {
      this.sending.set(false);
      this.progress.set(null);
    }
  }

  protected cancel(): void {
    this.stop = true;
    if (!this.sending()) this.restart();
  }

  protected restart(): void {
    this.worker?.terminate();
    this.worker = null;
    this.opened.set(null);
    this.read.set(null);
    this.progress.set(null);
    this.pasted.set('');
    this.refusal.set('');
  }

  protected toList(): void {
    void this.router.navigate(['/b', this.session.businessId(), 'contacts']);
  }

  ngOnDestroy(): void {
    this.worker?.terminate();
  }
}
