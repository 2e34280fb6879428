import { provideZonelessChangeDetection } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatCalendarHarness, MatDatepickerInputHarness } from '@angular/material/datepicker/testing';
import { DateField } from './date-field';

describe('a day', () => {
  let fixture: ComponentFixture<DateField>;
  let changed: string[];
  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(DateField);
    changed = [];
    fixture.componentInstance.changed.subscribe((d) => changed.push(d));
    fixture.componentRef.setInput('label', 'Date printed on it');
    fixture.componentRef.setInput('name', 'billDated');
    await fixture.whenStable();
  });
  const field = (): Promise<MatDatepickerInputHarness> =>
    TestbedHarnessEnvironment.loader(fixture).getHarness(MatDatepickerInputHarness);

  it('is shown as days are written here, and empty where there is none', async () => {
    expect(await (await field()).getValue()).toBe('');
    fixture.componentRef.setInput('value', '2027-03-24');
    expect(await (await field()).getValue()).toBe('24 Mar 2027');
  });

  it('is read as people write it', async () => {
    const input = await field();
    for (const typed of ['24 Mar 2027', '2027-03-24', '3/24/2027', 'Mar 24, 2027']) await input.setValue(typed);
    expect(new Set(changed)).toEqual(new Set(['2027-03-24']));
  });

  it('hands on what is no day, for the contract to say what is wrong with it', async () => {
    await (await field()).setValue('soon');
    expect(changed).toEqual(['soon']);
  });

  it('that narrows a list is handed on only where it is one, and says so itself where it is none', async () => {
    fixture.componentRef.setInput('narrowing', true);
    const input = await field();
    await input.setValue('soon');
    expect(changed).toEqual([]);
    const alert = (): string => (fixture.nativeElement as HTMLElement).querySelector('[role=alert]')?.textContent ?? '';
    expect(alert()).toContain('“soon” is no day');
    await input.setValue('3/24/2027');
    expect(alert()).toBe('');
    await input.setValue('');
    expect(changed).toEqual(['2027-03-24', '']);
  });

  it('is chosen in a calendar, within the days that may be', async () => {
    fixture.componentRef.setInput('value', '2027-03-24');
    fixture.componentRef.setInput('from', '2027-03-20');
    const loader = TestbedHarnessEnvironment.loader(fixture);
    await (await loader.getHarness(MatButtonHarness.with({ text: 'choose' }))).click();
    const calendar = await TestbedHarnessEnvironment.documentRootLoader(fixture).getHarness(MatCalendarHarness);
    expect(await calendar.getCurrentViewLabel()).toContain('MAR 2027');
    const [early] = await calendar.getCells({ text: '19' });
    expect(await early?.isDisabled()).toBeTrue();
    await calendar.selectCell({ text: '26' });
    expect(changed).toEqual(['2027-03-26']);
  });

  it('has its label, and what is wrong with it', async () => {
    fixture.componentRef.setInput('wrong', 'A bill is at most 30 days old.');
    await fixture.whenStable();
    const host = fixture.nativeElement as HTMLElement;
    expect(host.querySelector('label')?.getAttribute('for')).toBe('billDated');
    expect(host.querySelector('[role=alert]')?.textContent).toBe('A bill is at most 30 days old.');
  });
});
