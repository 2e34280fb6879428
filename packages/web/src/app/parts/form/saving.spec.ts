import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { SessionFacade } from '../../state/session.facade';
import type { Change } from './autosave';
import type { Conflict } from './merge';
import { Conflicts, Saved } from './saving';

interface Form {
  name: string;
  samples: string[];
  open: boolean;
}

describe('what two people changed at once', () => {
  let fixture: ComponentFixture<Conflicts<Form>>;
  let chosen: [string, string][];
  const conflicts = signal<Conflict<Form>[]>([]);
  const theirs = signal<Change | null>(null);
  beforeEach(() => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: SessionFacade, useValue: { business: signal({ timeZone: 'America/New_York' }) } },
      ],
    });
    fixture = TestBed.createComponent(Conflicts<Form>);
    chosen = [];
    conflicts.set([]);
    theirs.set(null);
    fixture.componentRef.setInput('of', {
      conflicts,
      theirs,
      choose: (field: string, whose: string) => chosen.push([field, whose]),
    });
    fixture.componentRef.setInput('names', { name: 'Legal name', samples: 'Samples' });
  });
  const text = async (): Promise<string> => {
    await fixture.whenStable();
    return ((fixture.nativeElement as HTMLElement).textContent ?? '').replace(/\s+/g, ' ').trim();
  };

  it('is not there while nothing is to be chosen', async () => {
    expect(await text()).toBe('');
  });

  it('shows by field mine and theirs, with who and when, as people read it', async () => {
    conflicts.set([
      { field: 'name', base: 'Heron', mine: 'Heron Lane', theirs: '' },
      { field: 'samples', base: [], mine: ['one', 'two'], theirs: [] },
      { field: 'open', base: null, mine: true, theirs: false },
    ]);
    expect(await text()).toContain('Somebody else changed the same');
    theirs.set({ by: 'Tobiah Fenwether', at: Date.UTC(2027, 2, 12, 19, 5) });
    const words = await text();
    expect(words).toMatch(/Tobiah Fenwether changed the same at 12 Mar, 14:05/);
    expect(words).toContain('Legal nameyoursHeron Lane');
    expect(words).toContain('theirs(empty)');
    expect(words).toContain('one two');
    expect(words).toContain('(none)');
    expect(words).toContain('yoursyes');
  });

  it('leaves the choice to the person, a field at a time', async () => {
    conflicts.set([
      { field: 'name', base: 'a', mine: 'b', theirs: 'c' },
      { field: 'open', base: null, mine: true, theirs: false },
    ]);
    const loader = TestbedHarnessEnvironment.loader(fixture);
    const keep = await loader.getAllHarnesses(MatButtonHarness.with({ text: 'Keep yours' }));
    const take = await loader.getAllHarnesses(MatButtonHarness.with({ text: 'Take theirs' }));
    await keep[1]?.click();
    await take[0]?.click();
    expect(chosen).toEqual([
      ['open', 'mine'],
      ['name', 'theirs'],
    ]);
  });
});

it('whether it is saved is told to a screen reader too', async () => {
  TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  const fixture = TestBed.createComponent(Saved);
  fixture.componentRef.setInput('of', { words: () => 'saved' });
  await fixture.whenStable();
  const said = (fixture.nativeElement as HTMLElement).querySelector('[role=status]');
  expect(said?.textContent).toBe('saved');
});
