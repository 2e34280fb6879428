import { computed, effect, signal, untracked, type Signal } from '@angular/core';

interface Page<T> {
  items: T[];
  next: string | null;
  /** Null where counting would have kept the page waiting. */
  total: number | null;
}

/**
 * Rows that are fetched page by page as the reader comes near the end of what is there.
 * A change of `params` begins anew; `refresh` reads what is shown again and keeps it on screen meanwhile.
 */
export class PagedRows<P, T> {
  readonly rows = signal<T[]>([]);
  readonly total = signal<number | null>(null);
  readonly error = signal<Error | null>(null);
  readonly loading = signal(false);
  private readonly next = signal<string | null>(null);
  private run = 0;
  readonly ended = computed(() => !this.loading() && this.next() === null);

  constructor(
    private readonly params: Signal<P | undefined>,
    private readonly load: (params: P, cursor: string | undefined, limit: number) => Promise<Page<T>>,
    private readonly size = 100,
  ) {
    effect(() => {
      if (this.params() !== undefined) untracked(() => void this.begin(this.size));
    });
  }

  refresh(): void {
    if (this.params() !== undefined && !this.loading())
      void this.begin(Math.min(500, Math.max(this.size, this.rows().length)));
  }

  /** Fetches the next page, if there is one and none is on its way. */
  async more(): Promise<void> {
    const params = this.params();
    if (this.loading() || this.next() === null || params === undefined) return;
    const run = this.run;
    this.loading.set(true);
    try {
      const page = await this.load(params, this.next() ?? undefined, this.size);
      if (run !== this.run) return;
      this.rows.update((rows) => [...rows, ...page.items]);
      this.next.set(page.next);
    } catch (error) {
      this.error.set(error as Error);
    } finally {
      if (run === this.run) this.loading.set(false);
    }
  }

  private async begin(limit: number): Promise<void> {
    const run = ++this.run;
    const params = this.params();
    if (params === undefined) return;
    this.loading.set(true);
    try {
      const page = await this.load(params, undefined, limit);
      if (run !== this.run) return;
      this.rows.set(page.items);
      this.total.set(page.total);
      this.next.set(page.next);
      this.error.set(null);
    } catch (error) {
      if (run === this.run) this.error.set(error as Error);
    } finally {
      if (run === this.run) this.loading.set(false);
    }
  }
}
