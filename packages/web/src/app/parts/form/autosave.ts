import { computed, DestroyRef, inject, signal } from '@angular/core';
import type { ApiProblem } from '../../api/api';
import { changed, merge, type Conflict } from './merge';
import { KeptDrafts } from './kept-drafts';
import { Unsaved } from './unsaved';

/** A thing as the server has it. */
export interface Kept<T> {
  value: T;
  version: number;
}

/** Who changed a thing last, and when. */
export interface Change {
  by: string;
  at: number;
}

export interface Saving<T> {
  /** Saves a value that was made from this version. @throws ApiProblem */
  save(value: T, version: number): Promise<Kept<T>>;
  /** The thing as it is now, asked for when somebody else has changed it. @throws ApiProblem */
  read(): Promise<Kept<T>>;
  /** Who changed it last, where that is on record. */
  lastChange?(): Promise<Change | null>;
  /** Fields that are never kept in the browser: numbers and secrets of an account. */
  secret?: readonly (keyof T & string)[];
  /** Nothing is saved before the person says so: what is saved has a meaning of its own, such as a page that is published. */
  byHand?: boolean;
}

/** How long nothing has to be typed before it is saved, and after how long a server that did not answer is tried again. */
const REST_MS = 700;
const AGAIN_MS = 5_000;

/**
 * Saves a form by itself. What is typed during a save is saved by the next; what cannot be saved is kept in this browser
 * and sent later, also after a reload; where two people work on one thing their edits are brought together field by
 * field, and what both changed is for the person to choose. Made where one may inject.
 */
export class Autosave<T extends object> {
  private readonly drafts = inject(KeptDrafts);
  private readonly base = signal<Kept<T> | null>(null);
  private readonly mine = signal<T | null>(null);
  private readonly problem = signal<ApiProblem | null>(null);
  private readonly running = signal(false);
  private key = '';
  private timer: ReturnType<typeof setTimeout> | undefined;
  private turn: Promise<boolean> = Promise.resolve(true);

  /** What stands in the form. */
  readonly value = this.mine.asReadonly();
  readonly version = computed(() => this.base()?.version ?? 0);
  readonly dirty = computed(() => {
    const [base, mine] = [this.base(), this.mine()];
    return base !== null && mine !== null && changed(base.value, mine).length > 0;
  });
  /** What both changed, until the person has chosen. */
  readonly conflicts = signal<readonly Conflict<T>[]>([]);
  /** Whose changes those are. */
  readonly theirs = signal<Change | null>(null);
  /** Whether what stands there was typed earlier and is only now being sent. */
  readonly recovered = signal(false);
  /** What the server refuses of it, by field. */
  readonly refused = computed(() => this.problem()?.fields ?? []);
  readonly words = computed(() => {
    if (this.conflicts().length > 0) return 'not saved: choose what shall stand';
    const problem = this.problem();
    if (problem)
      return problem.code === 'offline'
        ? `not saved: the server does not answer; kept in this browser${this.saving.byHand ? '' : ' and sent when it does'}`
        : `not saved: ${problem.message}`;
    if (this.running()) return 'saving…';
    if (this.dirty()) return 'not saved yet';
    return this.everSaved() ? 'saved' : '';
  });
  private readonly everSaved = signal(false);

  constructor(private readonly saving: Saving<T>) {
    const unsaved = inject(Unsaved);
    unsaved.add(this);
    const again = (): void => this.soon();
    globalThis.addEventListener('online', again);
    inject(DestroyRef).onDestroy(() => {
      unsaved.drop(this);
      globalThis.removeEventListener('online', again);
      clearTimeout(this.timer);
    });
  }

  /**
   * Takes the thing as the server has it: the first time, whenever it was changed, and when another one is opened.
   * @param key names it among all things, such as `campaign cmp_…`.
   */
  take(key: string, kept: Kept<T>): void {
    if (key !== this.key) {
      this.key = key;
      this.base.set(null);
      this.conflicts.set([]);
      this.problem.set(null);
      this.everSaved.set(false);
      this.recovered.set(false);
      const draft = this.drafts.of<T>(key);
      if (draft) {
        this.base.set({ value: { ...kept.value, ...draft.base }, version: draft.version });
        this.mine.set({ ...kept.value, ...draft.mine });
        this.recovered.set(true);
      }
    } else if (kept.version < this.version()) return;
    const [base, mine] = [this.base(), this.mine()];
    if (!base || !mine) {
      this.base.set(kept);
      this.mine.set(kept.value);
      return;
    }
    if (kept.version === base.version && !this.recovered()) return;
    const { value, conflicts } = merge(base.value, mine, kept.value);
    this.base.set(kept);
    this.mine.set(value);
    if (conflicts.length > 0) {
      this.conflicts.set(conflicts);
      void this.saving.lastChange?.().then(
        (who) => this.theirs.set(who),
        () => undefined,
      );
    } else if (this.dirty()) this.soon();
    this.keep();
  }

  /** What was new has a name of its own now; what was typed goes on under it. */
  rename(key: string): void {
    this.drafts.forget(this.key);
    this.key = key;
    this.keep();
  }

  change(part: Partial<T>): void {
    const mine = this.mine();
    if (!mine) return;
    this.mine.set({ ...mine, ...part });
    // Typed once more, mine is what shall stand.
    this.conflicts.update((all) => all.filter((c) => !(c.field in part)));
    this.problem.set(null);
    this.keep();
    this.soon();
  }

  /** Which of two edits shall stand. */
  choose(field: keyof T & string, whose: 'mine' | 'theirs'): void {
    const conflict = this.conflicts().find((c) => c.field === field);
    if (!conflict) return;
    this.conflicts.update((all) => all.filter((c) => c !== conflict));
    if (whose === 'theirs') this.mine.update((m) => (m ? { ...m, [field]: conflict.theirs } : m));
    this.keep();
    this.soon();
  }

  /** Saves what may be saved unasked. @returns whether everything is saved. */
  settle(): Promise<boolean> {
    return this.saving.byHand ? Promise.resolve(!this.dirty()) : this.flush();
  }

  /** Saves what is unsaved now. @returns whether everything is saved. */
  flush(): Promise<boolean> {
    clearTimeout(this.timer);
    this.turn = this.turn.then(() => this.saveAll());
    return this.turn;
  }

  /** Forgets what was typed and not saved. */
  discard(): void {
    clearTimeout(this.timer);
    this.mine.set(this.base()?.value ?? null);
    this.conflicts.set([]);
    this.problem.set(null);
    this.keep();
  }

  private soon(): void {
    clearTimeout(this.timer);
    if (this.saving.byHand) return;
    this.timer = setTimeout(() => void this.flush(), REST_MS);
  }

  /** What is unsaved stays in this browser until it is saved, but for what must not. */
  private keep(): void {
    const [base, mine] = [this.base(), this.mine()];
    if (!base || !mine) return;
    const fields = changed(base.value, mine).filter((f) => !this.saving.secret?.includes(f));
    if (fields.length === 0) return this.drafts.forget(this.key);
    const only = (from: Partial<T>): Partial<T> => Object.fromEntries(fields.map((f) => [f, from[f]])) as Partial<T>;
    // What is still to be chosen is kept with what both began with, so that it is asked again.
    const began = Object.fromEntries(this.conflicts().map((c) => [c.field, c.base])) as Partial<T>;
    this.drafts.keep(this.key, { base: only({ ...base.value, ...began }), mine: only(mine), version: base.version });
  }

  private async saveAll(): Promise<boolean> {
    // Two rounds mend what was changed meanwhile; a third would mean that somebody types as fast as we save.
    for (let round = 0; round < 3; round++) {
      const [base, sent, key] = [this.base(), this.mine(), this.key];
      if (!base || !sent || !this.dirty()) return true;
      if (this.conflicts().length > 0) return false;
      this.running.set(true);
      try {
        const kept = await this.saving.save(sent, base.version);
        if (key !== this.key) return true;
        // What was typed meanwhile is kept on top of what the server made of it.
        const typed = this.mine() ?? sent;
        const later = Object.fromEntries(changed(sent, typed).map((f) => [f, typed[f]])) as Partial<T>;
        this.base.set(kept);
        // Where only spaces differ the field stays as it was typed.
        const as = Object.fromEntries(changed(kept.value, typed).map((f) => [f, kept.value[f]])) as Partial<T>;
        this.mine.set({ ...kept.value, ...typed, ...as, ...later });
        this.problem.set(null);
        this.everSaved.set(true);
        this.recovered.set(false);
        this.keep();
      } catch (error) {
        if (key !== this.key) return false;
        const problem = error as ApiProblem;
        if (problem.code !== 'changed-meanwhile') return this.failed(problem);
        try {
          this.take(key, await this.saving.read());
        } catch (unread) {
          return this.failed(unread as ApiProblem);
        }
      } finally {
        this.running.set(false);
      }
    }
    return !this.dirty();
  }

  private failed(problem: ApiProblem): false {
    this.problem.set(problem);
    if (!this.saving.byHand && (problem.code === 'offline' || problem.status >= 500)) {
      clearTimeout(this.timer);
      this.timer = setTimeout(() => void this.flush(), AGAIN_MS);
    }
    return false;
  }
}
