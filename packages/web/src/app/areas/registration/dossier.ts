import { NgComponentOutlet, NgTemplateOutlet } from '@angular/common';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  Injector,
  input,
  signal,
  type Type,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { Confirm } from '../../parts/confirm';
import { FileButton } from '../../parts/file-button';
import { MomentPipe, PhonePipe } from '../../parts/format';
import { Weight } from '../../parts/weight';
import { Icon } from '../../parts/icon';
import { PageTitle } from '../../parts/page-title';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { BeforeFiling } from './before-filing';
import { DossierStore } from './dossier.store';

type Shape = 'pass' | 'hold' | 'stop' | 'note';
const SHAPE: Record<string, Shape> = {
  registered: 'pass',
  'in review': 'hold',
  declined: 'stop',
  suspended: 'stop',
  expired: 'stop',
  draft: 'note',
};

/** A part of the long page, by the address at which it is opened. */
interface Part {
  key: string;
  kind: 'brand' | 'vetting' | 'campaign' | 'toll-free';
  /** Of a campaign or number. */
  id: string;
  title: string;
  /** How it stands, in a word or two. */
  says: string;
  shape: Shape;
  /** Something waits for you there. */
  open: boolean;
}

type Kind = Part['kind'];
/** Each kind of part, loaded when the first of it is unfolded. */
const LOAD: Record<Kind, () => Promise<Type<unknown>>> = {
  brand: () => import('./brand').then((m) => m.BrandPart),
  vetting: () => import('./vetting').then((m) => m.VettingPart),
  campaign: () => import('./campaign').then((m) => m.CampaignPart),
  'toll-free': () => import('./toll-free').then((m) => m.TollFreePart),
};

/**
 * A business's whole registration on one long page: identity and brand, vetting, campaigns, toll-free numbers. Each part
 * has its address; what waits for somebody is unfolded, and whatever else is asked for.
 */
@Component({
  selector: 'lg-dossier',
  imports: [
    BeforeFiling,
    FileButton,
    Icon,
    MatButtonModule,
    NgComponentOutlet,
    NgTemplateOutlet,
    PageTitle,
    RouterLink,
    Weight,
  ],
  providers: [DossierStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './dossier.html',
  styles: `
    :host {
      display: grid;
      grid-template-columns: 206px minmax(0, 1fr);
      height: 100%;
    }
    nav {
      padding: 22px 12px 20px 20px;
      overflow: auto;
    }
    nav a {
      display: flex;
      gap: 8px;
      align-items: center;
      padding: 5px 6px;
      margin-left: -9px;
      border-left: 3px solid transparent;
      color: var(--ink);
      flex-wrap: wrap;
    }
    nav a.here {
      border-color: var(--primary);
      font-weight: 600;
      background: var(--primary-wash);
    }
    nav a .small {
      margin-left: auto;
      font-weight: 400;
    }
    .group {
      margin-top: 12px;
    }
    .begin a {
      margin-top: 8px;
      color: var(--primary);
    }
    .sheet {
      overflow: auto;
      padding: 18px 20px 60vh 8px;
      position: relative;
    }
    section {
      border-top: 1px solid var(--hairline);
      padding: 8px 0 10px;
      scroll-margin-top: 6px;
    }
    section > h2 {
      margin: 0 0 6px;
    }
    .fold {
      display: flex;
      gap: 8px;
      align-items: center;
      --mat-button-text-label-text-color: var(--ink);
    }
    .fold .line {
      display: inline-flex;
      gap: 8px;
      align-items: center;
      font-size: 16px;
    }
    @media (max-width: 900px) {
      :host {
        display: block;
        overflow: auto;
      }
      .sheet {
        padding: 12px;
      }
    }
  `,
})
export class DossierPage {
  /** What the address names: a kind of part, and which. */
  readonly part = input<string | undefined>('');
  readonly partId = input<string | undefined>('');
  protected readonly store = inject(DossierStore);
  protected readonly session = inject(SessionFacade);
  private readonly confirm = inject(Confirm);
  private readonly say = inject(Say);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly injector = inject(Injector);
  protected readonly loaded = signal<Partial<Record<Kind, Type<unknown>>>>({});
  /** What somebody folded or unfolded themselves. */
  private readonly chosen = signal<ReadonlyMap<string, boolean>>(new Map());
  protected readonly here = computed(() => [this.part(), this.partId()].filter(Boolean).join('/'));

  protected readonly parts = computed((): readonly Part[] => {
    const d = this.store.dossier.value();
    if (!d) return [];
    const mine = (state: string): boolean => state === 'draft' || state === 'declined' || state === 'suspended';
    const { brand } = d;
    const vetting = brand.vettings.some((v) => v.decidedAt === null);
    const parts: Part[] = [
      {
        key: 'brand',
        kind: 'brand',
        id: '',
        title: 'Identity and brand',
        says: brand.confirmation?.lapsed ? 'the owner did not answer' : brand.state,
        shape: brand.confirmation?.lapsed ? 'stop' : (SHAPE[brand.state] ?? 'note'),
        open: mine(brand.state),
      },
    ];
    if (brand.body.form !== 'sole proprietor')
      parts.push({
        key: 'vetting',
        kind: 'vetting',
        id: '',
        title: 'Vetting',
        says: vetting ? 'on its way' : brand.score === null ? 'not vetted' : `score ${brand.score}`,
        shape: vetting ? 'hold' : brand.score === null ? 'note' : 'pass',
        open: false,
      });
    for (const c of d.campaigns)
      parts.push({
        key: `campaigns/${c.id}`,
        kind: 'campaign',
        id: c.id,
        title: c.name,
        says: c.state === 'registered' && c.renewsAt !== null ? `until ${this.day(c.renewsAt)}` : c.state,
        shape: SHAPE[c.state] ?? 'note',
        open: mine(c.state) || c.state === 'expired',
      });
    for (const v of d.tollFree)
      parts.push({
        key: `toll-free/${v.numberId}`,
        kind: 'toll-free',
        id: v.numberId,
        title: this.phone(v.e164),
        says: v.state === 'registered' ? 'verified' : v.state === 'draft' ? 'not verified' : v.state,
        shape: v.state === 'draft' ? 'stop' : (SHAPE[v.state] ?? 'note'),
        open: mine(v.state),
      });
    return parts;
  });
  protected readonly campaigns = computed(() => this.parts().filter((p) => p.kind === 'campaign'));
  protected readonly tollFree = computed(() => this.parts().filter((p) => p.kind === 'toll-free'));
  protected readonly firsts = computed(() => this.parts().filter((p) => p.kind === 'brand' || p.kind === 'vetting'));
  /** The address names something that is not in this dossier. */
  protected readonly astray = computed(
    () => this.store.dossier.hasValue() && this.here() !== '' && !this.parts().some((p) => p.key === this.here()),
  );

  constructor() {
    const wanted = computed(() =>
      [
        ...new Set(
          this.parts()
            .filter((p) => this.isOpen(p))
            .map((p) => p.kind),
        ),
      ].join(),
    );
    effect(() => {
      const kinds = wanted()
        .split(',')
        .filter((k): k is Kind => k in LOAD);
      for (const kind of kinds)
        if (!untracked(this.loaded)[kind])
          void LOAD[kind]().then((type) => this.loaded.update((was) => ({ ...was, [kind]: type })));
    });
    const there = computed(() => {
      const part = this.parts().find((p) => p.key === this.here());
      return part !== undefined && this.loaded()[part.kind] !== undefined;
    });
    effect(() => {
      const key = this.here();
      // What one comes to is unfolded, also where it was folded before.
      if (key !== '') untracked(() => this.choose(key, true));
    });
    effect(() => {
      const key = this.here();
      if (key === '' || !there()) return;
      afterNextRender(() => this.host.nativeElement.querySelector(`[data-part="${key}"]`)?.scrollIntoView(), {
        injector: this.injector,
      });
    });
  }

  /** Without an address what waits is unfolded; with one that alone, and what was asked for beside it. */
  protected isOpen(p: Part): boolean {
    return this.chosen().get(p.key) ?? (this.here() === '' ? p.open : p.key === this.here());
  }
  protected fold(p: Part): void {
    this.choose(p.key, !this.isOpen(p));
  }
  private choose(key: string, open: boolean): void {
    this.chosen.update((was) => new Map(was).set(key, open));
  }
  /** Fields of a campaign one did not come for are named after it, so that no two have the same name. */
  protected namesAt(p: Part): string {
    const first = this.campaigns().find((c) => this.isOpen(c));
    const plain = this.campaigns().some((c) => c.key === this.here()) ? this.here() : first?.key;
    return p.key === plain ? '' : `${p.id}-`;
  }

  /** Reads a dossier in as drafts, once it was said what becomes of each thing in it. */
  protected async readIn(file: File): Promise<void> {
    try {
      const text = await file.text();
      const { items } = await this.store.importDossier(text, false);
      const taken = items.filter((i) => i.taken);
      const yes = await this.confirm.ask({
        title: `Read in “${file.name}”?`,
        line:
          taken.length > 0
            ? 'What comes in are drafts: nothing is submitted, paid or sent, and nothing that was filed is changed.'
            : 'Nothing of it can be taken.',
        facts: items.map((i) => ({ name: i.what, value: i.words })),
        yes: taken.length > 0 ? `Take ${taken.length}` : 'Close',
      });
      if (!yes || taken.length === 0) return;
      await this.store.importDossier(text, true);
      this.say.done(`${taken.length === 1 ? 'It is' : 'They are'} here as drafts.`);
    } catch (error) {
      this.say.problem(error);
    }
  }
  protected inputsOf(p: Part): Record<string, unknown> {
    if (p.kind === 'campaign') return { campaignId: p.id, at: this.namesAt(p) };
    return p.kind === 'toll-free' ? { numberId: p.id } : {};
  }

  private readonly moment = new MomentPipe();
  private readonly phonePipe = new PhonePipe();
  private day(at: number): string {
    return this.moment.transform(at, 'day');
  }
  private phone(e164: string): string {
    return this.phonePipe.transform(e164);
  }
}
