import { computed, effect, inject, Injectable, untracked } from '@angular/core';
import type { EChartsCoreOption, EChartsType } from 'echarts/core';
import { SessionFacade } from '../../state/session.facade';

/** The chart library, which comes when the first chart is drawn. */
type Library = Pick<typeof import('./echarts'), 'init'>;

/** One chart as the library draws it, in a place of its own that may stand on one page after another. */
export class Drawing {
  readonly place = document.createElement('div');
  private chart: EChartsType | null = null;
  private shown = '';

  constructor(private readonly library: Library) {
    this.place.style.height = '100%';
  }

  /** Draws this where it stands; what is drawn already is left as it is. */
  draw(options: EChartsCoreOption): void {
    this.chart ??= this.library.init(this.place);
    this.takeRoom();
    const words = JSON.stringify(options);
    if (words === this.shown) return;
    this.shown = words;
    this.chart.setOption(options, true);
  }

  /** As wide and as high as the room it has; as it was where it has none. */
  takeRoom(): void {
    const { clientWidth, clientHeight } = this.place;
    if (!this.chart || clientWidth === 0 || clientHeight === 0) return;
    if (this.chart.getWidth() !== clientWidth || this.chart.getHeight() !== clientHeight) this.chart.resize();
  }

  /** Takes it off its page; nothing is pointed at any more. */
  leave(): void {
    this.place.remove();
    this.chart?.dispatchAction({ type: 'hideTip' });
  }

  /** @returns a data address of twice the points, on this colour. */
  picture(backgroundColor: string): string | undefined {
    return this.chart?.getDataURL({ type: 'png', pixelRatio: 2, backgroundColor });
  }

  end(): void {
    this.chart?.dispose();
    this.chart = null;
  }
}

/** So many are kept while no page shows them. */
const KEPT = 4;

/**
 * Charts of pages that were left, by what they are called: whoever comes back sees theirs at once, and it is drawn anew
 * only where its numbers have changed. They go with the person they were drawn for.
 */
@Injectable({ providedIn: 'root' })
export class Drawings {
  private readonly kept = new Map<string, Drawing>();

  constructor() {
    const session = inject(SessionFacade);
    const who = computed(() => session.session()?.user?.id);
    effect(() => {
      who();
      untracked(() => this.clear());
    });
  }

  /** The one that was left under this name, or a new one. */
  async take(name: string): Promise<Drawing> {
    const library = await import('./echarts');
    const left = this.kept.get(name);
    this.kept.delete(name);
    return left ?? new Drawing(library);
  }

  /** Keeps it until its page is opened again; the one left longest ago makes room. */
  leave(name: string, drawing: Drawing): void {
    drawing.leave();
    this.kept.get(name)?.end();
    this.kept.delete(name);
    this.kept.set(name, drawing);
    for (const [longest, old] of this.kept) {
      if (this.kept.size <= KEPT) break;
      this.kept.delete(longest);
      old.end();
    }
  }

  private clear(): void {
    for (const drawing of this.kept.values()) drawing.end();
    this.kept.clear();
  }
}
