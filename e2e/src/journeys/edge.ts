import type { Page } from 'puppeteer-core';

/**
 * What stands beyond the right edge of the screen, where nobody looks for it: all but what is cut off on purpose, such as
 * a name that ends in dots, and tables, which can be drawn aside.
 */
export function beyondTheEdge(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const edge = innerWidth + 1;
    const isCut = (e: Element): boolean => {
      for (let x = e.parentElement; x; x = x.parentElement) {
        if (x.getBoundingClientRect().right > edge) continue;
        const { overflowX } = getComputedStyle(x);
        if (overflowX === 'hidden' || overflowX === 'clip') return true;
      }
      return false;
    };
    const beyond = Array.from(document.querySelectorAll('main *')).filter((e) => {
      const { right, width } = e.getBoundingClientRect();
      return width > 0 && right > edge && !e.closest('lg-table, table, svg') && !isCut(e);
    });
    return beyond
      .filter((e) => !beyond.some((other) => other !== e && other.contains(e)))
      .map((e) => `beyond the edge: ${e.outerHTML.slice(0, 140)}`)
      .slice(0, 3);
  });
}
