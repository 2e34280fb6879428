import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import { isDay, POSTS, REASONS, formatPhone } from '@long-gate/core';
import type { AskedThen, TextThen } from '@long-gate/contracts';
import * as z from 'zod';
import { CheckedForm } from '../../../parts/form/checked-form';
import { ChoiceField } from '../../../parts/form/choice-field';
import { flag, text } from '../../../parts/form/controls';
import { readOf } from '../../../parts/form/control-state';
import { DateField } from '../../../parts/form/date-field';
import { Faults } from '../../../parts/form/faults';
import { filledFrom } from '../../../parts/form/filled-from';
import { Form } from '../../../parts/form/form';
import { TextField } from '../../../parts/form/text-field';
import { isTime, TimeField } from '../../../parts/form/time-field';
import { momentIn, MomentPipe, PhonePipe } from '../../../parts/format';
import { GateStrip } from '../../../parts/gate-strip';
import { handOutFile } from '../../../parts/hand-out';
import { PageTitle } from '../../../parts/page-title';
import { Cell } from '../../../parts/table/cell';
import type { Column } from '../../../parts/table/column';
import { Table } from '../../../parts/table/table';
import { ConsentTabs } from '../consent-tabs';
import { AsOfStore } from './as-of.store';
import { stoodRows, verdictWords, type StoodRow } from './as-of-words';

/** Words that were not sent. */
const OTHER = '';
const Question = z
  .object({
    e164: z.string().trim().min(1, 'Write the contact’s number.'),
    text: z.string(),
    day: z.string().refine((d) => d === '' || isDay(d), 'Write the day, such as 14 Mar 2027.'),
    time: z.string().refine((t) => t === '' || isTime(t), 'Write the time, such as 14:05.'),
    words: z.string(),
    kind: z.string(),
    purpose: z.string(),
    from: z.string(),
    own: z.boolean(),
    bare: z.boolean(),
  })
  .refine((q) => q.day !== '' || q.time === '', { path: ['day'], message: 'Choose the day too, or clear the time.' });

interface PostRow {
  no: number;
  label: string;
  then: string;
  now: string;
  thenResult: string;
  nowResult: string;
}
/** Rules of which other data stands now, as people call them. */
const RULES: Record<string, string> = {
  hours: 'permitted hours',
  places: 'area codes and zones',
  countries: 'countries',
  textability: 'lookups',
  consent: 'consent',
  replies: 'how replies are read',
  registration: 'registration',
  gate: 'words of the gate',
  prices: 'prices',
};

/** Whether a text would have passed at a moment, and why, with today's answer beside it. */
@Component({
  selector: 'lg-as-of',
  imports: [
    Cell,
    ChoiceField,
    ConsentTabs,
    DateField,
    Faults,
    Form,
    GateStrip,
    MatButtonModule,
    MatCheckboxModule,
    MomentPipe,
    PageTitle,
    PhonePipe,
    ReactiveFormsModule,
    RouterLink,
    Table,
    TextField,
    TimeField,
  ],
  providers: [AsOfStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './as-of.html',
  styles: `
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 330px) minmax(0, 1fr);
      gap: 36px;
      margin-top: 14px;
    }
    .moment {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 112px;
      gap: 10px;
    }
    .verdicts {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 18px;
      margin: 0 0 14px;
    }
    .verdicts h2 {
      margin: 0 0 4px;
    }
    .words {
      border-left: 2px solid var(--hairline);
      padding-left: 10px;
      margin: 0 0 16px;
      white-space: pre-wrap;
    }
    h3 {
      margin: 20px 0 6px;
    }
    form button {
      margin-top: 10px;
    }
    @media (max-width: 900px) {
      .pair,
      .verdicts {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class AsOfPage {
  protected readonly store = inject(AsOfStore);
  protected readonly form = new CheckedForm(
    {
      e164: text(),
      text: text(),
      day: text(),
      time: text(),
      words: text(),
      kind: text('dispatch'),
      purpose: text('informational'),
      from: text(),
      own: flag(),
      bare: flag(),
    },
    Question,
  );
  private readonly chosen = readOf(
    () => this.form.controls.text,
    (c) => c.value,
  );
  private readonly kind = readOf(
    () => this.form.controls.kind,
    (c) => c.value,
  );
  protected readonly day = readOf(
    () => this.form.controls.day,
    (c) => c.value,
  );
  protected readonly dayWrong = readOf(
    () => this.form.controls.day,
    (c) => (c.touched ? (c.errors?.['wrong'] as string | undefined) : undefined),
  );
  protected readonly time = readOf(
    () => this.form.controls.time,
    (c) => c.value,
  );
  protected readonly timeWrong = readOf(
    () => this.form.controls.time,
    (c) => (c.touched ? (c.errors?.['wrong'] as string | undefined) : undefined),
  );
  protected readonly otherWords = computed(() => this.chosen() === OTHER);
  protected readonly isDispatch = computed(() => this.kind() === 'dispatch');

  protected readonly kinds = [
    { value: 'dispatch', label: 'a dispatch' },
    { value: 'answer', label: 'an answer to what they wrote' },
  ];
  protected readonly purposes = [
    { value: 'informational', label: 'informational' },
    { value: 'promotional', label: 'promotional' },
  ];
  protected readonly texts = computed(() =>
    (this.store.answer()?.texts ?? []).map((t) => ({ value: t.id, label: this.named(t) })),
  );
  protected readonly numbers = computed(() =>
    this.store.numbers().map((n) => ({ value: n.id, label: `${formatPhone(n.e164)}${n.label ? `, ${n.label}` : ''}` })),
  );

  /** Not `then`: whoever waited for the page would take it for a promise. */
  protected readonly thenSaid = computed(() => this.sentence('then'));
  protected readonly nowSaid = computed(() => this.sentence('now'));
  protected readonly laterWords = computed(() => {
    const later = this.store.asked()?.later;
    return later ? verdictWords(later.verdict, this.store.zone(), 'would have') : '';
  });
  protected readonly kept = computed(() => {
    const kept = this.store.asked()?.kept;
    if (!kept) return '';
    return kept.left ? 'let it go' : `kept it back: ${kept.why}`;
  });
  /** Whether what is worked out now is what was said then; null where the question is about another moment. */
  protected readonly agrees = computed(() => {
    const asked = this.store.asked();
    if (!asked?.kept || asked.kept.at !== asked.then.at) return null;
    return asked.kept.left ? asked.then.result === 'pass' : asked.kept.reason === asked.then.reason;
  });
  protected readonly rules = computed(() =>
    (this.store.asked()?.rulesChanged ?? []).map((x) => RULES[x] ?? x).join(', '),
  );

  protected readonly posts = computed((): PostRow[] => {
    const asked = this.store.asked();
    if (!asked) return [];
    return POSTS.map(({ no, label }) => {
      const of = (when: 'then' | 'now') => asked[when].answers.find((a) => a.post === no);
      const words = (when: 'then' | 'now'): string => {
        const a = of(when);
        if (!a || a.result === 'pass' || a.result === 'not asked') return a?.result === 'pass' ? 'passes' : 'not asked';
        const why = a.reason && a.reason in REASONS ? REASONS[a.reason as keyof typeof REASONS].why : '';
        const until = a.until === undefined ? '' : `, until ${momentIn(a.until, this.store.zone(), 'short')}`;
        return `${a.result === 'hold' ? 'held' : 'stopped'}: ${why}${until}`;
      };
      return {
        no,
        label,
        then: words('then'),
        now: words('now'),
        thenResult: of('then')?.result ?? '',
        nowResult: of('now')?.result ?? '',
      };
    });
  });
  protected readonly stood = computed((): StoodRow[] => {
    const asked = this.store.asked();
    return asked ? stoodRows(asked.then.stood, asked.now.stood, this.store.zone()) : [];
  });
  protected readonly postKey = (x: PostRow): string => String(x.no);
  protected readonly stoodKey = (x: StoodRow): string => x.what;
  protected readonly postColumns: readonly Column<PostRow>[] = [
    { id: 'no', head: 'No.', width: 44, right: true, text: (x) => String(x.no) },
    { id: 'label', head: 'Post', width: 215, text: (x) => x.label },
    { id: 'then', head: 'Then', least: 130 },
    { id: 'now', head: 'Now', least: 130 },
  ];
  protected readonly stoodColumns: readonly Column<StoodRow>[] = [
    { id: 'what', head: 'What the gate reads', width: 190, text: (x) => x.what },
    { id: 'then', head: 'Then', least: 130 },
    { id: 'now', head: 'Now', least: 130 },
  ];

  constructor() {
    filledFrom(this.form, () => {
      const a = this.store.address();
      const [day = '', time = ''] = (a.at ?? '').split('T');
      return {
        of: JSON.stringify(a),
        values: {
          e164: a.e164 ? formatPhone(a.e164) : '',
          text: a.text ?? OTHER,
          day,
          time,
          words: a.words ?? '',
          kind: a.kind ?? 'dispatch',
          purpose: a.purpose ?? 'informational',
          from: a.from ?? '',
          own: a.own === 'yes',
          bare: a.line === 'no',
        },
      };
    });
  }

  protected async ask(): Promise<void> {
    await this.form.send((q) => {
      const other = q.text === OTHER;
      this.store.ask({
        e164: q.e164,
        ...(other ? {} : { text: q.text }),
        ...(q.day === '' ? {} : { at: `${q.day}T${q.time || '12:00'}` }),
        ...(other && q.words.trim() !== '' ? { words: q.words } : {}),
        ...(other && q.kind === 'answer' ? { kind: 'answer' } : {}),
        ...(other && q.kind !== 'answer' && q.purpose === 'promotional' ? { purpose: 'promotional' } : {}),
        ...(other && q.from !== '' ? { from: q.from } : {}),
        ...(other && q.own ? { own: 'yes' } : {}),
        ...(other && q.kind !== 'answer' && q.bare ? { line: 'no' } : {}),
      });
      return Promise.resolve();
    });
  }

  /** The posts and what they read, then and now, as a file. */
  protected async save(asked: AskedThen): Promise<void> {
    const { default: papa } = await import('papaparse');
    const zone = this.store.zone();
    const rows = [
      ...this.posts().map((x) => [`${x.no} ${x.label}`, x.then, x.now]),
      ...this.stood().map((x) => [x.what, x.then, x.now]),
    ];
    const heads = ['', momentIn(asked.then.at, zone, 'zone'), momentIn(asked.now.at, zone, 'zone')];
    const number = this.store.answer()?.e164.replace('+', '') ?? '';
    handOutFile(
      new Blob([papa.unparse([heads, ...rows], { escapeFormulae: true })], { type: 'text/csv' }),
      `as-of-${number}.csv`,
    );
  }

  private sentence(when: 'then' | 'now'): string {
    const asked = this.store.asked();
    return asked ? verdictWords(asked[when], this.store.zone(), when === 'then' ? 'would have' : 'would') : '';
  }

  private named(t: TextThen): string {
    const words = t.words.length > 44 ? `${t.words.slice(0, 43)}…` : t.words;
    return `${momentIn(t.at, this.store.zone(), 'full')}, ${t.state}: ${words || t.kind}`;
  }
}
