import { provideZonelessChangeDetection } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonToggleHarness } from '@angular/material/button-toggle/testing';
import { MatNativeSelectHarness } from '@angular/material/input/testing';
import { ChoiceFacet } from './choice-facet';
import { Facet } from './facet';

describe('a facet', () => {
  let fixture: ComponentFixture<Facet>;
  let picked: string[];
  beforeEach(() => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(Facet);
    picked = [];
    fixture.componentInstance.picked.subscribe((v) => picked.push(v));
    fixture.componentRef.setInput('label', 'Textable');
    fixture.componentRef.setInput('values', [
      { value: 'yes', n: 2316, on: true },
      { value: 'no', n: 194, on: false },
      { value: 'unknown', label: 'not known', on: false },
    ]);
  });
  const toggles = (): Promise<MatButtonToggleHarness[]> =>
    TestbedHarnessEnvironment.loader(fixture).getAllHarnesses(MatButtonToggleHarness);

  it('says each value with how many there are, where that is known', async () => {
    const words = await Promise.all((await toggles()).map((t) => t.getText()));
    expect(words).toEqual(['yes 2,316', 'no 194', 'not known']);
  });

  it('tells what was pressed and leaves it to the list what is on', async () => {
    const [yes, no] = await toggles();
    await no?.toggle();
    await yes?.toggle();
    expect(picked).toEqual(['no', 'yes']);
    expect([await yes?.isChecked(), await no?.isChecked()]).toEqual([true, false]);
    fixture.componentRef.setInput('values', [
      { value: 'yes', n: 2316, on: false },
      { value: 'no', n: 194, on: true },
    ]);
    expect([await yes?.isChecked(), await no?.isChecked()]).toEqual([false, true]);
  });

  it('is a group with a name, for whoever does not see it', async () => {
    await fixture.whenStable();
    const group = (fixture.nativeElement as HTMLElement).querySelector('[role=group]');
    expect(group?.getAttribute('aria-label')).toBe('Textable');
  });
});

describe('a facet of many values', () => {
  it('is chosen from, named for whoever does not see it, and left for any', async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(ChoiceFacet);
    fixture.componentRef.setInput('label', 'List');
    fixture.componentRef.setInput('name', 'List or tag');
    fixture.componentRef.setInput('values', [
      { value: 'lst_1', label: 'Passengers (2,316)' },
      { value: 'lst_2', label: 'Crew (14)' },
    ]);
    fixture.componentRef.setInput('chosen', 'lst_2');
    const picked: (string | null)[] = [];
    fixture.componentInstance.picked.subscribe((v) => picked.push(v));
    const select = await TestbedHarnessEnvironment.loader(fixture).getHarness(MatNativeSelectHarness);
    expect(await (await select.host()).getAttribute('aria-label')).toBe('List or tag');
    const options = await select.getOptions();
    expect(await Promise.all(options.map((o) => o.isSelected()))).toEqual([false, false, true]);
    await select.selectOptions({ text: 'Passengers (2,316)' });
    await select.selectOptions({ text: 'any' });
    expect(picked).toEqual(['lst_1', null]);
  });
});
