import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  untracked,
} from '@angular/core';
import { DateTime } from 'luxon';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { MatInputModule } from '@angular/material/input';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { DispatchView, NumberView } from '@long-gate/contracts';
import { formatCents, formatPhone, PURPOSES, swapToGsm, type Finding } from '@long-gate/core';
import { Chips, type Chip } from '../../parts/chips';
import { Confirm } from '../../parts/confirm';
import { Autosave, type Kept } from '../../parts/form/autosave';
import { autosaved } from '../../parts/form/autosaved';
import { faultOf } from '../../parts/form/checked-form';
import { flag, text } from '../../parts/form/controls';
import { Conflicts, Saved } from '../../parts/form/saving';
import { TextField } from '../../parts/form/text-field';
import { CountPipe, MomentPipe, MoneyPipe, PhonePipe } from '../../parts/format';
import { History } from '../../parts/history';
import { PageTitle } from '../../parts/page-title';
import { AskedFirst } from './asked-first';
import { NEW } from './dispatch.store';
import { DraftStore, draftOf, type Draft } from './draft.store';
import { NOW, WhenField, whenOf, type Chosen } from './when-field';
import { GateDrawing } from './gate-drawing';
import { HourStrip } from './hour-strip';
import { PeopleBehind } from './people-behind';
import type { CountOf } from './people-behind.store';
import { TextEditor } from './text-editor/text-editor';

/** Write, check, preview the gate, test, send. */
@Component({
  selector: 'lg-compose',
  imports: [
    AskedFirst,
    Chips,
    Saved,
    Conflicts,
    MatCheckboxModule,
    MatInputModule,
    MatButtonModule,
    ReactiveFormsModule,
    PageTitle,
    TextField,
    TextEditor,
    GateDrawing,
    HourStrip,
    WhenField,
    PeopleBehind,
    History,
    CountPipe,
    MoneyPipe,
    MomentPipe,
    PhonePipe,
  ],
  providers: [DraftStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './compose.html',
  styles: `
    .short {
      flex: none;
      min-width: 0;
    }
    .title {
      border: 0;
      border-bottom: 1px dotted var(--ink-soft);
      background: none;
      font: 700 22px/1.3 var(--sans);
      color: inherit;
      padding: 0;
      min-width: 200px;
      flex: 1;
    }
    .sheet {
      display: grid;
      grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
      gap: 28px;
      padding-top: 10px;
      border-top: 1px solid var(--hairline);
    }
    .sentence {
      line-height: 2;
    }
    .counts {
      display: flex;
      gap: 20px;
      margin: 6px 0;
      flex-wrap: wrap;
    }
    .sent {
      padding: 6px 0 0;
      font-size: 13px;
    }
    .findings div {
      padding: 2px 0;
    }
    .gate {
      margin-top: 8px;
      border-top: 1px solid var(--hairline);
      padding-top: 8px;
    }
    .grouped {
      margin-top: 14px;
    }
    @media (max-width: 900px) {
      .sheet {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class Compose {
  readonly dispatch = input.required<DispatchView>();
  readonly sent = output();
  /** Its first word was stored. */
  readonly made = output<DispatchView>();
  protected readonly store = inject(DraftStore);
  private readonly confirm = inject(Confirm);
  private readonly router = inject(Router);
  protected readonly session = this.store.session;
  protected readonly purposes = PURPOSES.filter((p) => p !== 'conversational');
  protected readonly form = new FormGroup({
    title: text(),
    text: text(),
    purpose: new FormControl<Draft['purpose']>(null),
    transactional: flag(),
    stopLine: flag(),
    numberId: new FormControl<string | null>(null),
    audience: new FormControl<Draft['audience']>({ include: [], exclude: [] }, { nonNullable: true }),
    // Short of its twenty characters it would be refused with every key.
    override: new FormControl('', { nonNullable: true, updateOn: 'blur' }),
    category: text(),
    effort: text(),
  });
  /** When it was to leave before it was called off. */
  readonly before = input<Chosen>(NOW);
  protected readonly when = linkedSignal(() => this.before());
  protected readonly time = computed(() => whenOf(this.when()));
  /** The list or tag that is put to the audience, or to those left out of it. */
  protected readonly adding = { include: text(), exclude: text() };
  protected readonly faultOf = faultOf;
  protected readonly saving = new Autosave<Draft>({
    save: async (body, version) => this.kept(await this.store.save(body, version)),
    read: async () => keptOf(await this.store.read()),
    lastChange: () => this.store.lastChange(),
  });
  protected readonly names = NAMES;
  protected readonly draft = computed(() => this.saving.value() ?? draftOf(this.dispatch()));
  protected readonly busy = this.store.acting.busy;
  protected readonly chosen = this.store.booked;
  protected readonly shown = this.store.shown;
  /** The count that was opened, of what stands on the sheet. */
  protected readonly behind = computed((): CountOf | null => {
    const [which, dispatch] = [this.chosen(), this.store.asked()];
    return which && dispatch && { ...which, dispatch };
  });
  /** When the clock alone makes the preview untrue: somebody's hour comes, or somebody's closes. */
  protected readonly turnsAt = computed(() => {
    const c = this.shown()?.counts;
    const moments = [c?.nextAt, c?.goodUntil].filter((t): t is number => typeof t === 'number');
    return moments.length > 0 ? Math.min(...moments) : null;
  });
  protected readonly stale = computed(() => {
    const turns = this.turnsAt();
    return turns !== null && this.session.now() >= turns;
  });
  /** The findings an administrator may answer for with a written reason. */
  protected readonly overridable = computed(() =>
    this.findings().some((f) =>
      ['purpose-contradicted', 'purpose-overridden', 'use-not-registered', 'use-overridden'].includes(f.code),
    ),
  );
  protected readonly findings = computed<Finding[]>(() => (this.shown()?.findings ?? []) as Finding[]);
  protected readonly blocked = computed(() => this.findings().some((f) => f.severity === 'block'));
  protected readonly swapped = computed(() => swapToGsm(this.draft().text));
  protected readonly missing = computed(() => {
    const d = this.draft();
    return [
      ...(d.text.trim() === '' ? ['a text'] : []),
      ...(d.audience.include.length === 0 ? ['an audience'] : []),
      ...(d.purpose === null ? ['a purpose'] : []),
      ...(d.numberId === null ? ['a sending number'] : []),
    ];
  });

  constructor() {
    this.store.about(computed(() => this.dispatch().id));
    effect(() => {
      const d = this.dispatch();
      untracked(() => {
        if (d.id === this.begun) this.saving.rename(`dispatch ${d.id}`);
        this.begun = '';
        this.saving.take(`dispatch ${d.id}`, keptOf(d));
      });
    });
    autosaved(this.form, this.saving);
    effect(() => {
      if (this.session.mayEdit()) this.form.enable({ emitEvent: false });
      else this.form.disable({ emitEvent: false });
    });
    const { purpose, transactional } = this.form.controls;
    // An offer is never transactional.
    purpose.valueChanges.pipe(takeUntilDestroyed()).subscribe((p) => {
      if (p === 'promotional' && transactional.value) transactional.setValue(false);
    });
    for (const kind of ['include', 'exclude'] as const)
      this.adding[kind].valueChanges.pipe(takeUntilDestroyed()).subscribe((id) => {
        if (id === '') return;
        this.adding[kind].setValue('');
        this.put(kind, (ids) => [...ids, id]);
      });
    effect(() => {
      const d = this.draft();
      const when = this.time();
      const wait = setTimeout(() => this.store.asked.set({ ...d, when }), 250);
      return () => clearTimeout(wait);
    });
    // An open preview follows the clock.
    effect(() => {
      if (this.stale() && !untracked(() => this.store.preview.isLoading())) this.store.preview.reload();
    });
  }

  /** The draft that this sheet has begun, until its address says so too. */
  private begun = '';
  private kept(d: DispatchView): Kept<Draft> {
    if (this.dispatch().id === NEW && this.begun === '') {
      this.begun = d.id;
      // Once what was stored is taken in: what is typed meanwhile stays.
      setTimeout(() => {
        this.made.emit(d);
      });
    }
    return keptOf(d);
  }

  protected chips(kind: 'include' | 'exclude'): Chip[] {
    const lists = this.store.lists();
    return this.draft().audience[kind].map((id) => ({ id, name: lists.find((l) => l.id === id)?.name ?? '…' }));
  }
  protected rest() {
    const used = [...this.draft().audience.include, ...this.draft().audience.exclude];
    return this.store.lists().filter((l) => !used.includes(l.id));
  }
  private titleBefore = '';
  protected enterTitle(): void {
    this.titleBefore = this.form.controls.title.value;
  }
  /** An empty title is none: once it is left it is what it was. */
  protected leaveTitle(): void {
    const { title } = this.form.controls;
    if (title.value.trim() === '') title.setValue(this.titleBefore);
  }
  protected takeOut(kind: 'include' | 'exclude', id: string): void {
    this.put(kind, (ids) => ids.filter((x) => x !== id));
  }
  private put(kind: 'include' | 'exclude', change: (ids: string[]) => string[]): void {
    const { audience } = this.form.controls;
    audience.setValue({ ...audience.value, [kind]: change(audience.value[kind]) });
  }
  protected swap(): void {
    const s = this.swapped();
    if (s) this.form.controls.text.setValue(s);
  }
  /** Numbers that can be sent from, the default for the purpose first; none is chosen by itself. */
  protected readonly senders = computed(() => {
    const active = this.store.numbers().filter((n) => n.state === 'active');
    return [...active.filter((n) => this.isDefault(n)), ...active.filter((n) => !this.isDefault(n))];
  });
  /** The default of the business for the purpose that is named; it is shown, never chosen by itself. */
  protected isDefault(n: NumberView): boolean {
    const purpose = this.draft().purpose;
    return purpose !== null && n.defaultFor.includes(purpose);
  }
  protected whyNot(n: { deciding: { why: string } | null }): string {
    return n.deciding ? ` (${n.deciding.why})` : '';
  }
  protected booked(): number {
    const c = this.chosen();
    const counts = this.shown()?.counts;
    if (!c || !counts) return 0;
    return c.result === 'pass' ? counts.pass : (counts.posts[c.post - 1]?.[c.result] ?? 0);
  }

  protected async test(): Promise<void> {
    if (!(await this.saving.flush())) return;
    if (!(await this.store.test())) void this.router.navigate(['/b', this.session.businessId(), 'settings', 'you']);
  }

  /** What goes out, to be read once more before it does. */
  private facts(example: string): { name: string; value: string }[] {
    const d = this.draft();
    const n = this.store.numbers().find((x) => x.id === d.numberId);
    const named = (kind: 'include' | 'exclude'): string =>
      this.chips(kind)
        .map((c) => c.name)
        .join(' or ');
    const found = this.findings();
    return [
      { name: 'Text', value: example },
      { name: 'From', value: n ? `${formatPhone(n.e164)} ${n.label}`.trim() : '' },
      { name: 'Purpose', value: d.purpose ?? '' },
      {
        name: 'To',
        value: `everyone in ${named('include')}${d.audience.exclude.length > 0 ? `, but nobody in ${named('exclude')}` : ''}`,
      },
      ...(found.length > 0 ? [{ name: 'Findings', value: found.map((f) => f.message).join(' ') }] : []),
    ];
  }

  /** After the question what it costs and does: begins the sending, or has it leave at the time chosen. */
  protected async begin(): Promise<void> {
    if (!(await this.saving.flush())) return;
    const p = this.shown();
    if (!p) return;
    // What is asked about is what is sent: a version that changed meanwhile is refused.
    const version = this.saving.version();
    const when = this.time();
    if (when && p.later) {
      const at = `${DateTime.fromISO(when.local).toFormat('ccc d LLL yyyy, HH:mm', { locale: 'en-US' })}${when.zone === 'own' ? ' where each of them is' : ''}`;
      const sure = await this.confirm.ask({
        title: `Schedule for ${at}?`,
        line: `As of now to ${p.reach.toLocaleString('en-US')}, for at most ${formatCents(p.costAtMost)}; ${p.counts.stop.toLocaleString('en-US')} are stopped. Its audience is resolved anew when it leaves. Nothing now; until it begins it can be changed or called off.`,
        facts: this.facts(p.example),
        yes: 'Schedule it',
      });
      if (sure && (await this.store.schedule(version, when, { reach: p.reach, cost: p.costAtMost }))) this.sent.emit();
      return;
    }
    const yes = await this.confirm.ask({
      title: `Send to ${p.counts.pass.toLocaleString('en-US')} now?`,
      line: `About ${formatCents(p.cost)} for those who pass. ${p.counts.hold > 0 ? `${p.counts.hold.toLocaleString('en-US')} held follow by themselves when their moment comes, for three days. ` : ''}${p.counts.stop.toLocaleString('en-US')} are stopped. Each is judged again as their text leaves. ${this.draft().override ? `Its words read otherwise than its purpose; the reason given: ${this.draft().override} ` : ''}What has left cannot be called back.`,
      facts: this.facts(p.example),
      yes: `Send to ${p.counts.pass.toLocaleString('en-US')}`,
    });
    if (yes && (await this.store.send(version))) this.sent.emit();
  }

  /** The button that lets it go, in words: what it does, or what is missing. */
  protected readonly letsGo = computed((): string => {
    const [first] = this.missing();
    const later = this.when().zone !== 'now';
    if (first) return `${later ? 'Schedule' : 'Send'}: ${first} is missing`;
    if (later) return this.time() ? 'Schedule…' : 'Schedule: choose day and time';
    return `Send to ${(this.shown()?.counts.pass ?? 0).toLocaleString('en-US')}…`;
  });
  /** Whether the gate has answered for what stands on the sheet; asked again for the same, its last answer is good. */
  private readonly answered = computed(
    () =>
      JSON.stringify(this.store.asked()) === JSON.stringify({ ...this.draft(), when: this.time() }) &&
      this.store.preview.status() !== 'loading',
  );
  /** Nothing goes while something is missing, or the gate's answer is of something else. */
  protected readonly ready = computed((): boolean => {
    const p = this.shown();
    if (this.busy() || this.blocked() || this.missing().length > 0 || !p || !this.answered()) return false;
    if (this.when().zone === 'now') return p.later === null;
    return p.later !== null && p.later.at > this.session.now();
  });

  protected async throwAway(): Promise<void> {
    if (
      !(await this.confirm.ask({
        title: 'Throw this draft away?',
        line: 'It was not sent. This cannot be undone.',
        yes: 'Throw it away',
      }))
    )
      return;
    this.saving.discard();
    if (this.dispatch().id === NEW || (await this.store.throwAway()))
      void this.router.navigate(['/b', this.session.businessId(), 'dispatch']);
  }
}

const NAMES: Record<keyof Draft, string> = {
  title: 'Title',
  text: 'Text',
  purpose: 'Purpose',
  transactional: 'Called for by the person',
  stopLine: 'Stop line',
  numberId: 'Sending number',
  audience: 'Audience',
  override: 'Reason',
  category: 'Category',
  effort: 'Effort',
};
const keptOf = (d: DispatchView): Kept<Draft> => ({ value: draftOf(d), version: d.version });
