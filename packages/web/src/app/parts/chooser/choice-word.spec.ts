import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { MatNativeSelectHarness } from '@angular/material/input/testing';
import { ChoiceWord } from './choice-word';

const TERMS = ['days', 'weeks', 'months'].map((value) => ({ value, label: `in ${value}` }));

describe('a choice within a sentence', () => {
  let fixture: ComponentFixture<ChoiceWord<string>>;
  let word: MatNativeSelectHarness;
  let picked: (string | null)[];
  const open = async (given: Record<string, unknown>): Promise<void> => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent<ChoiceWord<string>>(ChoiceWord);
    for (const [name, value] of Object.entries({ choices: TERMS, ...given }))
      fixture.componentRef.setInput(name, value);
    picked = [];
    fixture.componentInstance.picked.subscribe((p) => picked.push(p));
    word = await TestbedHarnessEnvironment.loader(fixture).getHarness(MatNativeSelectHarness);
  };
  const shown = async (): Promise<string[]> =>
    Promise.all((await word.getOptions({ isSelected: true })).map((o) => o.getText()));

  it('shows what is chosen, says what it is, and follows where that changes elsewhere', async () => {
    await open({ label: 'Within', chosen: 'weeks' });
    expect(await shown()).toEqual(['in weeks']);
    expect(await (await word.host()).getAttribute('aria-label')).toBe('Within');
    fixture.componentRef.setInput('chosen', 'days');
    expect(await shown()).toEqual(['in days']);
  });

  it('tells what was picked, and null for nothing where nothing may be chosen', async () => {
    await open({ chosen: 'weeks', none: 'any time' });
    await word.selectOptions({ text: 'in months' });
    expect(picked.at(-1)).toBe('months');
    await word.selectOptions({ text: 'any time' });
    expect(picked.at(-1)).toBeNull();
  });

  it('offers nothing else than its choices where one is always chosen', async () => {
    await open({ chosen: 'weeks' });
    expect((await word.getOptions()).length).toBe(TERMS.length);
  });

  it('is free for the next once its choice has been done', async () => {
    await open({ acts: true, none: 'add a term…' });
    await word.selectOptions({ text: 'in days' });
    expect(await shown()).toEqual(['add a term…']);
    await word.selectOptions({ text: 'in days' });
    expect(picked).toEqual(['days', 'days']);
  });

  it('is named by a label of the page where it has one', async () => {
    await open({ name: 'month', chosen: 'days' });
    const host = await word.host();
    expect(await host.getAttribute('id')).toBe('month');
    expect(await host.getAttribute('aria-label')).toBeNull();
  });
});
