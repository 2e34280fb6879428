import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Spark } from './spark';

describe('a trend in a row', () => {
  it('draws a bar for each step that has something, the highest as high as there is room, the least still seen', async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(Spark);
    fixture.componentRef.setInput('values', [0, 1, 1400, 700]);
    fixture.componentRef.setInput('label', '2,101 texts in 4 days');
    await fixture.whenStable();
    const svg = (fixture.nativeElement as HTMLElement).querySelector('svg');
    expect(svg?.getAttribute('aria-label')).toBe('2,101 texts in 4 days');
    const bars = Array.from(svg?.querySelectorAll('rect') ?? []);
    expect(bars.map((b) => [b.getAttribute('x'), b.getAttribute('height')])).toEqual([
      ['3', '1'],
      ['6', '14'],
      ['9', '7'],
    ]);
  });
});
