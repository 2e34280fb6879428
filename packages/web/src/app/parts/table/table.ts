import { CDK_VIRTUAL_SCROLL_VIEWPORT, CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import { NgTemplateOutlet } from '@angular/common';
import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  contentChildren,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  Injector,
  input,
  linkedSignal,
  model,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatSortModule, type Sort } from '@angular/material/sort';
import { MatTableModule } from '@angular/material/table';
import type { TableName } from '@long-gate/contracts';
import { firstValueFrom } from 'rxjs';
import { Cell } from './cell';
import { AS_IT_WAS, columnsIn, sortedBy, widthsIn, type Column, type Kept } from './column';
import { KeptTables } from '../../state/kept-tables';

/** The box for choosing a row. */
const PICK = 36;
/** How far ahead of the last row that is here the next page is asked for. */
const AHEAD = 60;
/** Pixels one row is high where only those on screen are drawn. */
export const ROW = 36;

/**
 * A ruled list: its columns sorted, chosen and widened, kept for each person; where there is no room the less important
 * leave. Cells are written as `lgCell` templates, or are the column's text.
 */
@Component({
  selector: 'lg-table',
  imports: [NgTemplateOutlet, ScrollingModule, MatTableModule, MatSortModule, MatCheckboxModule, MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './table.html',
  styleUrl: './table.scss',
  host: { '[class.virtual]': 'virtual()' },
})
export class Table<T> {
  readonly rows = input.required<readonly T[]>();
  readonly columns = input.required<readonly Column<T>[]>();
  /** What tells a row from all others. */
  readonly key = input.required<(row: T) => string>();
  /** What it lists, for whoever does not see it. */
  readonly label = input.required<string>();
  /** Under which a person's columns are kept; a table without is as it is. */
  readonly name = input<TableName>();
  /** Only rows on screen are drawn, each one line high. */
  readonly virtual = input(false, { transform: booleanAttribute });
  /** Rows open something. */
  readonly opening = input(false, { transform: booleanAttribute });
  readonly open = input<string | null | undefined>(null);
  readonly opened = output<string>();
  /** Rows can be chosen. */
  readonly picking = input(false);
  readonly picked = model<readonly string[]>([]);
  /** What a row is called, for whoever chooses it without seeing it. */
  readonly called = input<(row: T) => string>((row) => this.key()(row));
  readonly face = input<(row: T) => string>(() => '');
  /** The head is for whoever does not see the table. */
  readonly headless = input(false, { transform: booleanAttribute });
  /** What the rows are sorted by where they come from, which is not all here; null for the order they come in. */
  readonly order = input<Kept['sort']>();
  readonly ordered = output<Kept['sort']>();
  /** The reader comes near the end of what is here. */
  readonly near = output();

  private readonly kept = inject(KeptTables);
  private readonly dialog = inject(MatDialog);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly injector = inject(Injector);
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  /** The table is written once, outside of what scrolls it: this tells it what it stands in. */
  protected readonly within = computed(() => {
    const viewport = this.viewport();
    const providers = [{ provide: CDK_VIRTUAL_SCROLL_VIEWPORT, useValue: viewport }];
    return viewport ? Injector.create({ providers, parent: this.injector }) : null;
  });
  private readonly cells = contentChildren<Cell<T>>(Cell);
  private readonly width = signal<number | null>(null);
  protected readonly row = ROW;
  protected readonly mine = linkedSignal(() => {
    const name = this.name();
    return name ? this.kept.of(name) : AS_IT_WAS;
  });
  private readonly taken = computed(() => (this.picking() ? PICK : 0));
  protected readonly shown = computed(() => columnsIn(this.columns(), this.mine(), this.width(), this.taken()));
  protected readonly ids = computed(() => [...(this.picking() ? ['pick'] : []), ...this.shown().map((c) => c.id)]);
  protected readonly sorting = computed(() => this.order() ?? (this.order() === null ? null : this.mine().sort));
  protected readonly sorted = computed(() =>
    this.order() === undefined ? sortedBy(this.rows(), this.columns(), this.mine().sort) : this.rows(),
  );
  protected readonly templates = computed(() => new Map(this.cells().map((c) => [c.column(), c.template])));
  /** Widths are fixed where columns have any; a table without lays itself out. */
  protected readonly fixed = computed(
    () =>
      this.virtual() || this.columns().some((c) => c.width !== undefined) || Object.keys(this.mine().widths).length > 0,
  );
  private readonly widths = computed(() => {
    const width = this.width();
    if (!this.fixed() || width === null) return {};
    const widths = widthsIn(this.shown(), this.mine(), width, this.taken());
    return Object.fromEntries(this.shown().map((c, i) => [c.id, widths[i]]));
  });
  protected readonly all = computed(() => this.rows().length > 0 && this.picked().length === this.rows().length);
  protected readonly some = computed(() => this.picked().length > 0 && !this.all());
  protected readonly by = (_: number, row: T): string => this.key()(row);

  constructor() {
    const watch = new ResizeObserver(([entry]) => {
      if (entry) this.width.set(Math.floor(entry.contentRect.width));
    });
    watch.observe(this.host.nativeElement);
    inject(DestroyRef).onDestroy(() => {
      watch.disconnect();
    });
    effect((done) => {
      const moves = this.viewport()?.renderedContentOffset.subscribe((offset) => {
        this.stickHead(offset);
      });
      done(() => moves?.unsubscribe());
    });
  }

  /**
   * The head stays on top as one piece. As the table would do it each of its cells is a layer of its own, all of which
   * are painted anew with every row that is scrolled into view.
   * @param offset how far down the drawn rows begin, which moves the head with them.
   */
  private stickHead(offset: number): void {
    const head = this.host.nativeElement.querySelector('thead');
    if (head) head.style.top = `${-offset}px`;
  }

  protected widthOf(id: string): number | null {
    return id === 'pick' && this.fixed() ? PICK : (this.widths()[id] ?? null);
  }
  protected faceOf(c: Column<T>, row: T): string {
    const face = typeof c.face === 'function' ? c.face(row) : (c.face ?? '');
    return `${face}${c.right ? ' right' : ''}`;
  }
  protected rowFace(row: T): string {
    const open = this.open() && this.key()(row) === this.open();
    return `${this.face()(row)}${this.opening() ? ' go' : ''}${open ? ' chosen' : ''}`;
  }
  protected textOf(c: Column<T>, row: T): string {
    return c.text?.(row) ?? '';
  }
  protected at(index: number): void {
    if (index + AHEAD > this.rows().length) this.near.emit();
  }

  protected sort(sort: Sort): void {
    const by = sort.direction ? { by: sort.active, down: sort.direction === 'desc' } : null;
    if (this.order() === undefined) this.take({ ...this.mine(), sort: by });
    else {
      this.viewport()?.scrollToIndex(0);
      this.ordered.emit(by);
    }
  }
  protected sorts(c: Column<T>): boolean {
    return this.order() === undefined ? c.by !== undefined : (c.sorts ?? false);
  }
  protected pick(row: T, on: boolean): void {
    const id = this.key()(row);
    this.picked.update((now) => (on ? [...now, id] : now.filter((x) => x !== id)));
  }
  /** Answers nothing: a listener that answers `false` takes from a click what it does by itself. */
  protected pressed(row: T): void {
    if (this.opening()) this.opened.emit(this.key()(row));
  }
  protected pickAll(on: boolean): void {
    this.picked.set(on ? this.rows().map((r) => this.key()(r)) : []);
  }

  /** The edge of a column's head is drawn to where it shall end. */
  protected draw(start: PointerEvent, c: Column<T>): void {
    start.preventDefault();
    start.stopPropagation();
    const edge = start.target as HTMLElement;
    const from = edge.parentElement?.getBoundingClientRect().width ?? 0;
    edge.setPointerCapture(start.pointerId);
    const move = (e: PointerEvent): void => {
      const width = Math.max(40, Math.round(from + e.clientX - start.clientX));
      this.take({ ...this.mine(), widths: { ...this.mine().widths, [c.id]: width } });
    };
    edge.addEventListener('pointermove', move);
    edge.addEventListener('lostpointercapture', () => edge.removeEventListener('pointermove', move), { once: true });
  }

  /** Which columns there are and how wide, by keyboard too. */
  async choose(): Promise<void> {
    const { ColumnsDialog } = await import('./columns-dialog');
    const widths = this.widths();
    const ref = this.dialog.open(ColumnsDialog, {
      data: { columns: this.columns(), kept: this.mine(), widths },
      width: '420px',
      ariaLabel: 'Columns',
    });
    const chosen = (await firstValueFrom(ref.afterClosed())) as Kept | undefined;
    if (chosen) this.take(chosen);
  }

  private take(kept: Kept): void {
    this.mine.set(kept);
    const name = this.name();
    if (name) this.kept.keep(name, kept);
  }
}
