import { ApplicationRef, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatTableHarness } from '@angular/material/table/testing';
import { SessionFacade } from '../../state/session.facade';
import { Chart, csvOf, type Series } from './chart';

const SERIES: Series[] = [
  { name: 'delivered', kind: 'bar', tone: 'pass', values: [1200, 0, 7] },
  { name: 'opt-outs, all', kind: 'line', tone: 'note', values: [3, 1, 0] },
];
const DAYS = ['8 Mar', '9 Mar', '10 Mar'];

describe('a chart', () => {
  let fixture: ComponentFixture<Chart>;
  const session = signal({ user: { id: 'p1' } });
  const open = async (series = SERIES): Promise<void> => {
    fixture = TestBed.createComponent(Chart);
    for (const [name, value] of Object.entries({ label: 'Texts by day', stepName: 'Day', steps: DAYS, series }))
      fixture.componentRef.setInput(name, value);
    document.body.append(fixture.nativeElement as HTMLElement);
    await fixture.whenStable();
  };
  beforeEach(async () => {
    session.set({ user: { id: 'p1' } });
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), { provide: SessionFacade, useValue: { session } }],
    });
    await open();
  });
  afterEach(() => (fixture.nativeElement as HTMLElement).remove());
  const press = async (text: string): Promise<void> =>
    (await TestbedHarnessEnvironment.loader(fixture).getHarness(MatButtonHarness.with({ text }))).click();

  it('says in words what it draws', () => {
    const drawing = (fixture.nativeElement as HTMLElement).querySelector('[role=img]');
    expect(drawing?.getAttribute('aria-label')).toBe('Texts by day: 1,207 delivered, 4 opt-outs, all');
  });

  it('shows the same numbers as a table', async () => {
    await press('The numbers as a table');
    const table = await TestbedHarnessEnvironment.loader(fixture).getHarness(MatTableHarness);
    expect(await table.getCellTextByIndex()).toEqual([
      ['8 Mar', '1,200', '3'],
      ['9 Mar', '0', '1'],
      ['10 Mar', '7', '0'],
    ]);
    await press('Hide the numbers');
    expect((fixture.nativeElement as HTMLElement).querySelector('table')).toBeNull();
  });

  describe('of a page that was left', () => {
    /** What is drawn on, once it is there and all of it is drawn. */
    const canvas = async (): Promise<HTMLCanvasElement> => {
      for (;;) {
        const found = (fixture.nativeElement as HTMLElement).querySelector('canvas');
        if (found) return found;
        await new Promise((r) => setTimeout(r, 5));
      }
    };
    /** How often a text was drawn since this was asked for. */
    const texts = (): (() => number) => {
      const drawn = spyOn(CanvasRenderingContext2D.prototype, 'fillText').and.callThrough();
      return () => drawn.calls.count();
    };

    it('is there at once when one comes back, and is not drawn a second time', async () => {
      const first = await canvas();
      expect(first.clientHeight).toBe(220);
      fixture.destroy();
      // The session is read anew now and then, by the same person.
      session.set({ user: { id: 'p1' } });
      const drawn = texts();
      await open();
      expect(await canvas()).toBe(first);
      expect(drawn()).toBe(0);
    });

    it('is drawn anew where its numbers are others', async () => {
      await canvas();
      fixture.destroy();
      const drawn = texts();
      await open([{ name: 'delivered', kind: 'bar', tone: 'pass', values: [1, 2, 3] }]);
      await canvas();
      expect(drawn()).toBeGreaterThan(0);
    });

    it('is as wide as its page is now', async () => {
      const first = await canvas();
      (fixture.nativeElement as HTMLElement).style.width = '500px';
      await TestBed.inject(ApplicationRef).whenStable();
      while (first.clientWidth !== 500) await new Promise((r) => setTimeout(r, 5));
      expect(first.clientWidth).toBe(500);
      fixture.destroy();
      await open();
      expect((await canvas()).clientWidth).toBe((fixture.nativeElement as HTMLElement).clientWidth);
    });

    it('is not kept for the next who signs in', async () => {
      const first = await canvas();
      fixture.destroy();
      session.set({ user: { id: 'p2' } });
      await open();
      expect(await canvas()).not.toBe(first);
    });
  });

  it('hands the same numbers out as a file', () => {
    expect(csvOf('Day', DAYS, SERIES)).toBe(
      'Day,delivered,"opt-outs, all"\r\n8 Mar,1200,3\r\n9 Mar,0,1\r\n10 Mar,7,0\r\n',
    );
  });
});
