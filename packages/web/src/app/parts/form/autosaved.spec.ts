import { EnvironmentInjector, provideZonelessChangeDetection, runInInjectionContext, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { FormArray, FormControl, FormGroup } from '@angular/forms';
import { ApiProblem } from '../../api/api';
import { SessionFacade } from '../../state/session.facade';
import { Confirm } from '../confirm';
import { Autosave, type Kept } from './autosave';
import { autosaved } from './autosaved';
import { CheckedForm, faultOf } from './checked-form';
import { filledFrom } from './filled-from';
import { Unsaved } from './unsaved';
import * as z from 'zod';

interface Facts {
  name: string;
  city: string;
}
const text = (): FormControl<string> => new FormControl('', { nonNullable: true });

describe('a typed form that saves itself', () => {
  let kept: Kept<Facts>;
  let saves: Facts[];
  let refuse: ApiProblem | null;
  let group: FormGroup<{ name: FormControl<string>; city: FormControl<string> }>;
  let saving: Autosave<Facts>;
  const begin = (byHand = false): void => {
    runInInjectionContext(TestBed.inject(EnvironmentInjector), () => {
      group = new FormGroup({ name: text(), city: text() });
      saving = new Autosave<Facts>({
        byHand,
        save: async (value, version) => {
          await Promise.resolve();
          if (refuse) throw refuse;
          saves.push(value);
          kept = { value: { name: value.name.trim(), city: value.city.trim() }, version: version + 1 };
          return kept;
        },
        read: () => Promise.resolve(kept),
      });
      autosaved(group, saving);
    });
    saving.take('thing thi_1', kept);
    TestBed.tick();
  };
  beforeEach(() => {
    localStorage.clear();
    kept = { value: { name: 'Heron', city: 'Aldersund' }, version: 1 };
    saves = [];
    refuse = null;
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: SessionFacade, useValue: { session: signal({ user: { id: 'p1' } }) } },
        { provide: Confirm, useValue: { ask: () => Promise.resolve(true) } },
      ],
    });
  });

  it('shows what is kept, and saves what is typed', async () => {
    begin();
    expect(group.value).toEqual({ name: 'Heron', city: 'Aldersund' });
    group.controls.city.setValue('Quillmere');
    expect(saving.dirty()).toBeTrue();
    expect(await saving.flush()).toBeTrue();
    expect(saves).toEqual([{ name: 'Heron', city: 'Quillmere' }]);
  });

  it('leaves a field as it is being typed where the server only took the space at its end off', async () => {
    begin();
    group.controls.city.setValue('New ');
    await saving.flush();
    TestBed.tick();
    expect(group.controls.city.value).toBe('New ');
    group.controls.city.setValue('New Quillmere');
    await saving.flush();
    expect(kept.value.city).toBe('New Quillmere');
  });

  it('shows what a colleague made of another field, and keeps what is typed in this one', () => {
    begin();
    group.controls.city.setValue('Quillmere');
    saving.take('thing thi_1', { value: { name: 'Heron Lane', city: 'Aldersund' }, version: 2 });
    TestBed.tick();
    expect(group.value).toEqual({ name: 'Heron Lane', city: 'Quillmere' });
    expect(saving.conflicts()).toEqual([]);
  });

  it('shows at its field what the server refuses', async () => {
    begin();
    refuse = new ApiProblem(422, 'refused', 'No.', [{ field: 'city', message: 'No such city.' }]);
    group.controls.city.setValue('Nowhere');
    expect(await saving.flush()).toBeFalse();
    TestBed.tick();
    expect(faultOf(group.controls.city)).toBe('No such city.');
  });

  it('shows at its field what the server refuses inside of what is sent, and what of a list it refuses', async () => {
    begin();
    const fields = [
      { field: 'body.city', message: 'No such city.' },
      { field: 'body.name.0', message: 'Write it in two letters.' },
    ];
    refuse = new ApiProblem(422, 'invalid', 'City: No such city.; Name, 1st: Write it in two letters.', fields);
    group.controls.city.setValue('Nowhere');
    expect(await saving.flush()).toBeFalse();
    TestBed.tick();
    expect([faultOf(group.controls.city), faultOf(group.controls.name)]).toEqual([
      'No such city.',
      'Write it in two letters.',
    ]);
  });

  it('by hand is saved when it is said and not before, and asks whoever leaves', async () => {
    begin(true);
    group.controls.city.setValue('Quillmere');
    await new Promise((r) => setTimeout(r, 900));
    expect(saves).toEqual([]);
    let asked = 0;
    (TestBed.inject(Confirm) as unknown as { ask: () => Promise<boolean> }).ask = () => Promise.resolve(++asked < 0);
    expect(await TestBed.inject(Unsaved).mayLeave()).toBeFalse();
    expect([asked, saves.length]).toEqual([1, 0]);
    expect(await saving.flush()).toBeTrue();
    expect(saves.length).toBe(1);
    expect(await TestBed.inject(Unsaved).mayLeave()).toBeTrue();
  });
});

describe('a typed form with as many lines as one likes', () => {
  it('has those that are kept, and saves one more and one fewer', async () => {
    localStorage.clear();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: SessionFacade, useValue: { session: signal({ user: { id: 'p1' } }) } },
        { provide: Confirm, useValue: { ask: () => Promise.resolve(true) } },
      ],
    });
    let kept: Kept<{ samples: string[] }> = { value: { samples: ['one', 'two'] }, version: 1 };
    const group = new FormGroup({ samples: new FormArray<FormControl<string>>([]) });
    const saving = runInInjectionContext(TestBed.inject(EnvironmentInjector), () => {
      const made = new Autosave<{ samples: string[] }>({
        save: (value, version) => Promise.resolve((kept = { value, version: version + 1 })),
        read: () => Promise.resolve(kept),
      });
      autosaved(group, made);
      return made;
    });
    saving.take('thing thi_2', kept);
    TestBed.tick();
    expect(group.value.samples).toEqual(['one', 'two']);
    group.controls.samples.push(text());
    group.controls.samples.at(2).setValue('three');
    await saving.flush();
    expect(kept.value.samples).toEqual(['one', 'two', 'three']);
    group.controls.samples.removeAt(0);
    await saving.flush();
    TestBed.tick();
    expect(kept.value.samples).toEqual(['two', 'three']);
    expect(group.value.samples).toEqual(['two', 'three']);
    saving.take('thing thi_2', { value: { samples: ['only'] }, version: kept.version + 1 });
    TestBed.tick();
    expect(group.value.samples).toEqual(['only']);
  });
});

describe('a form filled from what it is about', () => {
  it('takes newer values until somebody has typed, and another object always', () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const about = signal<{ of: string; values: Facts } | undefined>(undefined);
    const form = new CheckedForm({ name: text(), city: text() }, z.object({ name: z.string(), city: z.string() }));
    runInInjectionContext(TestBed.inject(EnvironmentInjector), () => filledFrom(form, about));
    const now = (of: string, name: string): void => {
      about.set({ of, values: { name, city: '' } });
      TestBed.tick();
    };
    now('a', 'Heron');
    now('a', 'Heron Lane');
    expect(form.controls.name.value).toBe('Heron Lane');
    form.controls.name.setValue('Heron Lane B');
    form.controls.name.markAsDirty();
    now('a', 'Heron Street');
    expect(form.controls.name.value).toBe('Heron Lane B');
    now('b', 'Avocet');
    expect(form.controls.name.value).toBe('Avocet');
  });
});
