import { provideZonelessChangeDetection } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatTimepickerHarness, MatTimepickerInputHarness } from '@angular/material/timepicker/testing';
import { Settings } from 'luxon';
import { TimeField } from './time-field';

describe('a time of day', () => {
  let fixture: ComponentFixture<TimeField>;
  let changed: string[];
  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(TimeField);
    changed = [];
    fixture.componentInstance.changed.subscribe((t) => {
      changed.push(t);
      fixture.componentRef.setInput('value', t);
    });
    fixture.componentRef.setInput('label', 'Time');
    fixture.componentRef.setInput('name', 'when-time');
    await fixture.whenStable();
  });
  afterEach(() => {
    Settings.defaultZone = 'system';
    Settings.now = () => Date.now();
  });
  const field = (): Promise<MatTimepickerInputHarness> =>
    TestbedHarnessEnvironment.loader(fixture).getHarness(MatTimepickerInputHarness);
  const host = (): HTMLElement => fixture.nativeElement as HTMLElement;
  /** As one types and goes on. */
  const type = async (text: string): Promise<void> => {
    const input = host().querySelector('input');
    if (!input) throw new Error('no field');
    input.focus();
    input.value = text;
    input.dispatchEvent(new Event('input', { bubbles: true }));
    await fixture.whenStable();
    input.dispatchEvent(new Event('change', { bubbles: true }));
    input.blur();
    await fixture.whenStable();
  };

  it('is shown as times are written here, whatever the browser’s language, and empty where there is none', async () => {
    expect(await (await field()).getValue()).toBe('');
    fixture.componentRef.setInput('value', '17:05');
    expect(await (await field()).getValue()).toBe('17:05');
    expect(host().querySelector('label')?.getAttribute('for')).toBe('when-time');
  });

  it('is read as people write it', async () => {
    for (const [typed, time] of [
      ['17:05', '17:05'],
      ['9:30', '09:30'],
      [' 5:05 PM', '17:05'],
      ['5:05pm', '17:05'],
      ['17.05', '17:05'],
      ['1706', '17:06'],
      ['9 am', '09:00'],
      ['12am', '00:00'],
    ] as const) {
      await type(typed);
      expect(changed.at(-1)).withContext(typed).toBe(time);
      expect(await (await field()).getValue())
        .withContext(typed)
        .toBe(time);
    }
  });

  it('says what is none, keeps it as it was typed, and hands on nothing that could be taken for another', async () => {
    await type('17:00');
    await type('25:10');
    expect(changed.at(-1)).toBe('25:10');
    expect(host().querySelector('[role=alert]')?.textContent).toBe('“25:10” is no time. Write it as 14:05.');
    expect(await (await field()).getValue()).toBe('25:10');
    await type('17:10');
    expect(host().querySelector('[role=alert]')).toBeNull();
    await type('');
    expect(changed.slice(-2)).toEqual(['17:10', '']);
    expect(host().querySelector('[role=alert]')).toBeNull();
  });

  it('is chosen from the half hours of a day and what it is now, all of them on the day the clock changes too', async () => {
    // On this day the hour from two to three is missing in New York.
    Settings.defaultZone = 'America/New_York';
    Settings.now = () => Date.UTC(2027, 2, 14, 16);
    await type('14:05');
    const loader = TestbedHarnessEnvironment.loader(fixture);
    await (await loader.getHarness(MatButtonHarness.with({ text: 'choose' }))).click();
    const picker = await TestbedHarnessEnvironment.documentRootLoader(fixture).getHarness(MatTimepickerHarness);
    const options = await Promise.all((await picker.getOptions()).map((o) => o.getText()));
    expect(options.length).toBe(49);
    expect(options.slice(4, 6)).toEqual(['02:00', '02:30']);
    expect(options.slice(28, 31)).toEqual(['14:00', '14:05', '14:30']);
    await picker.selectOption({ text: '02:30' });
    expect(changed).toEqual(['14:05', '02:30']);
    expect(await (await field()).getValue()).toBe('02:30');
  });

  it('is taken out by Escape', async () => {
    await type('14:05');
    host()
      .querySelector('input')
      ?.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    await fixture.whenStable();
    expect(changed).toEqual(['14:05', '']);
    expect(await (await field()).getValue()).toBe('');
  });
});
