import { provideZonelessChangeDetection, signal } from '@angular/core';
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
  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: SessionFacade, useValue: { session: signal({ user: { id: 'p1' } }) } },
      ],
    });
    fixture = TestBed.createComponent(Chart);
    for (const [name, value] of Object.entries({ label: 'Texts by day', stepName: 'Day', steps: DAYS, series: SERIES }))
      fixture.componentRef.setInput(name, value);
    document.body.append(fixture.nativeElement as HTMLElement);
    await fixture.whenStable();
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

  it('hands the same numbers out as a file', () => {
    expect(csvOf('Day', DAYS, SERIES)).toBe(
      'Day,delivered,"opt-outs, all"\r\n8 Mar,1200,3\r\n9 Mar,0,1\r\n10 Mar,7,0\r\n',
    );
  });
});
