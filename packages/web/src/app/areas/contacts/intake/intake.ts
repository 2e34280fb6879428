import { ChangeDetectionStrategy, Component, computed, inject, signal, type OnDestroy } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { ContactField, IntakeView, KnownRule } from '@long-gate/contracts';
import { dayIn } from '@long-gate/core';
import { FileButton } from '../../../parts/file-button';
import { CountPipe } from '../../../parts/format';
import { handOutFile } from '../../../parts/hand-out';
import { text } from '../../../parts/form/controls';
import { PageTitle } from '../../../parts/page-title';
import { ContactsTabs } from '../contacts-tabs';
import { usesOf, type ColumnUse } from './columns';
import { EarlierIntakes } from './earlier-intakes';
import { IntakeDispatch } from './intake-dispatch';
import { IntakeGroups } from './intake-groups';
import { IntakeLot, type Lot } from './intake-lot';
import { IntakeMapping, type Opened } from './intake-mapping';
import { IntakeStore } from './intake.store';
import type { FromWorker, Mapping, ToWorker } from './intake.worker';
import type { Group, Outcome, ReadRow } from './reading';
import { rememberedUses, rememberUses } from './remembered-shapes';
import type { SourceChoices } from './sources';

const MAX_BYTES = 200 * 1024 * 1024;
const CHUNK = 1000;
/** Numbers compared at once with those who are here. */
const COMPARED = 5000;

/** Bringing contacts in: read, map, check, decide, store. */
@Component({
  selector: 'lg-intake',
  imports: [
    ContactsTabs,
    CountPipe,
    EarlierIntakes,
    FileButton,
    IntakeDispatch,
    IntakeGroups,
    IntakeLot,
    IntakeMapping,
    MatButtonModule,
    MatInputModule,
    MatProgressBarModule,
    PageTitle,
    ReactiveFormsModule,
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
    h2 {
      margin: 18px 0 6px;
    }
    .sums button {
      margin-left: 12px;
    }
  `,
})
export class IntakePage implements OnDestroy {
  protected readonly intakes = inject(IntakeStore);
  protected readonly session = this.intakes.session;
  private worker: Worker | null = null;
  /** The file as it was chosen, to be read again as something else. */
  private file: { name: string; content: Blob } | null = null;
  protected readonly fileName = signal('');
  protected readonly pasted = text();
  protected readonly over = signal(false);
  protected readonly refusal = signal('');
  protected readonly opened = signal<Opened | null>(null);
  protected readonly remembered = signal<ColumnUse[] | null>(null);
  protected readonly uses = signal<readonly ColumnUse[]>([]);
  /** The business's own fields as they were when the file was opened. */
  protected readonly fields = signal<ContactField[]>([]);
  /** What a column can be taken for. */
  private readonly there = computed(() => new Set(usesOf(this.fields()).map((u) => u.value)));
  protected readonly known = signal<Record<string, KnownRule>>({});
  protected readonly progress = signal<{ done: number; total: number; what: string } | null>(null);
  protected readonly read = signal<{ total: number; groups: Group[]; kept: number } | null>(null);
  protected readonly members = signal<{ rows: ReadRow[]; more: boolean } | null>(null);
  protected readonly sending = signal(false);
  /** SHA-256 of what was chosen; empty where this browser makes none. */
  private readonly digest = signal('');
  private region = 'US';
  /** The same file, handed in before and cut off: it goes on from there. */
  protected readonly begun = computed((): IntakeView | null => {
    const [digest, total] = [this.digest(), this.read()?.total];
    if (digest === '') return null;
    return (
      this.intakes.earlier().find((i) => i.state === 'reading' && i.digest === digest && i.total === total) ?? null
    );
  });
  private stop = false;
  private compared = false;
  /** Who waits for an answer of the worker, by its kind: comparing and handing in may go on at the same time. */
  private readonly waiting = new Map<FromWorker['kind'], { take: (m: FromWorker) => void; fail: (e: Error) => void }>();
  protected readonly sums = computed(() => {
    const groups = this.read()?.groups ?? [];
    const of = (outcome: Outcome): number =>
      groups.filter((g) => g.outcome === outcome).reduce((n, g) => n + g.count, 0);
    const { total = 0, kept = 0 } = this.read() ?? {};
    const [repeat, refused] = [of('repeat'), of('refused')];
    return {
      ok: of('ok'),
      look: of('look'),
      known: of('known'),
      repeat,
      refused,
      dropped: total - kept - repeat - refused,
    };
  });

  protected async take(file: File | undefined): Promise<void> {
    if (!file) return;
    if (file.size > MAX_BYTES) {
      this.refusal.set(
        `${file.name} has ${(file.size / 1024 / 1024).toFixed(0)} MB; at most 200 MB are taken at once. Split the file.`,
      );
      return;
    }
    await this.start(file.name, file);
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
    void this.start('pasted lines', new Blob([this.pasted.value]));
  }

  protected async start(name: string, content: Blob): Promise<void> {
    this.digest.set('');
    this.file = { name, content };
    this.fileName.set(name);
    this.known.set({});
    try {
      this.fields.set(await this.intakes.readFields());
    } catch (error) {
      return this.unreadable((error as Error).message);
    }
    this.reopen({});
  }

  /** Reads the file, as what it is found to be or as the person says. */
  protected reopen(choices: SourceChoices): void {
    if (!this.file) return;
    const { name, content } = this.file;
    this.worker?.terminate();
    this.refusal.set('');
    this.read.set(null);
    this.members.set(null);
    this.progress.set({ done: 0, total: 0, what: `Reading ${name}` });
    this.worker = new Worker(new URL('./intake.worker', import.meta.url), { type: 'module' });
    this.worker.onmessage = (m: MessageEvent<FromWorker>) => this.hear(m.data);
    this.worker.onerror = () => this.unreadable('This file could not be read. Export the list as CSV and try that.');
    this.ask({ kind: 'open', file: content, name, fields: this.fields(), choices });
  }
  private unreadable(message: string): void {
    // Whoever waits for an answer of the file gets none any more.
    for (const { fail } of this.waiting.values()) fail(new Error(message));
    this.waiting.clear();
    this.progress.set(null);
    this.opened.set(null);
    this.refusal.set(message);
  }

  private ask(message: ToWorker): void {
    this.worker?.postMessage(message);
  }
  /** The next answer of one kind. @throws Error where the file cannot be read any more */
  private answer<K extends FromWorker['kind']>(message: ToWorker, kind: K): Promise<Extract<FromWorker, { kind: K }>> {
    return new Promise((resolve, reject) => {
      this.waiting.set(kind, {
        take: (m) => {
          resolve(m as Extract<FromWorker, { kind: K }>);
        },
        fail: reject,
      });
      this.ask(message);
    });
  }

  private hear(m: FromWorker): void {
    switch (m.kind) {
      case 'unreadable':
        return this.unreadable(m.message);
      case 'opened':
        this.digest.set(m.digest);
        this.remembered.set(m.header ? rememberedUses(this.session.businessId(), m.columns, this.there()) : null);
        return this.opened.set(m);
      case 'progress':
        return this.progress.set({ done: m.done, total: m.total, what: 'Checking rows' });
      case 'read':
        this.progress.set(null);
        this.read.set(m);
        if (!this.compared) void this.compare();
        return;
      case 'group':
        return this.members.set(m);
      default: {
        const waits = this.waiting.get(m.kind);
        this.waiting.delete(m.kind);
        waits?.take(m);
      }
    }
  }

  protected remap(mapping: Mapping): void {
    this.uses.set(mapping.uses);
    this.region = mapping.region;
    this.members.set(null);
    this.read.set(null);
    this.compared = false;
    if (!mapping.uses.includes('phone')) {
      this.progress.set(null);
      return;
    }
    this.progress.set({ done: 0, total: this.opened()?.total ?? 0, what: 'Checking rows' });
    const today = dayIn(this.session.now(), this.session.business()?.timeZone ?? 'UTC');
    this.ask({ kind: 'map', mapping, fields: this.fields(), today });
  }

  /** Which of the rows are contacts here already. */
  private async compare(): Promise<void> {
    this.compared = true;
    const worker = this.worker;
    const total = this.read()?.total ?? 0;
    let any = false;
    try {
      for (let from: number | null = 0; from !== null;) {
        const { e164s, next }: Extract<FromWorker, { kind: 'numbers' }> = await this.answer(
          { kind: 'numbers', from, count: COMPARED },
          'numbers',
        );
        const known = e164s.length > 0 ? await this.intakes.knownAmong(e164s) : [];
        if (this.worker !== worker || !this.read()) return;
        if (known.length > 0) this.ask({ kind: 'known', e164s: known });
        any ||= known.length > 0;
        from = next;
        if (from !== null) this.progress.set({ done: from, total, what: 'Comparing with contacts here' });
      }
      if (any) this.ask({ kind: 'knownAll' });
    } catch {
      // The server says at storing who is known; here it is only shown beforehand.
    } finally {
      if (this.worker === worker && !this.sending()) this.progress.set(null);
    }
  }

  protected keepRow(row: number, keep: boolean): void {
    this.members.update((m) => (m ? { ...m, rows: m.rows.map((x) => (x.row === row ? { ...x, keep } : x)) } : m));
    this.ask({ kind: 'keepRow', row, keep });
  }
  protected openGroup(g: Group | null): void {
    this.members.set(null);
    if (g) this.ask({ kind: 'group', outcome: g.outcome, reason: g.reason });
  }
  protected keep(g: Group, keep: boolean): void {
    this.ask({ kind: 'keep', outcome: g.outcome, reason: g.reason, keep });
  }
  protected keepAll(keep: boolean): void {
    this.members.set(null);
    this.ask({ kind: 'keepAll', keep });
  }
  protected mend(edit: { row: number; values: Partial<Record<ColumnUse, string>> }): void {
    this.members.set(null);
    this.ask({ kind: 'edit', ...edit });
  }
  protected async refusedRows(): Promise<void> {
    const { csv } = await this.answer({ kind: 'refused' }, 'refusedFile');
    handOutFile(new Blob([csv], { type: 'text/csv' }), `${this.fileName().replace(/\.\w+$/, '')} not taken.csv`);
  }

  /** Hands every row in, kept or not, so that the totals add up to the rows of the file; the server checks each again. */
  protected async store(lot: Lot): Promise<void> {
    const total = this.read()?.total ?? 0;
    const columns = this.opened();
    if (columns?.header) rememberUses(this.session.businessId(), columns.columns, this.uses());
    this.sending.set(true);
    this.stop = false;
    const begun = this.begun();
    try {
      const id =
        begun?.id ??
        (await this.intakes.begin({
          ...lot,
          fileName: this.fileName(),
          total,
          region: this.region,
          known: this.known(),
          digest: this.digest(),
        }));
      // Words that were shown make rows long.
      const chunk = this.uses().includes('consentWords') ? CHUNK / 4 : CHUNK;
      // Rows are handed in in their order; those of a lot that came in half are handed in again.
      for (let from = Math.floor((begun?.received ?? 0) / chunk) * chunk; from < total; from += chunk) {
        if (this.stop) {
          await this.intakes.cancel(id);
          this.intakes.acting.done('Cancelled; nothing was stored.');
          return;
        }
        this.progress.set({ done: from, total, what: 'Handing in' });
        const { rows } = await this.answer({ kind: 'rows', from, count: chunk }, 'rows');
        await this.intakes.send(
          id,
          rows.map(({ outcome: _, reason: __, e164: ___, more, ...row }) =>
            Object.keys(more).length > 0 ? { ...row, more } : row,
          ),
        );
      }
      await this.intakes.finish(id);
      this.intakes.acting.done('Stored by a job; it goes on by itself, and all of it is there at once.');
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
  private restart(): void {
    this.worker?.terminate();
    this.worker = null;
    this.file = null;
    this.opened.set(null);
    this.read.set(null);
    this.members.set(null);
    this.progress.set(null);
    this.pasted.reset();
    this.refusal.set('');
  }

  ngOnDestroy(): void {
    this.worker?.terminate();
  }
}
