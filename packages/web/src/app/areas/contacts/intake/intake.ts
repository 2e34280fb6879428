import { ChangeDetectionStrategy, Component, computed, inject, signal, type OnDestroy } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type * as z from 'zod';
import type { listIntakes } from '@long-gate/contracts';
import { FileButton } from '../../../parts/file-button';
import { CountPipe, MomentPipe, PhonePipe } from '../../../parts/format';
import { PageTitle } from '../../../parts/page-title';
import { TextField } from '../../../parts/form/text-field';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { IntakeStore } from './intake.store';
import { COLUMN_USES, USE_LABELS, type ColumnUse, type Group, type ReadRow } from './reading';
import type { FromWorker, ToWorker } from './intake.worker';
import { sha256Of } from '../../../api/digest';
import { Confirm } from '../../../parts/confirm';
import { text } from '../../../parts/form/controls';

type Earlier = z.output<typeof listIntakes.answer>['items'][number];
/** A group of rows alike, or one row of the group that is opened. */
interface Line {
  key: string;
  group: Group;
  row: ReadRow | null;
}
function resultOf({ result: r }: Earlier): string {
  if (!r) return '';
  const n = (count: number): string => count.toLocaleString('en-US');
  return `${n(r.stored)} stored, ${n(r.known)} known already, ${n(r.repeats)} repeats, ${n(r.refused)} refused, ${n(r.dropped)} dropped`;
}

const MAX_BYTES = 200 * 1024 * 1024;
const CHUNK = 2000;

/** Bringing contacts in: read, map, check, decide, store. */
@Component({
  selector: 'lg-intake',
  imports: [
    Cell,
    FileButton,
    Table,
    TextField,
    MatCheckboxModule,
    MatInputModule,
    MatButtonModule,
    PageTitle,
    RouterLink,
    MatProgressBarModule,
    ReactiveFormsModule,
    CountPipe,
    MomentPipe,
    PhonePipe,
  ],
  providers: [IntakeStore],
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
    .drop button {
      margin: 8px 8px 8px 0;
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
    .store lg-text-field {
      flex: 1;
      min-width: 220px;
    }
    .store button {
      margin-bottom: 14px;
    }
  `,
})
export class IntakePage implements OnDestroy {
  protected readonly intakes = inject(IntakeStore);
  private readonly confirm = inject(Confirm);
  private readonly router = inject(Router);
  protected readonly session = this.intakes.session;
  private worker: Worker | null = null;
  protected readonly uses = COLUMN_USES;
  protected readonly labels = USE_LABELS;
  protected readonly fileName = signal('');
  protected readonly pasted = text();
  protected readonly over = signal(false);
  protected readonly refusal = signal('');
  protected readonly opened = signal<Extract<FromWorker, { kind: 'opened' }> | null>(null);
  protected readonly mapping = signal<ColumnUse[]>([]);
  protected readonly progress = signal<{ done: number; total: number; what: string } | null>(null);
  protected readonly read = signal<{ total: number; groups: Group[]; kept: number } | null>(null);
  protected readonly opener = signal('');
  protected readonly members = signal<{ rows: ReadRow[]; more: boolean } | null>(null);
  protected readonly listName = text();
  protected readonly claim = text();
  protected readonly sending = signal(false);
  /** SHA-256 of what was chosen; empty where this browser makes none. */
  private readonly digest = signal('');
  /** The same file, handed in before and cut off: it goes on from there. */
  protected readonly begun = computed((): Earlier | null => {
    const [digest, total] = [this.digest(), this.read()?.total];
    if (digest === '') return null;
    return (
      this.intakes.earlier().find((i) => i.state === 'reading' && i.digest === digest && i.total === total) ?? null
    );
  });
  private stop = false;
  private answered: ((rows: ReadRow[]) => void) | null = null;
  protected readonly lineKey = (l: Line): string => l.key;
  protected readonly lineFace = (l: Line): string => (l.row ? 'member' : '');
  /** The groups, with the rows of the opened one below it. */
  protected readonly lines = computed((): Line[] =>
    (this.read()?.groups ?? []).flatMap((group): Line[] => {
      const key = `${group.outcome}|${group.reason}`;
      const rows = this.opener() === key ? (this.members()?.rows ?? []) : [];
      return [{ key, group, row: null }, ...rows.map((row) => ({ key: `${key}|${row.row}`, group, row }))];
    }),
  );
  protected readonly columns: readonly Column<Line>[] = [
    { id: 'keep', head: 'Keep' },
    { id: 'rows', head: 'Rows', right: true },
    {
      id: 'outcome',
      head: 'Outcome',
      text: (l) => (l.row ? '' : this.words(l.group.outcome)),
      face: (l) => `nowrap ${l.group.outcome === 'refused' ? 'stop' : l.group.outcome === 'look' ? 'hold' : ''}`,
    },
    { id: 'why', head: 'Why' },
    { id: 'examples', head: 'Examples', face: 'mono small' },
  ];
  protected readonly outcomeOf = resultOf;
  protected readonly earlierKey = (i: Earlier): string => i.id;
  protected readonly earlierColumns: readonly Column<Earlier>[] = [
    { id: 'when', head: 'When', face: 'soft' },
    { id: 'from', head: 'From', text: (i) => i.fileName, face: 'strong', by: (i) => i.fileName },
    { id: 'rows', head: 'Rows', right: true, text: (i) => i.total.toLocaleString('en-US'), by: (i) => i.total },
    { id: 'state', head: 'State', text: (i) => i.state, by: (i) => i.state },
    { id: 'outcome', head: 'Outcome' },
  ];
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
    await this.start(file.name, await file.arrayBuffer());
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
    if (this.pasted.value.trim() === '') {
      this.refusal.set('Paste some lines first: one contact a line, the number anywhere in it.');
      return;
    }
    const bytes = new TextEncoder().encode(this.pasted.value);
    void this.start('pasted lines', bytes.buffer);
  }

  private async start(name: string, bytes: ArrayBuffer): Promise<void> {
    this.digest.set((await sha256Of(bytes)) ?? '');
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
    this.sending.set(true);
    this.stop = false;
    const begun = this.begun();
    try {
      const id =
        begun?.id ??
        (await this.intakes.begin({
          fileName: this.fileName(),
          total,
          listName: this.listName.value,
          consentClaim: this.claim.value,
          digest: this.digest(),
        }));
      // Rows are handed in in their order; those of a lot that came in half are handed in again.
      for (let from = Math.floor((begun?.received ?? 0) / CHUNK) * CHUNK; from < total; from += CHUNK) {
        if (this.stop) {
          await this.intakes.cancel(id);
          this.intakes.acting.done('Cancelled; nothing was stored.');
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
        await this.intakes.send(id, rows);
      }
      await this.intakes.finish(id);
      this.intakes.acting.done('Stored by a job; it goes on by itself.');
      this.restart();
    } catch (error) {
      // What has arrived stays: pressed again it goes on from there.
      this.intakes.again();
      this.intakes.acting.refused((error as Error).message);
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
    this.pasted.reset();
    this.refusal.set('');
  }

  /** Everything has arrived: it is stored as it was handed in. */
  protected async finish(i: Earlier): Promise<void> {
    await this.intakes.acting.did(() => this.intakes.finish(i.id), 'Stored by a job; it goes on by itself.');
  }
  protected async throwAway(i: Earlier): Promise<void> {
    const yes = await this.confirm.ask({
      title: `Throw the intake of “${i.fileName}” away?`,
      line: `${i.received.toLocaleString('en-US')} of ${i.total.toLocaleString('en-US')} rows were handed in; none of them is stored, and none will be.`,
      yes: 'Throw it away',
      no: 'Keep it',
    });
    if (!yes) return;
    await this.intakes.acting.did(() => this.intakes.cancel(i.id), 'Thrown away; nothing was stored.');
    this.intakes.again();
  }

  protected toList(): void {
    void this.router.navigate(['/b', this.session.businessId(), 'contacts']);
  }

  ngOnDestroy(): void {
    this.worker?.terminate();
  }
}
